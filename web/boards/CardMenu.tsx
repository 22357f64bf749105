import type { JSX } from 'react';
import { Briefcase } from '@phosphor-icons/react/dist/csr/Briefcase';
import { FileSvg } from '@phosphor-icons/react/dist/csr/FileSvg';
import { Image } from '@phosphor-icons/react/dist/csr/Image';
import { TerminalWindow } from '@phosphor-icons/react/dist/csr/TerminalWindow';
import type { Card } from '../../core/boards/board.js';
import { answerBoard } from '../../core/wire/endpoints/boards.js';
import { addressOf } from '../api/call.js';
import type { Beam } from '../beam/beam.js';
import { curlOf } from '../kit/Curl.js';
import { PopMenu } from '../ui/PopMenu.js';
import { showTime } from '../ui/format.js';
import type { CardAnswer } from './use-board-answers.js';

/** The card whose menu is open, its drawing where it has one, and where the menu stands. */
export interface CardMenuOf {
  readonly card: Card;
  readonly figure: HTMLElement | null;
  readonly at: { readonly x: number; readonly y: number };
}

/** What can be taken away from a card: its picture, what it shows as evidence, and the request that counts it. */
export function CardMenu({
  card,
  figure,
  at,
  answer,
  beam,
  inputs,
  onCase,
  onCurl,
  onClose,
}: CardMenuOf & {
  readonly answer: CardAnswer | undefined;
  readonly beam: Beam;
  readonly inputs: Readonly<Record<string, string>>;
  /** Pins what it shows to a case; absent where it shows no rows, or nothing may be pinned. */
  readonly onCase?: (() => void) | undefined;
  /** Shows the command of the request. */
  readonly onCurl: (command: string) => void;
  readonly onClose: () => void;
}): JSX.Element {
  const save = (format: 'svg' | 'png') => () => {
    if (figure === null) return;
    const { from, to } = answer?.window ?? beam.window;
    const words = `${card.title} · ${showTime(from, beam.zone, 'second')} to ${showTime(to, beam.zone, 'second')} ${beam.zone}`;
    void import('../results/pictures/save-picture.js').then(({ savePicture }) =>
      savePicture(figure, words, card.id, format),
    );
  };
  const request = {
    board: { title: card.title, cards: [card], layout: [{ card: card.id, x: 0, y: 0, w: 6, h: 6 }] },
    window: beam.last === null ? beam.window : { last: beam.last as '24h' },
    zone: beam.zone,
    carried: [...beam.carried],
    inputs: { ...inputs },
  };
  return (
    <PopMenu
      at={at}
      onClose={onClose}
      label={`More of ${card.title}`}
      head={card.title}
      groups={[
        figure === null
          ? []
          : [
              { key: 's', label: 'Picture as SVG', icon: <FileSvg />, act: save('svg') },
              { key: 'p', label: 'Picture as PNG', icon: <Image />, act: save('png') },
            ],
        [
          ...(onCase === undefined
            ? []
            : [{ key: 'c', label: 'Into a case', icon: <Briefcase />, act: onCase }]),
          {
            key: 'a',
            label: 'As curl',
            icon: <TerminalWindow />,
            act: () => onCurl(curlOf(addressOf(answerBoard, { body: request }), request)),
          },
        ],
      ]}
    />
  );
}
