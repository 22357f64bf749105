import type { Board } from '../board.js';

const NAMES =
  "ask without 'Without the word' default 'nothing-like-this'\nfrom dns\nwhere dst_host not like $without\n";

/** Names that hosts ask for. */
export const namesAsked: Board = {
  title: 'Names asked for',
  about: 'Which names hosts look up, most and least, and where they lead.',
  refresh: 60,
  cards: [
    {
      id: 'top',
      title: 'Asked for most',
      hunt: `${NAMES}where dst_host is not null\ntally count() as asked, count(distinct src_ip) as by per dst_host\nsort asked desc\nfirst 15`,
      picture: { kind: 'ranked' },
    },
    {
      id: 'bottom',
      title: 'Asked for least',
      hunt: `${NAMES}where dst_host is not null\ntally count() as asked, last(src_ip) as by per dst_host\nsort asked\nfirst 15`,
      picture: { kind: 'rows' },
    },
    {
      id: 'countries',
      title: 'Countries they lead to',
      hunt: `${NAMES}where dst_country is not null\ntally count() as asked per dst_country\nsort asked desc\nfirst 12`,
      picture: { kind: 'words' },
    },
    {
      id: 'random',
      title: 'Names that look made up',
      hunt: `${NAMES}where dst_host is not null\nset surprise = entropy(dst_host)\nwhere surprise > 3.5\ntally count() as asked, max(surprise) as surprise per dst_host\nsort surprise desc\nfirst 15`,
      picture: { kind: 'rows' },
    },
    {
      id: 'ports',
      title: 'Traffic to port 53, by who sends it',
      hunt: 'from network\nwhere dst_port = 53\ntally count() as flows, count(distinct dst_ip) as servers per src_ip\nsort flows desc\nfirst 10',
      picture: { kind: 'ranked' },
    },
  ],
  layout: [
    { card: 'top', x: 0, y: 0, w: 4, h: 9 },
    { card: 'bottom', x: 4, y: 0, w: 4, h: 9 },
    { card: 'countries', x: 8, y: 0, w: 4, h: 3 },
    { card: 'ports', x: 8, y: 3, w: 4, h: 6 },
    { card: 'random', x: 0, y: 9, w: 8, h: 6 },
  ],
};
