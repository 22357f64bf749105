import type { Traffic } from '../../../core/net/block-rule.js';
import type { PickedValue } from './CellMenu.js';

/** What a row, or a value alone, says of the traffic it stands for. */
export function trafficOf({ column, value, row }: PickedValue): Traffic {
  const of = (field: string) =>
    row?.find((cell) => cell.field === field)?.value ?? (column.field === field ? value : null);
  const text = (field: string): string | null => {
    const found = of(field);
    return typeof found === 'string' ? found : null;
  };
  const port = of('dst_port');
  return {
    protocol: text('protocol'),
    src_ip: text('src_ip'),
    dst_ip: text('dst_ip'),
    dst_port: typeof port === 'number' ? port : null,
  };
}
