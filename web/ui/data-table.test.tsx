import { fireEvent, screen, within } from '@testing-library/react';
import { useMemo, type JSX } from 'react';
import { show } from '../tests/page.js';
import { DataTable, TableMenu, tableText } from './DataTable.js';
import { useDataTable, type TableColumn } from './data-table.js';

interface Ship {
  readonly name: string;
  readonly berths: number | null;
  readonly class: string;
}
const ships: readonly Ship[] = [
  { name: 'Kittiwake', berths: 12, class: 'low' },
  { name: '=cmd("x")', berths: null, class: 'high' },
  { name: 'Petrel', berths: 3, class: 'medium' },
];
const classes = ['low', 'medium', 'high'];
const columns: readonly TableColumn<Ship>[] = [
  { id: 'name', head: 'ship', names: true, value: ({ name }) => name },
  { id: 'berths', head: 'berths', numeric: true, value: ({ berths }) => berths },
  {
    id: 'class',
    head: 'ice class',
    spare: true,
    value: (ship) => ship.class,
    order: (a, b) => classes.indexOf(b.class) - classes.indexOf(a.class),
  },
];

function Fleet({ rows = ships }: { rows?: readonly Ship[] }): JSX.Element {
  const all = useMemo(() => rows, [rows]);
  const table = useDataTable('fleet', columns, all);
  return (
    <>
      <DataTable table={table} keyOf={({ name }) => name} isLit={({ name }) => name === 'Petrel'} />
      <TableMenu table={table} />
    </>
  );
}

const names = (): (string | null)[] =>
  [...document.querySelectorAll('tbody tr')].map((row) => row.querySelector('td')?.textContent ?? null);
const heads = (): (string | null)[] =>
  [...document.querySelectorAll('thead th')].map(({ textContent }) => textContent);
const press = (name: string): boolean => fireEvent.click(screen.getByRole('button', { name }));

beforeEach(() => localStorage.clear());

it('is sorted by its heads, numbers the largest first, what is absent last, and the address says so', () => {
  show(<Fleet />, { at: '/?zone=UTC' });
  expect(names()).toEqual(['Kittiwake', '=cmd("x")', 'Petrel']);
  press('berths');
  expect(names()).toEqual(['Kittiwake', 'Petrel', '=cmd("x")']);
  expect(screen.getByTestId('address').textContent).toBe('/?zone=UTC&by=-berths');
  press('berths');
  expect(names()).toEqual(['Petrel', 'Kittiwake', '=cmd("x")']);
  press('berths');
  expect(screen.getByTestId('address').textContent).toBe('/?zone=UTC');
});

it('takes its order from the address, also one that is not that of the alphabet; nonsense sorts nothing', () => {
  const { unmount } = show(<Fleet />, { at: '/?by=class' });
  expect(names()).toEqual(['=cmd("x")', 'Petrel', 'Kittiwake']);
  unmount();
  show(<Fleet />, { at: '/?by=-masts' });
  expect(names()).toEqual(['Kittiwake', '=cmd("x")', 'Petrel']);
});

it('shows the columns that were chosen, also the next time; what names the row stays', () => {
  const { unmount } = show(<Fleet />);
  expect(heads()).toEqual(['ship', 'berths']);
  press('Table');
  const menu = document.querySelector<HTMLElement>('.dropdown-menu.show');
  expect(within(menu ?? document.body).queryByLabelText('ship')).toBeNull();
  fireEvent.click(screen.getByLabelText('berths'));
  fireEvent.click(screen.getByLabelText('ice class'));
  expect(heads()).toEqual(['ship', 'ice class']);
  unmount();
  show(<Fleet />);
  expect(heads()).toEqual(['ship', 'ice class']);
});

it('marks the row that is open', () => {
  show(<Fleet />);
  expect(document.querySelector('tr[aria-current=true] td')?.textContent).toBe('Petrel');
});

it('is had as a file with every column; no cell is a formula', () => {
  expect(tableText({ columns, rows: ships }, 'csv')).toBe(
    'ship,berths,ice class\nKittiwake,12,low\n"\'=cmd(""x"")",,high\nPetrel,3,medium\n',
  );
  expect(tableText({ columns, rows: ships.slice(1, 2) }, 'jsonl')).toBe(
    '{"name":"=cmd(\\"x\\")","berths":null,"class":"high"}\n',
  );
});
