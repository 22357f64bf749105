import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import type { SubjectKind } from '../../core/subjects/kinds.js';
import type { AlertRaise } from '../../core/wire/alerts.js';
import { raiseAlert } from '../../core/wire/endpoints/alerts.js';
import { pinToCase } from '../../core/wire/endpoints/cases.js';
import { about, call } from '../api/call.js';
import { Dialog } from '../kit/Dialog.js';
import { type Level, LEVELS } from '../ui/Glyphs.js';
import { Failed } from '../ui/State.js';

/** Somebody or something that an alert may be raised about. */
export interface RaiseAbout {
  readonly kind: SubjectKind;
  readonly name: string;
}

/**
 * Raises an alert by hand, so that what was found by hunting can be answered: responses and runbooks are asked for on alerts.
 * The alert opens once it is raised; from a case it is pinned there first.
 */
export function RaiseAlert({
  subjects,
  suggested,
  level: begin,
  window,
  toCase,
  search,
  onClose,
}: {
  /** At least one; whoever raises it chooses among several. */
  subjects: readonly RaiseAbout[];
  suggested: string;
  level: Level;
  window: AlertRaise['window'];
  /** The case that it is pinned to. */
  toCase?: number;
  search: string;
  onClose: () => void;
}): JSX.Element {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [chosen, setChosen] = useState(0);
  const [title, setTitle] = useState(suggested);
  const [level, setLevel] = useState(begin);
  const subject = subjects[chosen];
  const raise = useMutation({
    mutationFn: async (one: RaiseAbout) => {
      const made = await call(raiseAlert, { body: { ...one, title: title.trim(), level, window } });
      if (toCase !== undefined)
        await call(pinToCase, {
          params: { id: toCase },
          body: {
            kind: 'alert',
            ref: String(made.id),
            title: `${made.title}: ${made.subject}`.slice(0, 500),
            time: made.lastEvent,
          },
        });
      return made;
    },
    onSuccess: (made) => navigate(`/alerts/${made.id}${search}`),
    onSettled: () =>
      Promise.all(['alerts', 'cases', 'dossiers'].map((of) => client.invalidateQueries(about(of)))),
  });
  return (
    <Dialog
      title="Raise an alert"
      onClose={onClose}
      onSend={() => {
        if (subject !== undefined) raise.mutate(subject);
      }}
      foot={
        <>
          <Button variant="outline-secondary" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="primary" disabled={raise.isPending || subject === undefined}>
            Raise it
          </Button>
        </>
      }
    >
      <p className="sm soft">
        Responses and runbooks are asked for on an alert. This one rests on the newest 200 events in the Beam
        that name the subject, and is yours.
      </p>
      <Form.Group controlId="raise-about" className="mb-2">
        <Form.Label className="sm mb-0">About</Form.Label>
        {subjects.length === 1 ? (
          <p className="mono anywhere mb-0" id="raise-about">
            {subject?.name}
          </p>
        ) : (
          <Form.Select
            size="sm"
            autoFocus
            value={chosen}
            onChange={(event) => setChosen(Number(event.target.value))}
          >
            {subjects.map(({ kind, name }, i) => (
              <option key={`${kind} ${name}`} value={i}>
                {kind} {name.length > 80 ? `${name.slice(0, 80)}…` : name}
              </option>
            ))}
          </Form.Select>
        )}
      </Form.Group>
      <Form.Group controlId="raise-title" className="mb-2">
        <Form.Label className="sm mb-0">What was found</Form.Label>
        <Form.Control
          size="sm"
          required
          pattern=".*\S.*"
          maxLength={200}
          autoFocus={subjects.length === 1}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
        />
      </Form.Group>
      <Form.Group controlId="raise-level" className="mb-2">
        <Form.Label className="sm mb-0">Severity</Form.Label>
        <Form.Select
          size="sm"
          value={level}
          onChange={(event) => setLevel(LEVELS.find((word) => word === event.target.value) ?? level)}
        >
          {LEVELS.map((word) => (
            <option key={word}>{word}</option>
          ))}
        </Form.Select>
      </Form.Group>
      {raise.isError && <Failed title="It was not raised">{raise.error.message}</Failed>}
    </Dialog>
  );
}
