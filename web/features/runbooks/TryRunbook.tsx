import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Form } from 'react-bootstrap';
import { listAlerts } from '../../../core/wire/endpoints/alerts.js';
import { tryRunbook } from '../../../core/wire/endpoints/runbooks.js';
import { answerTo } from '../../api/call.js';
import { StepList } from '../../runbooks/StepList.js';
import { Failed, Reading } from '../../ui/State.js';
import { FoundTable } from './FoundTable.js';

/** What each step of a runbook would do on an alert: hunts are asked, nothing is sent. */
export function TryRunbook({
  text,
  search,
  alert,
  onAlert,
}: {
  text: string;
  search: string;
  /** The number of the alert; empty for none yet. */
  alert: string;
  onAlert: (alert: string) => void;
}): JSX.Element {
  const open = useQuery(answerTo(listAlerts, { query: { state: 'open', limit: 100 } }));
  const alerts = open.data?.alerts ?? [];
  const tried = useQuery({
    ...answerTo(tryRunbook, { body: { text, alert: Number(alert) } }),
    enabled: /^\d+$/.test(alert),
    retry: false,
    staleTime: 60_000,
  });
  return (
    <div className="scrolls" role="region" aria-label="What it would do" tabIndex={0}>
      <Form.Group controlId="try-alert" className="inset py-2">
        <Form.Label className="sm mb-0">On which alert</Form.Label>
        <Form.Select size="sm" value={alert} onChange={(event) => onAlert(event.target.value)}>
          <option value="">Choose one: nothing is sent</option>
          {alert !== '' && !alerts.some(({ id }) => String(id) === alert) && (
            <option value={alert}>Alert {alert}</option>
          )}
          {alerts.map(({ id, title, subject }) => (
            <option key={id} value={id}>
              {title}: {subject}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {tried.isFetching && <Reading title="Asking its hunts" />}
      {tried.isError && <Failed title="It cannot be tried">{tried.error.message}</Failed>}
      {tried.data !== undefined && !tried.isFetching && (
        <StepList
          label="What each step would do"
          steps={tried.data.steps.map(({ id, title, do: kind, on, says, found }) => ({
            id,
            title,
            do: kind,
            stands: on ? ('ahead' as const) : ('passed' as const),
            aside: on ? undefined : 'not on this way',
            below: (
              <>
                <p className="sm soft mb-0 anywhere">{says}</p>
                {found !== null && <FoundTable found={found} search={search} />}
              </>
            ),
          }))}
        />
      )}
    </div>
  );
}
