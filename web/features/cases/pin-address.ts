import type { CasePinWire } from '../../../core/wire/cases.js';
import { ELSEWHERE } from '../../../core/cases/words.js';
import { huntAround } from '../../beam/around.js';

const AROUND_MILLISECONDS = 60_000;

/** Where a pinned thing stands in the product now; null for one that another installation pinned. */
export function pinAddress({ kind, ref, time }: CasePinWire, search: string): string | null {
  if (ref.startsWith(ELSEWHERE)) return null;
  switch (kind) {
    case 'alert':
      return `/alerts/${ref}${search}`;
    case 'snapshot':
      return `/snapshot/${ref}${search}`;
    case 'hunt':
      // "//name" would be an address of somebody else's.
      return /^\/(?![/\\])/.test(ref) ? ref : `/hunt${search}`;
    case 'response':
    case 'file':
      return null;
    case 'event': {
      const at = time ?? new Date(0).toISOString();
      return `${huntAround(search, { from: at, to: at }, AROUND_MILLISECONDS, 'from all')}&event=${ref}`;
    }
  }
}
