import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import { fakeApi, refuse, show } from '../../tests/page.js';
import { AddToList } from './AddToList.js';
import { BlockRule } from './BlockRule.js';
import { ColumnMenu } from './ColumnMenu.js';
import { ColumnValues } from './ColumnValues.js';
import { RenameColumn } from './RenameColumn.js';
import { trafficOf } from './traffic.js';

const column = (name: string, type: HuntColumn['type'] = 'text'): HuntColumn => ({ name, type, field: name });
const place = { x: 0, y: 0 };

describe('the menu of a column', () => {
  const open = (of: HuntColumn, onSplit?: (field: string) => void): unknown[] => {
    const told: unknown[] = [];
    render(
      <ColumnMenu
        column={of}
        at={place}
        onStep={(action) => told.push(action)}
        onValues={() => told.push('values')}
        onRename={() => told.push('rename')}
        onSplit={onSplit ?? ((field) => told.push(['split', field]))}
        onClose={() => undefined}
      />,
    );
    return told;
  };
  const press = (key: string): boolean => fireEvent.keyDown(screen.getByRole('menu'), { key });

  it('writes steps and splits the timeline, each by its key', () => {
    const told = open(column('user'));
    for (const key of ['v', 't', 's', 'p', 'a', 'd', 'r', 'h']) press(key);
    expect(told).toEqual([
      'values',
      'tally',
      'shapes',
      ['split', 'user'],
      'ascending',
      'descending',
      'rename',
      'hide',
    ]);
  });

  it('offers no shapes of numbers, and splits by no time', () => {
    const told = open(column('time', 'time'));
    press('s');
    press('p');
    expect(told).toEqual([]);
  });
});

describe('values of a column by frequency', () => {
  const question = { text: 'from all\nsort user', window: { from: 'a', to: 'b' } };
  it('are counted over the whole hunt, and kept or left out by a click', async () => {
    const api = fakeApi({
      'POST /hunts/run': {
        rows: [
          ['teo', 9],
          [null, 3],
        ],
        columns: [],
        events: [],
      },
    });
    const told: unknown[] = [];
    show(
      <ColumnValues
        column={column('my own')}
        question={question}
        zone="UTC"
        onStep={(action, { value }) => told.push([action, value])}
        onClose={() => told.push('closed')}
      />,
    );
    expect(await screen.findByText('teo')).toBeTruthy();
    expect(screen.getByText('no value')).toBeTruthy();
    expect(JSON.stringify(api.asked)).toContain('tally count() as');
    fireEvent.click(screen.getAllByRole('button', { name: 'leave out' })[1] as HTMLElement);
    expect(told).toEqual(['closed', ['leave-out', null]]);
  });
  it('a refusal is told', async () => {
    fakeApi({ 'POST /hunts/run': refuse(422, 'No field "my own".') });
    show(
      <ColumnValues
        column={column('my own')}
        question={question}
        zone="UTC"
        onStep={() => undefined}
        onClose={() => undefined}
      />,
    );
    expect(await screen.findByText('No field "my own".')).toBeTruthy();
  });
});

it('another name must differ from the other columns', () => {
  const told: string[] = [];
  show(
    <RenameColumn
      name="user"
      taken={['host']}
      onRename={(name) => told.push(name)}
      onClose={() => undefined}
    />,
  );
  const field = screen.getByLabelText('Name of user');
  fireEvent.change(field, { target: { value: ' HOST ' } });
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Rename' }).disabled).toBe(true);
  fireEvent.change(field, { target: { value: ' Who ' } });
  fireEvent.click(screen.getByRole('button', { name: 'Rename' }));
  expect(told).toEqual(['Who']);
});

it('a value goes on a list under its key, with a word on why', async () => {
  const api = fakeApi({
    'GET /lists': { lists: [{ name: 'watched', match: 'exact', key: 'login' }] },
    'PATCH /lists/watched/rows': {},
  });
  const closed = jest.fn();
  show(<AddToList value="teo.marrash" onClose={closed} />);
  await screen.findByText('watched (exact)');
  fireEvent.change(screen.getByLabelText('Why, in the column note'), { target: { value: 'spray' } });
  fireEvent.click(screen.getByRole('button', { name: 'Add' }));
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(api.changes()).toEqual([
    {
      method: 'PATCH',
      path: '/lists/watched/rows',
      body: { add: [{ login: 'teo.marrash', note: 'spray' }] },
    },
  ]);
});

describe('a block rule', () => {
  const row = [
    { column: 'from', field: 'src_ip', value: '10.30.0.10' },
    { column: 'to', field: 'dst_ip', value: '203.0.113.77' },
    { column: 'port', field: 'dst_port', value: 53 },
    { column: 'protocol', field: 'protocol', value: 'UDP' },
  ];
  it('names what the row names, whatever its columns are called', () => {
    const picked = { column: column('to'), value: '203.0.113.77', row };
    expect(trafficOf(picked)).toEqual({
      protocol: 'UDP',
      src_ip: '10.30.0.10',
      dst_ip: '203.0.113.77',
      dst_port: 53,
    });
    show(<BlockRule picked={picked} onClose={() => undefined} />);
    expect(screen.getByText('block udp from 10.30.0.10 to 203.0.113.77 port 53')).toBeTruthy();
  });
  it('of a value alone names that alone', () =>
    expect(trafficOf({ column: column('dst_ip', 'address'), value: '203.0.113.77' })).toEqual({
      protocol: null,
      src_ip: null,
      dst_ip: '203.0.113.77',
      dst_port: null,
    }));
});
