import { screen, waitFor } from '@testing-library/react';
import { fakeApi, refuse, show } from '../tests/page.js';
import { CellContent } from './cells.js';

const column = { name: 'user_id', type: 'text', field: 'user_id' } as const;

it('ids on one screen are asked for together, and their names stand beside them', async () => {
  const api = fakeApi({ 'POST /names': { names: { 'u-1002': 'teo.marrash' } } });
  show(
    <>
      {['u-1002', 'u-1002', 'u-9999'].map((value, i) => (
        <p key={i}>
          <CellContent value={value} column={column} zone="UTC" />
        </p>
      ))}
      <p>
        <CellContent value="u-7" column={{ ...column, name: 'user', field: 'user' }} zone="UTC" />
      </p>
    </>,
  );
  await waitFor(() => expect(screen.getAllByText('teo.marrash')).toHaveLength(2));
  const asked = api.asked.filter(({ path }) => path === '/names');
  expect(asked.map(({ body }) => body)).toEqual([{ kind: 'user', ids: ['u-1002', 'u-9999'] }]);
});

it('names that do not come disturb nobody', async () => {
  const api = fakeApi({ 'POST /names': refuse(503, 'The database is away.') });
  show(<CellContent value="u-1003" column={column} zone="UTC" />);
  await waitFor(() => expect(api.asked.some(({ path }) => path === '/names')).toBe(true));
  expect(await screen.findByText('u-1003', { exact: false })).toBeTruthy();
});
