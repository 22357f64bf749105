import { fireEvent, render, screen } from '@testing-library/react';
import type { Beam, BeamChange } from '../beam/beam.js';
import { CarriedSlips } from './CarriedSlips.js';

const beam = (carried: string[]): Beam => ({
  window: { from: '', to: '' },
  last: '24h',
  zone: 'UTC',
  live: false,
  carried,
});
const open = (carried: string[], path = '/hunt'): BeamChange[] => {
  const told: BeamChange[] = [];
  render(<CarriedSlips beam={beam(carried)} path={path} change={(change) => told.push(change)} />);
  return told;
};

it('each condition is a slip that is turned round or let go of', () => {
  const told = open(["user = 'teo'", "host != 'gate-01'"]);
  expect(screen.getByText('is not').tagName).toBe('B');
  fireEvent.click(screen.getByTitle(/^user = 'teo'/));
  fireEvent.click(screen.getByRole('button', { name: "Let go of host != 'gate-01'" }));
  expect(told).toEqual([{ carried: ["user != 'teo'", "host != 'gate-01'"] }, { carried: ["user = 'teo'"] }]);
});

it('what cannot be turned round is only let go of; elsewhere it rests', () => {
  open(["user like 'svc-%'"], '/alerts');
  expect(screen.getByTitle(/not narrowed/)).toHaveProperty('disabled', true);
  expect(document.querySelector('.slip.resting')).not.toBeNull();
});

it('nothing carried is nothing shown', () => {
  open([]);
  expect(screen.queryByRole('group')).toBeNull();
});
