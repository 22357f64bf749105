import { osEventXml } from '../../core/formats/os-event-xml.js';
import { parseInstant } from '../../core/base/instant.js';
import {
  bytesOf,
  type Element,
  type EventRecord,
  fileTimeOf,
  type RecordValue,
  type Template,
} from './write-evtx.js';

/** The template of records of an event with these names of data: as the operating system has one for each event. */
function templateOf(code: string, names: readonly string[]): Template {
  const value = (at: number, type: number, optional = true) => ({ value: at, type, optional });
  const of = (name: string, at: number, type: number): Element => ({ name, children: [value(at, type)] });
  const guid = new Uint8Array(16);
  new DataView(guid.buffer).setUint32(0, Number(code) + names.length * 65_536, true);
  new TextEncoder()
    .encode(names.join(''))
    .forEach((byte, i) => (guid[4 + (i % 12)] = (guid[4 + (i % 12)] ?? 0) ^ byte));
  return {
    guid,
    root: {
      name: 'Event',
      attributes: [['xmlns', [{ text: 'http://schemas.mast.example/events' }]]],
      children: [
        {
          name: 'System',
          children: [
            { name: 'Provider', attributes: [['Name', [value(0, 1)]]] },
            of('EventID', 1, 6),
            { name: 'TimeCreated', attributes: [['SystemTime', [value(2, 0x11)]]] },
            of('EventRecordID', 3, 0x0a),
            of('Channel', 4, 1),
            of('Computer', 5, 1),
          ],
        },
        {
          name: 'EventData',
          children: names.map((name, i) => ({
            name: 'Data',
            attributes: [['Name', [{ text: name }]]] as const,
            children: [value(6 + i, 1)],
          })),
        },
      ],
    },
  };
}

/** Records of `mast-os`, as the demo writes them in XML, as records of a binary event file. */
export function mastOsRecords(records: readonly string[]): EventRecord[] {
  const read = osEventXml.reader({});
  const templates = new Map<string, Template>();
  const system = new Set(['Provider_Name', 'EventID', 'SystemTime', 'EventRecordID', 'Channel', 'Computer']);
  return records.map((raw) => {
    const { fields } = read(raw);
    if (fields === null) throw new Error(`No record: ${raw}`);
    const names = Object.keys(fields).filter((name) => !system.has(name));
    const text = (name: string): string => {
      const value = fields[name];
      return typeof value === 'string' ? value : '-';
    };
    const key = `${text('EventID')} ${names.join(' ')}`;
    const template = templates.get(key) ?? templateOf(text('EventID'), names);
    templates.set(key, template);
    const time = parseInstant(text('SystemTime')) ?? 0;
    const values: RecordValue[] = [
      { type: 1, bytes: bytesOf.text(text('Provider_Name')) },
      { type: 6, bytes: bytesOf.u16(Number(text('EventID'))) },
      { type: 0x11, bytes: bytesOf.fileTime(time) },
      { type: 0x0a, bytes: bytesOf.u64(BigInt(text('EventRecordID'))) },
      { type: 1, bytes: bytesOf.text(text('Channel')) },
      { type: 1, bytes: bytesOf.text(text('Computer')) },
      ...names.map((name) => ({ type: 1, bytes: bytesOf.text(text(name)) })),
    ];
    return { written: fileTimeOf(time), template, values };
  });
}
