import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { listTokens, makeToken, revokeToken } from '../../core/wire/endpoints/people.js';
import { TOKEN_DAYS } from '../../core/wire/people.js';
import { about, answerTo, call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { RemoveButton } from '../kit/RemoveButton.js';
import { showTime } from '../ui/format.js';

/** Personal tokens for curl and the like: each is shown once, then only its hash is kept. */
export function TokenDialogue({ onHide }: { onHide: () => void }): JSX.Element {
  const client = useQueryClient();
  const [label, setLabel] = useState('');
  const [days, setDays] = useState(String(TOKEN_DAYS.usual));
  const refresh = (): Promise<void> => client.invalidateQueries(about('tokens'));
  const tokens = useQuery(answerTo(listTokens));
  const make = useMutation({
    mutationFn: () => call(makeToken, { body: { label: label.trim(), days: Number(days) } }),
    onSuccess: refresh,
  });
  const revoke = useMutation({
    mutationFn: (id: string) => call(revokeToken, { params: { id } }),
    onSuccess: refresh,
  });
  const failure = make.error ?? revoke.error ?? tokens.error;
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
      <Form
        className="d-flex gap-2 align-items-end pt-2"
        aria-label="New token"
        onSubmit={(event: FormEvent) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <Form.Group controlId="token-label" className="grow">
          <Form.Label className="sm mb-0">What it is for</Form.Label>
          <Form.Control
            size="sm"
            value={label}
            required
            maxLength={100}
            onChange={(event) => setLabel(event.target.value)}
          />
        </Form.Group>
        <Form.Group controlId="token-days">
          <Form.Label className="sm mb-0">Days it holds</Form.Label>
          <Form.Control
            size="sm"
            type="number"
            min={1}
            max={TOKEN_DAYS.max}
            value={days}
            required
            onChange={(event) => setDays(event.target.value)}
          />
        </Form.Group>
        <Button size="sm" type="submit" variant="primary" disabled={make.isPending}>
          Make a token
        </Button>
      </Form>
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
