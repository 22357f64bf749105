import type { CardWindow } from '../../core/boards/board.js';

const NAMES: Readonly<Record<string, string>> = {
  '15m': 'last 15 min',
  '1h': 'last hour',
  '4h': 'last 4 h',
  '24h': 'last 24 h',
  day: 'the whole day',
  '7d': 'last 7 d',
  '30d': 'last 30 d',
  '90d': 'last 90 d',
};

/** A card's own window in words. */
export const ownWindowWords = (window: CardWindow): string =>
  'last' in window
    ? (NAMES[window.last] ?? window.last)
    : `${window.from.slice(0, 16)} to ${window.to.slice(0, 16)}`;
