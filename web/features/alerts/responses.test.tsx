import { fireEvent, screen, waitFor } from '@testing-library/react';
import { alert } from '../../tests/examples.js';
import { fakeApi, show } from '../../tests/page.js';
import { ResponsesPart } from './AlertAside.js';

const asked = (askedBy: string) =>
  alert({
    responses: [
      {
        id: 4,
        does: 'disable-account',
        label: 'Disable the account',
        subject: 'teo.marrash',
        state: 'asked',
        askedBy,
        askedAt: '2026-11-14T09:00:00Z',
        decidedBy: null,
        decidedAt: null,
        reason: null,
      } as never,
    ],
  });
const path = `/alerts/${asked('x').id}/responses/4`;

it('what somebody else asked for is approved at a press', async () => {
  const api = fakeApi({ [`POST ${path}`]: {} });
  show(<ResponsesPart alert={asked('reader')} mayChange />, { role: 'analyst' });
  fireEvent.click(screen.getByRole('button', { name: 'Approve' }));
  await waitFor(() => expect(api.changes()[0]?.body).toEqual({ approve: true }));
});

it('who asked does not approve; an administrator may, and says why', async () => {
  const api = fakeApi({ [`POST ${path}`]: {} });
  const first = show(<ResponsesPart alert={asked('analyst')} mayChange />, { role: 'analyst' });
  expect(screen.getByText('somebody else approves')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Approve' })).toBeNull();
  first.unmount();
  show(<ResponsesPart alert={asked('admin')} mayChange />, { role: 'admin' });
  fireEvent.change(screen.getByLabelText('Why you approve it yourself'), {
    target: { value: ' nobody else is on duty ' },
  });
  fireEvent.click(screen.getByRole('button', { name: 'Approve' }));
  await waitFor(() =>
    expect(api.changes()[0]?.body).toEqual({ approve: true, reason: 'nobody else is on duty' }),
  );
});
