import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { alert } from '../../tests/examples.js';
import { fakeApi, show } from '../../tests/page.js';
import { ResponsesPart } from './ResponsesPart.js';

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
const listed = {
  'GET /responses': {
    responses: [
      { does: 'disable-account', title: 'Disable the account', on: 'user' },
      { does: 'drop-address', title: 'Drop everything to and from the address', on: 'address' },
      { does: 'block-flow', title: 'Block this flow', on: 'flow' },
    ],
  },
};
const path = `/alerts/${asked('x').id}/responses/4`;

it('what somebody else asked for is approved at a press', async () => {
  const api = fakeApi({ [`POST ${path}`]: {} });
  show(<ResponsesPart alert={asked('reader')} mayChange zone="UTC" search="" />, { role: 'analyst' });
  fireEvent.click(screen.getByRole('button', { name: 'Approve' }));
  await waitFor(() => expect(api.changes()[0]?.body).toEqual({ approve: true }));
});

it('who asked does not approve; an administrator may, and says why', async () => {
  const api = fakeApi({ [`POST ${path}`]: {} });
  const first = show(<ResponsesPart alert={asked('analyst')} mayChange zone="UTC" search="" />, {
    role: 'analyst',
  });
  expect(screen.getByText('somebody else approves')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Approve' })).toBeNull();
  first.unmount();
  show(<ResponsesPart alert={asked('admin')} mayChange zone="UTC" search="" />, { role: 'admin' });
  fireEvent.change(screen.getByLabelText('Why you approve it yourself'), {
    target: { value: ' nobody else is on duty ' },
  });
  fireEvent.click(screen.getByRole('button', { name: 'Approve' }));
  await waitFor(() =>
    expect(api.changes()[0]?.body).toEqual({ approve: true, reason: 'nobody else is on duty' }),
  );
});

describe('before it is asked for', () => {
  const about = alert({
    subjectFields: { src_ip: '10.30.0.10', dst_ip: '203.0.113.77' },
    evidence: [{ src_ip: '10.30.0.10', dst_ip: '203.0.113.77', dst_port: 53, protocol: 'udp' }],
  });
  const flow = '10.30.0.10 > 203.0.113.77 port 53/udp';
  const tried = (more: object = {}) => ({
    label: 'Drop everything to and from the address',
    hunt: "from network\nwhere dst_ip = '203.0.113.77'",
    window: { from: '2026-10-15T00:00:00Z', to: '2026-11-14T00:00:00Z' },
    events: 412,
    days: [{ day: '2026-11-02T00:00:00Z', events: 12 }],
    what: ['flow'],
    whence: ['hold-fs-01'],
    everyday: true,
    says: 'Over 30 days it would have hit 412 events on 21 days: that looks like everyday work.',
    carrier: 'wall',
    request: {
      method: 'POST',
      address: 'http://wall.example/rules',
      body: { id: 'lamp-NUMBER', address: '203.0.113.77' },
    },
    hours: 24,
    undo: 'Let it through again',
    narrower: { does: 'block-flow', label: 'Block this flow', subject: flow },
    ...more,
  });

  it('it is tried on the past; what would hit everyday work says so, and the narrower one is at hand', async () => {
    const api = fakeApi({
      ...listed,
      [`POST /alerts/${about.id}/responses/try`]: tried(),
      [`POST /alerts/${about.id}/responses`]: {},
    });
    show(<ResponsesPart alert={about} mayChange zone="UTC" search="" />, { role: 'analyst' });
    fireEvent.click(await screen.findByRole('button', { name: 'Drop everything to and from the address' }));
    expect(screen.queryByRole('button', { name: 'Disable the account' })).toBeNull();
    const dialog = within(await screen.findByRole('dialog'));
    expect((await dialog.findByText(/looks like everyday work/)).className).toContain('bad');
    expect(dialog.getByText(/POST http:\/\/wall.example\/rules/)).toBeTruthy();
    expect(dialog.getByRole('img', { name: 'Most on one day: 12 events' })).toBeTruthy();
    expect(dialog.getByRole('link', { name: 'Read them as a hunt' }).getAttribute('href')).toContain(
      '203.0.113.77',
    );
    fireEvent.click(dialog.getByRole('button', { name: `Block this flow: ${flow}` }));
    const narrower = within(await screen.findByRole('dialog'));
    await narrower.findByText(/looks like everyday work/);
    fireEvent.change(narrower.getByLabelText('Ends by itself after'), { target: { value: '8' } });
    fireEvent.click(narrower.getByRole('button', { name: 'Ask for it' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    // What is asked for is tried anew afterwards: the alerts changed.
    expect(
      api
        .changes()
        .slice(0, 3)
        .map(({ path, body }) => [path.split('/').at(-1), body]),
    ).toEqual([
      ['try', { does: 'drop-address', subject: '203.0.113.77' }],
      ['try', { does: 'block-flow', subject: flow }],
      ['responses', { does: 'block-flow', subject: flow, hours: 8 }],
    ]);
  });

  it('nobody to carry it out is told, as is what cannot be tried; what is done is taken back', async () => {
    const held = alert({
      ...about,
      responses: [
        {
          id: 5,
          does: 'block-flow',
          label: 'Block this flow',
          subject: flow,
          state: 'done',
          askedBy: 'analyst',
          asked: '2026-11-14T09:00:00Z',
          decidedBy: 'admin',
          reason: null,
          said: null,
          ends: '2026-11-15T09:00:00Z',
          undo: 'Let it through again',
        },
      ],
    });
    const api = fakeApi({
      ...listed,
      [`POST /alerts/${about.id}/responses/try`]: tried({
        carrier: null,
        everyday: false,
        says: 'It would have hit nothing.',
      }),
      [`POST /alerts/${about.id}/responses/5/undo`]: {},
    });
    show(<ResponsesPart alert={held} mayChange zone="UTC" search="" />, { role: 'analyst' });
    expect(screen.getByText(/done, admin, until 15 Nov 09:00/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Let it through again' }));
    await waitFor(() => expect(api.changes()[0]?.path).toBe(`/alerts/${about.id}/responses/5/undo`));
    fireEvent.click(await screen.findByRole('button', { name: 'Block this flow' }));
    expect(await screen.findByText(/Nobody is set up to carry it out/)).toBeTruthy();
  });
});
