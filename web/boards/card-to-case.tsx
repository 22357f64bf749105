import { useMutation } from '@tanstack/react-query';
import { lazy, Suspense, type JSX } from 'react';
import type { Card } from '../../core/boards/board.js';
import type { Question } from '../../core/wire/paths.js';
import { keepSnapshot } from '../../core/wire/endpoints/snapshots.js';
import { call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { Failed, Reading } from '../ui/State.js';

const PinToCase = lazy(async () => ({ default: (await import('../cases/PinToCase.js')).PinToCase }));

/** What a card shows. */
interface Shown {
  readonly title: string;
  readonly question: Question;
  /** How it shows it, for the report. */
  readonly picture?: Card['picture'] | undefined;
  readonly hide?: Card['hide'] | undefined;
}

/**
 * Pins what a card shows to a case: its rows are kept as a snapshot first, so that the case holds what was seen.
 * @returns how to begin, and the dialogue while there is one
 */
export function useCardToCase(search: string): {
  readonly begin: (shown: Shown) => void;
  readonly dialog: JSX.Element | null;
} {
  const keep = useMutation({
    mutationFn: ({ title: name, question, picture, hide }: Shown) =>
      call(keepSnapshot, {
        body: {
          name,
          question,
          ...(picture !== undefined && {
            picture: {
              kind: picture.kind,
              ...(picture.template !== undefined && { template: picture.template }),
              ...(hide !== undefined && { hide: [...hide] }),
            },
          }),
        },
      }),
  });
  const title = keep.variables?.title ?? '';
  const close = (): void => keep.reset();
  return {
    begin: (shown) => keep.mutate(shown),
    dialog: keep.isIdle ? null : keep.isSuccess ? (
      <Suspense fallback={null}>
        <PinToCase
          pins={[{ kind: 'snapshot', ref: String(keep.data.id), title, time: keep.data.asked }]}
          suggested={title}
          search={search}
          onClose={close}
        />
      </Suspense>
    ) : (
      <Dialog title="Into a case" onClose={close}>
        {keep.isError ? (
          <Failed title="What it shows cannot be kept">{keep.error.message}</Failed>
        ) : (
          <Reading title="Keeping what it shows" />
        )}
      </Dialog>
    ),
  };
}
