import type { JSX } from 'react';
import { Dialog } from '../kit/Dialog.js';
import { places } from './places.js';

const groups: readonly { title: string; keys: readonly (readonly [string, string])[] }[] = [
  {
    title: 'Anywhere',
    keys: [
      ...places.map(({ key, name }) => [`G ${key.toUpperCase()}`, name] as const),
      ['Ctrl K', 'find anything'],
      ['J K', 'next row of a list, the one before'],
      ['?', 'these keys'],
      ['Esc', 'close, back'],
    ],
  },
  {
    title: 'Hunt',
    keys: [
      ['Ctrl Enter', 'run'],
      ['Ctrl Space', 'complete'],
      ['↑ ↓ ← →', 'move over cells'],
      ['Enter', 'read the event'],
      ['J K', 'next event, the one before, while one is read'],
      ['Shift F10', 'cell menu; on a head the menu of its column'],
      ['Alt P', 'peek: the rows as they stood after the step of the cursor'],
      ['Alt ↑ ↓', 'move the step of the cursor'],
      ['Alt B', 'make the value at the cursor a blank'],
      ['[ ]', 'the Beam earlier, later by its width'],
      ['- +', 'the Beam twice as wide, or to the brush'],
      ['Ctrl /', 'switch the step of the cursor off or on'],
      ['P', 'hold or go on, while following live'],
      [
        'K X T F E D B L M W C',
        'in the menu: keep, leave out, tally, first and last seen, events behind, dossier, Beam, list, rule, block rule, copy',
      ],
    ],
  },
  {
    title: 'Dossier',
    keys: [
      ['E', 'hunt everything of it'],
      ['C', 'into a case'],
      ['[ ]', 'the block before, after'],
      ['Enter', 'hunt the figure'],
      ['← → Shift', 'on the lanes: move a stretch, widen it'],
    ],
  },
  {
    title: 'Alerts',
    keys: [
      ['J K', 'next, previous'],
      ['X', 'choose; what follows is done with all that are chosen'],
      ['T', 'take'],
      ['R', 'settle as real'],
      ['H', 'settle as harmless'],
      ['W', 'settle as wrong'],
      ['S', 'settle as unsure'],
      ['O', 'hand over'],
      ['M', 'merge those that are chosen into the open one'],
      ['N', 'note'],
      ['C', 'into a case'],
      ['U', 'put back'],
    ],
  },
  {
    title: 'Cases',
    keys: [
      ['J K', 'next, previous'],
      ['N', 'a new case'],
    ],
  },
  {
    title: 'Rules',
    keys: [
      ['J K', 'next, before, in the list'],
      ['X', 'choose: several are replayed, and switched on or off, together'],
      ['Enter', 'open'],
      ['Ctrl Enter', 'replay'],
      ['Ctrl S', 'keep the text'],
      ['Esc', 'back to the list'],
    ],
  },
];

/** All keys, by place. */
export function KeysHelp({ show, onHide }: { show: boolean; onHide: () => void }): JSX.Element | null {
  return show ? (
    <Dialog title="Keys" onClose={onHide}>
      {groups.map(({ title, keys }) => (
        <section key={title} className="pb-2">
          <h3 className="section-head pb-1">{title}</h3>
          {keys.map(([key, what]) => (
            <p key={key} className="sm pb-1">
              {key.split(' ').map((part) => (
                <kbd key={part} className="me-1">
                  {part}
                </kbd>
              ))}
              <span className="soft">{what}</span>
            </p>
          ))}
        </section>
      ))}
    </Dialog>
  ) : null;
}
