import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button } from 'react-bootstrap';
import { listTokens, makeToken, revokeToken } from '../../core/wire/endpoints/people.js';
import { TOKEN_DAYS } from '../../core/wire/people.js';
import { about, answerTo, call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { FieldsForm, TextField } from '../kit/form.js';
import { RemoveButton } from '../kit/RemoveButton.js';
import { showTime } from '../ui/format.js';

interface NewToken {
  readonly label: string;
  readonly days: string;
}

/** Personal tokens for curl and the like: each is shown once, then only its hash is kept. */
export function TokenDialogue({ onHide }: { onHide: () => void }): JSX.Element {
  const client = useQueryClient();
  const refresh = (): Promise<void> => client.invalidateQueries(about('tokens'));
  const tokens = useQuery(answerTo(listTokens));
  const make = useMutation({
    mutationFn: ({ label, days }: NewToken) =>
      call(makeToken, { body: { label: label.trim(), days: Number(days) } }),
    onSuccess: refresh,
  });
  const revoke = useMutation({
    mutationFn: (id: string) => call(revokeToken, { params: { id } }),
    onSuccess: refresh,
  });
  const failure = revoke.error ?? tokens.error;
  return (
    <Dialog title="API tokens" onClose={onHide}>
      <p className="sm pb-2">
        With a token, curl and other programs do whatever you may do, except to make tokens. Everything they
        can ask for is described at /api/v1/openapi.json.
      </p>
      {make.data !== undefined && (
        <>
          <p className="sm pb-1">Keep it now; it is not shown again.</p>
          <pre className="curl-text" data-testid="token">{`export UNDER_LAMP_TOKEN=${make.data.token}`}</pre>
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => void navigator.clipboard.writeText(make.data.token)}
          >
            Copy
          </Button>
        </>
      )}
      <FieldsForm<NewToken>
        label="New token"
        className="form-line pt-2"
        begin={{ label: '', days: String(TOKEN_DAYS.usual) }}
        send="Make a token"
        isSending={make.isPending}
        onSend={(values) => make.mutate(values)}
        failure={make.error}
        failed="No token was made"
      >
        <TextField<NewToken> name="label" label="What it is for" required maxLength={100} />
        <TextField<NewToken>
          name="days"
          label="Days it holds"
          type="number"
          min={1}
          max={TOKEN_DAYS.max}
          required
        />
      </FieldsForm>
      {tokens.data?.tokens.map(({ id, label: of, expires, lastUsed }) => (
        <p key={id} className="row-line sm mb-0">
          <span className="grow cut" title={of}>
            {of}
          </span>
          <span className="xs soft">
            until {showTime(expires, 'UTC', 'minute')},{' '}
            {lastUsed === null ? 'not used yet' : `used ${showTime(lastUsed, 'UTC', 'minute')} UTC`}
          </span>
          <RemoveButton
            label="Revoke"
            what={`the token “${of}”`}
            consequence="Whatever uses it is refused at once."
            onRemove={() => revoke.mutate(id)}
          />
        </p>
      ))}
      {failure !== null && (
        <p role="alert" className="problem sm pt-2 mb-0">
          {failure.message}
        </p>
      )}
    </Dialog>
  );
}
