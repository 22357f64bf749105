import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, show } from '../tests/page.js';
import { RaiseAlert } from './RaiseAlert.js';

const window = { from: '2026-11-29T00:00:00Z', to: '2026-11-30T00:00:00Z' };
const dialog = (toCase?: number) => (
  <RaiseAlert
    subjects={[
      { kind: 'host', name: 'quay-tk-07' },
      { kind: 'user', name: '<b>teo</b>' },
    ]}
    suggested="A desk that talks at night"
    level="medium"
    window={window}
    {...(toCase !== undefined && { toCase })}
    search=""
    onClose={() => undefined}
  />
);
const made = { id: 12, title: 'It talks', subject: 'quay-tk-07', lastEvent: window.to };

it('is raised about whom one chooses, and pinned to the case it came from', async () => {
  const api = fakeApi({ 'POST /alerts': made, 'POST /cases/3/pins': {} });
  show(dialog(3), { role: 'analyst' });
  fireEvent.change(screen.getByLabelText('About'), { target: { value: '1' } });
  fireEvent.change(screen.getByLabelText('What was found'), { target: { value: ' It talks ' } });
  fireEvent.change(screen.getByLabelText('Severity'), { target: { value: 'high' } });
  fireEvent.click(screen.getByRole('button', { name: 'Raise it' }));
  await waitFor(() => expect(api.changes()).toHaveLength(2));
  expect(api.changes().map(({ body }) => body)).toEqual([
    { kind: 'user', name: '<b>teo</b>', title: 'It talks', level: 'high', window },
    { kind: 'alert', ref: '12', title: 'It talks: quay-tk-07', time: window.to },
  ]);
});

it('says why it was not raised, and stays', async () => {
  fakeApi({ 'POST /alerts': refuse(409, 'Alert 4 about quay-tk-07 is open.') });
  show(dialog(), { role: 'analyst' });
  fireEvent.click(screen.getByRole('button', { name: 'Raise it' }));
  expect((await screen.findByRole('alert')).textContent).toContain('Alert 4 about quay-tk-07 is open.');
});
