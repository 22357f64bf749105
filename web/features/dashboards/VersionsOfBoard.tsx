import { useQuery } from '@tanstack/react-query';
import { diffLines } from 'diff';
import { useState, type JSX } from 'react';
import { Button } from 'react-bootstrap';
import type { Board } from '../../../core/boards/board.js';
import { listBoardVersions } from '../../../core/wire/endpoints/boards.js';
import { answerTo } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { showTime } from '../../ui/format.js';
import { Failed, Reading } from '../../ui/State.js';

const textOf = (board: Board | undefined): string =>
  board === undefined ? '' : `${JSON.stringify(board, null, 2)}\n`;

/** The versions of a board: what each changed, and a way back to it. */
export function VersionsOfBoard({
  id,
  now,
  zone,
  onTake,
  onClose,
}: {
  readonly id: string;
  readonly now: number;
  readonly zone: string;
  readonly onTake: (board: Board) => void;
  readonly onClose: () => void;
}): JSX.Element {
  const asked = useQuery(answerTo(listBoardVersions, { params: { id } }));
  const versions = asked.data?.versions ?? [];
  const [chosen, setChosen] = useState<number | null>(null);
  const at = versions.findIndex(({ version }) => version === (chosen ?? now));
  const version = versions[at];
  const parts =
    version === undefined ? [] : diffLines(textOf(versions[at + 1]?.board), textOf(version.board));
  return (
    <Dialog
      title="Versions of this board"
      size="xl"
      onClose={onClose}
      foot={
        version !== undefined &&
        version.version !== now && (
          <Button variant="primary" onClick={() => onTake(version.board)}>
            Go back to version {version.version}
          </Button>
        )
      }
    >
      {asked.isError && <Failed title="The versions cannot be shown">{asked.error.message}</Failed>}
      {asked.isPending && <Reading title="Fetching the versions" />}
      <div className="board-versions">
        <ul className="entries" aria-label="Versions">
          {versions.map((one) => (
            <li key={one.version}>
              <button
                type="button"
                className="link"
                aria-current={one.version === version?.version}
                onClick={() => setChosen(one.version)}
              >
                Version {one.version}
              </button>
              <span className="xs soft d-block">
                {one.by}, {showTime(one.at, zone, 'second')}
              </span>
            </li>
          ))}
        </ul>
        <pre className="scroll-box tall" aria-label="What it changed">
          {parts.map(({ value, added, removed }, i) => (
            <span key={i} className={added ? 'diff-added' : removed ? 'diff-removed' : 'soft'}>
              {value
                .replace(/\n$/, '')
                .split('\n')
                .filter((_, line, all) => added || removed || line < 2 || line >= all.length - 2)
                .map((line) => `${added ? '+' : removed ? '−' : ' '} ${line}\n`)}
            </span>
          ))}
        </pre>
      </div>
    </Dialog>
  );
}
