import type { CasePinWire } from '../../../core/wire/cases.js';
import { huntAround } from '../../beam/around.js';

const AROUND_MILLISECONDS = 60_000;

/** Where a pinned thing stands in the product now. */
export function pinAddress({ kind, ref, time }: CasePinWire, search: string): string {
  switch (kind) {
    case 'alert':
      return `/alerts/${ref}${search}`;
    case 'snapshot':
      return `/snapshot/${ref}${search}`;
    case 'hunt':
      return ref.startsWith('/') ? ref : `/hunt${search}`;
    case 'event': {
      const at = time ?? new Date(0).toISOString();
      return `${huntAround(search, { from: at, to: at }, AROUND_MILLISECONDS, 'from all')}&event=${ref}`;
    }
  }
}
