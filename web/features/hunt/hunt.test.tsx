import { fireEvent, render, screen } from '@testing-library/react';
import type { HuntColumn } from '../../../core/wire/hunts.js';
import { CellMenu } from '../../results/menus/CellMenu.js';
import { cellText, columnWidth, firstColumns, inReadingOrder } from '../../results/cells.js';

const column = (
  name: string,
  type: HuntColumn['type'] = 'text',
  field: string | null = name,
): HuntColumn => ({ name, type, field });

describe('cells', () => {
  it('show numbers with commas, but not those that are names', () => {
    expect(cellText(184000, column('records', 'number'), 'UTC')).toBe('184,000');
    expect(cellText(64500, column('asn', 'number'), 'UTC')).toBe('64500');
    expect(cellText(42424, column('src_port', 'number'), 'UTC')).toBe('42424');
    expect(cellText(0.5, column('x', 'number', null), 'UTC')).toBe('0.5');
    expect(cellText(['a', 1], column('v', 'any', null), 'UTC')).toBe('["a",1]');
    expect(cellText('2026-11-14T08:00:00Z', column('time', 'time'), 'Europe/Oslo')).toBe(
      '2026-11-14 09:00:00.000',
    );
    expect(cellText(null, column('user'), 'UTC')).toBe('');
  });

  const many = [
    'id',
    'source',
    'outcome',
    'city',
    'time',
    'user',
    'reason',
    'x1',
    'x2',
    'x3',
    'x4',
    'x5',
    'x6',
    'x7',
    'own',
  ].map((name) => column(name, 'text', name === 'own' ? null : name));
  it('of events, the usual columns that have values come first, and the hunt’s own are always shown', () => {
    const row = many.map(({ name }) => (name === 'user' || name === 'time' || name === 'x1' ? 'v' : null));
    expect([...firstColumns(many, [row])]).toEqual(['time', 'user', 'own']);
    expect(
      inReadingOrder(many)
        .map(({ name }) => name)
        .slice(0, 6),
    ).toEqual(['time', 'outcome', 'user', 'reason', 'source', 'own']);
    expect([...firstColumns(many.slice(0, 2), [])]).toEqual(['id', 'source']);
  });

  it('widths fit the values, within bounds', () => {
    expect(columnWidth(column('n', 'number'), 0, [[1]], 'UTC')).toBe(64);
    expect(columnWidth(column('m'), 0, [['x'.repeat(500)]], 'UTC')).toBe(340);
  });
});

describe('the menu of a cell', () => {
  function open(value: string | null | string[]): {
    onStep: jest.Mock;
    onDossier: jest.Mock;
    onClose: jest.Mock;
  } {
    const calls = { onStep: jest.fn(), onDossier: jest.fn(), onClose: jest.fn() };
    render(<CellMenu picked={{ column: column('user'), value }} at={{ x: 10, y: 10 }} {...calls} />);
    return calls;
  }
  const names = (): (string | null)[] => screen.getAllByRole('menuitem').map((item) => item.textContent);

  it('has its actions in one order, each with its key', () => {
    const { onStep, onClose, onDossier } = open('<b>teo</b>');
    expect(names()).toEqual([
      'Keep only thisK',
      'Leave this outX',
      'Tally per thisT',
      'First and last seenF',
      'Open dossierD',
      'CopyC',
    ]);
    expect(screen.getByRole('menu').textContent).toContain('user = <b>teo</b>');
    expect(document.activeElement?.textContent).toBe('Keep only thisK');
    fireEvent.keyDown(screen.getByRole('menu'), { key: 'X' });
    expect(onStep).toHaveBeenCalledWith('leave-out', { column: column('user'), value: '<b>teo</b>' });
    fireEvent.keyDown(screen.getByRole('menu'), { key: 'd' });
    expect(onDossier).toHaveBeenCalled();
    fireEvent.keyDown(screen.getByRole('menu'), { key: 'Escape' });
    expect(onClose).toHaveBeenCalledTimes(3);
  });

  it('walks by arrows, round the ends', () => {
    open('teo');
    fireEvent.keyDown(screen.getByRole('menu'), { key: 'ArrowUp' });
    expect(document.activeElement?.textContent).toBe('CopyC');
  });

  it('offers no condition for what none can name', () => {
    open(['a']);
    expect(names()).toEqual(['Tally per thisT', 'Open dossierD', 'CopyC']);
  });
});
