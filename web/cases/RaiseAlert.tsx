import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { useNavigate } from 'react-router';
import type { SubjectKind } from '../../core/subjects/kinds.js';
import type { AlertRaise } from '../../core/wire/alerts.js';
import { raiseAlert } from '../../core/wire/endpoints/alerts.js';
import { pinToCase } from '../../core/wire/endpoints/cases.js';
import { about, call } from '../api/call.js';
import { FieldsDialog } from '../kit/FieldsDialog.js';
import { ChoiceField, TextField } from '../kit/form.js';
import { type Level, LEVELS } from '../ui/Glyphs.js';

/** Somebody or something that an alert may be raised about. */
export interface RaiseAbout {
  readonly kind: SubjectKind;
  readonly name: string;
}

interface Raise {
  /** The subject's place among those that may be chosen. */
  readonly about: string;
  readonly title: string;
  readonly level: Level;
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
  const raise = useMutation({
    mutationFn: async ({ about: at, title, level }: Raise) => {
      const one = subjects[Number(at)];
      if (one === undefined) throw new Error('Choose whom it is about.');
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
    <FieldsDialog<Raise>
      title="Raise an alert"
      begin={{ about: '0', title: suggested, level: begin }}
      onSend={(values) => raise.mutate(values)}
      send="Raise it"
      maySend={() => subjects.length > 0}
      isSending={raise.isPending}
      failure={raise.error}
      failed="It was not raised"
      onClose={onClose}
    >
      <p className="sm soft mb-0">
        Responses and runbooks are asked for on an alert. This one rests on the newest 200 events in the Beam
        that name the subject, and is yours.
      </p>
      {subjects.length === 1 ? (
        <p className="mb-0">
          <span className="sm">About</span> <span className="mono anywhere">{subjects[0]?.name}</span>
        </p>
      ) : (
        <ChoiceField<Raise>
          name="about"
          label="About"
          autoFocus
          choices={subjects.map(({ kind, name }, i) => [
            String(i),
            `${kind} ${name.length > 80 ? `${name.slice(0, 80)}…` : name}`,
          ])}
        />
      )}
      <TextField<Raise>
        name="title"
        label="What was found"
        required
        pattern=".*\S.*"
        maxLength={200}
        autoFocus={subjects.length === 1}
      />
      <ChoiceField<Raise> name="level" label="Severity" choices={LEVELS.map((word) => [word, word])} />
    </FieldsDialog>
  );
}
