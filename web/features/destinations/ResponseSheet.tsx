import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import {
  checkResponse,
  putResponse,
  readResponse,
  removeResponse,
} from '../../../core/wire/endpoints/responses.js';
import { responseExample } from '../../../core/wire/examples.js';
import type { StoredResponse } from '../../../core/wire/responses.js';
import { about, answerTo, call } from '../../api/call.js';
import { Dialog } from '../../kit/Dialog.js';
import { KeptEditor, writtenDocument } from '../../documents/KeptEditor.js';
import { RemoveButton } from '../../kit/RemoveButton.js';
import { Failed, Reading } from '../../ui/State.js';

/** One response as a document: what it asks of whom, how it is taken back, and the hunt that tells what it would have hit. */
export function ResponseSheet({
  name,
  mayChange,
  onOpen,
}: {
  /** Empty for a new one. */
  name: string;
  mayChange: boolean;
  /** Opens another; null for none. */
  onOpen: (name: string | null) => void;
}): JSX.Element {
  const stored = useQuery({ ...answerTo(readResponse, { params: { name } }), enabled: name !== '' });
  const close = (): void => onOpen(null);
  return (
    <Dialog size="lg" title={name === '' ? 'A new response' : (stored.data?.title ?? name)} onClose={close}>
      {stored.isError && <Failed title="The response cannot be shown">{stored.error.message}</Failed>}
      {name !== '' && stored.isPending && <Reading title="Fetching the response" />}
      {(name === '' || stored.data !== undefined) && (
        <OneResponse key={name} kept={stored.data ?? null} mayChange={mayChange} onOpen={onOpen} />
      )}
    </Dialog>
  );
}

function OneResponse({
  kept,
  mayChange,
  onOpen,
}: {
  kept: StoredResponse | null;
  mayChange: boolean;
  onOpen: (name: string | null) => void;
}): JSX.Element {
  const client = useQueryClient();
  const [text, setText] = useState(() => writtenDocument(kept?.document ?? responseExample));
  const keptAs = (made: StoredResponse): void => {
    client.setQueryData(answerTo(readResponse, { params: { name: made.name } }).queryKey, made);
    void client.invalidateQueries(about('responses'));
    setText(writtenDocument(made.document));
    if (kept === null) onOpen(made.name);
  };
  const remove = useMutation({
    mutationFn: () => call(removeResponse, { params: { name: kept?.name ?? '' } }),
    onSuccess: () => {
      void client.invalidateQueries(about('responses'));
      onOpen(null);
    },
  });
  return (
    <>
      <p className="sm soft">
        What it falls on (<code>on</code>), who carries it out (<code>to</code>), what is asked of them, with{' '}
        <code>{'{names}'}</code> in places, how it is taken back, after how many hours it ends, and the hunt
        that tells what it would have hit. What was asked for before stays as it was then.
      </p>
      <KeptEditor
        label="The response as JSON"
        kept={kept}
        text={text}
        onText={setText}
        nameHint="lock-the-desk"
        mayChange={mayChange}
        fine="It can be asked for."
        check={(body) => call(checkResponse, { body: { text: body } })}
        keep={async (name, body) => keptAs(await call(putResponse, { params: { name }, body }))}
      />
      {remove.isError && <Failed title="It was not removed">{remove.error.message}</Failed>}
      {mayChange && kept !== null && kept.version > 0 && (
        <RemoveButton
          label={kept.ships ? 'Back to how it came' : 'Remove'}
          what={`the response ${kept.title}`}
          consequence="What was asked for before is done, and taken back, as it was then."
          onRemove={() => remove.mutate()}
        />
      )}
    </>
  );
}
