import { fireEvent, screen } from '@testing-library/react';
import type { JSX } from 'react';
import { show } from '../tests/page.js';
import { type TableColumn, useDataTable } from '../ui/data-table.js';
import { Empty } from '../ui/State.js';
import { NothingOpen } from './Detail.js';
import { ListPane } from './ListPane.js';

interface Port {
  readonly name: string;
  readonly ships: number;
}

const columns: readonly TableColumn<Port>[] = [
  { id: 'name', head: 'port', names: true, value: ({ name }) => name },
  { id: 'ships', head: 'ships', numeric: true, value: ({ ships }) => ships },
];
const ports: readonly Port[] = [
  { name: 'Skerry', ships: 4 },
  { name: 'Pell Harbour', ships: 11 },
];
const pending = { isPending: true, isError: false, isSuccess: false, error: null };
const failed = { isPending: false, isError: true, isSuccess: false, error: new Error('The store is away.') };
const here = { isPending: false, isError: false, isSuccess: true, error: null };

function Ports({
  answer = here,
  rows = ports,
  total = rows.length,
  onAll = () => undefined,
  onOpen,
}: {
  answer?: Parameters<typeof ListPane>[0]['answer'];
  rows?: readonly Port[];
  total?: number;
  onAll?: () => void;
  onOpen?: (port: Port) => void;
}): JSX.Element {
  const table = useDataTable('ports', columns, rows);
  return (
    <ListPane
      title="Ports"
      said={`${total} known`}
      actions={<button type="button">New port</button>}
      answer={answer}
      reading="Fetching the ports"
      failed="Ports cannot be shown"
      total={total}
      none={<Empty title="No ports yet">Name the first one.</Empty>}
      unfitting={{ title: 'No port fits', onAll }}
      table={table}
      keyOf={({ name }) => name}
      isLit={({ name }) => name === 'Skerry'}
      {...(onOpen !== undefined && { onOpen })}
      foot={<span>Times are UTC.</span>}
      address="/ports"
    />
  );
}

const NO_ROWS: readonly Port[] = [];

test('a list shows its head, its rows, and a foot with what they can be had as', () => {
  const opened: string[] = [];
  show(<Ports onOpen={({ name }) => opened.push(name)} />);
  expect(screen.getByRole('heading', { level: 1, name: 'Ports' })).toBeTruthy();
  expect(screen.getByText('2 known')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'New port' })).toBeTruthy();
  expect(screen.getAllByRole('row').map((row) => row.getAttribute('aria-current'))).toEqual([
    null,
    'true',
    null,
  ]);
  fireEvent.click(screen.getByText('Pell Harbour'));
  expect(opened).toEqual(['Pell Harbour']);
  expect(screen.getByText('Times are UTC.')).toBeTruthy();
  for (const name of ['Table', 'As curl']) expect(screen.getByRole('button', { name })).toBeTruthy();
});

test('while rows come it says so, and nothing else', () => {
  show(<Ports answer={pending} rows={NO_ROWS} />);
  expect(screen.getByText('Fetching the ports')).toBeTruthy();
  expect(screen.queryByText('No ports yet')).toBeNull();
  expect(screen.queryByRole('table')).toBeNull();
});

test('when they do not come it says why', () => {
  show(<Ports answer={failed} rows={NO_ROWS} />);
  expect(screen.getByRole('alert').textContent).toBe('Ports cannot be shownThe store is away.');
});

test('where there is none it says what to do first', () => {
  show(<Ports rows={NO_ROWS} />);
  expect(screen.getByText('No ports yet')).toBeTruthy();
  expect(screen.queryByText('No port fits')).toBeNull();
});

test('where none fits it says how many there are, and shows all when asked', () => {
  let asked = 0;
  show(<Ports rows={NO_ROWS} total={12} onAll={() => asked++} />);
  expect(screen.getByText(/There are 12/)).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Show them all' }));
  expect(asked).toBe(1);
});

test('whoever may not ask is told, and nothing is awaited', () => {
  show(<Ports answer={null} rows={NO_ROWS} total={0} />);
  expect(screen.getByText('No ports yet')).toBeTruthy();
  expect(screen.queryByText('Fetching the ports')).toBeNull();
});

test('sorting stands in the address and keeps the row that is lit', () => {
  show(<Ports />, { at: '/ports' });
  fireEvent.click(screen.getByRole('button', { name: 'ships' }));
  expect(screen.getByTestId('address').textContent).toBe('/ports?by=-ships');
  expect(screen.getAllByRole('row').map((row) => row.getAttribute('aria-current'))).toEqual([
    null,
    null,
    'true',
  ]);
});

test('the place of what a list opens says what to do while nothing is open', () => {
  show(<NothingOpen label="Port" title="No port is open" hint="Choose one." />);
  expect(screen.getByRole('region', { name: 'Port' }).textContent).toBe('No port is openChoose one.');
});
