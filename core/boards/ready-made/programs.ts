import type { Board } from '../board.js';

const HOSTS = "ask host 'Host' choices from host any\nfrom process\nwhere host = $host\n";

/** Programs, and with what rights they run. */
export const programs: Board = {
  title: 'Programs and their rights',
  about: 'What runs with full rights, what was never seen before, and where.',
  refresh: 300,
  cards: [
    {
      id: 'elevation',
      title: 'Rights in words',
      hunt: `${HOSTS}set rights = if(elevation = 'full', 'full administrator rights', if(elevation = 'limited', 'limited rights', if(elevation = 'default', 'the rights of the user', 'not told')))\ntally count() as starts per rights\nsort starts desc`,
      picture: { kind: 'bars' },
    },
    {
      id: 'full',
      title: 'With full rights, rarest first',
      hunt: `${HOSTS}where elevation = 'full'\ntally count() as starts, last(user) as by, max(time) as last per process, host\nsort starts\nfirst 20`,
      picture: { kind: 'rows' },
      window: { last: '7d' },
    },
    {
      id: 'new',
      title: 'Never run on this host before',
      hunt: "ask host 'Host' choices from host any\nfrom process\nwhere host = $host and process is not null\ndebut process per host in last 1d, count() as starts\nsort starts\nfirst 20\nshow host, process, first_seen, starts, first.user as by",
      picture: { kind: 'rows' },
      window: { last: '30d' },
    },
    {
      id: 'parents',
      title: 'What starts what',
      hunt: `${HOSTS}where parent_process is not null and process is not null\ntally count() as starts per parent_process, process\nsort starts desc\nfirst 30`,
      picture: { kind: 'flow' },
    },
    {
      id: 'scripts',
      title: 'Scripts by host and day',
      hunt: `${HOSTS}where operation = 'script.run'\ntally count() as scripts per host, every 1d`,
      picture: { kind: 'heat' },
      window: { last: '7d' },
    },
  ],
  layout: [
    { card: 'elevation', x: 0, y: 0, w: 3, h: 5 },
    { card: 'full', x: 3, y: 0, w: 5, h: 7 },
    { card: 'new', x: 8, y: 0, w: 4, h: 7 },
    { card: 'parents', x: 0, y: 7, w: 6, h: 12 },
    { card: 'scripts', x: 6, y: 7, w: 6, h: 8 },
  ],
};
