import { SaxesParser } from 'saxes';
import { eventElementCutter } from './cutters.js';
import { attributeNames } from './event-fields.js';
import { excerpt, unreadable, type Format } from './format.js';
import { readPlainXml } from './plain-event-xml.js';

/** Event records are four levels deep; far deeper ones are an attack on whatever walks them. */
const DEEPEST = 32;

type Fields = Record<string, string | null>;

interface Open {
  readonly name: string;
  /** The `Name` attribute, which names the value of a `Data` element. */
  readonly label: string | undefined;
  text: string;
  hasChildren: boolean;
}

/** Gathers the fields of a record from its elements. */
class FieldGatherer {
  readonly fields: Fields = Object.create(null) as Fields;
  readonly open: Open[] = [];
  private unnamed = 0;

  begin(name: string, attributes: Readonly<Record<string, unknown>>): void {
    const parent = this.open.at(-1);
    if (parent !== undefined) parent.hasChildren = true;
    const wanted = Object.hasOwn(attributeNames, name) ? attributeNames[name] : undefined;
    if (wanted !== undefined)
      for (const [attribute, as] of Object.entries(wanted)) {
        const value = attributes[attribute];
        if (typeof value === 'string') this.fields[as] = value;
      }
    const label = attributes['Name'];
    this.open.push({
      name,
      label: typeof label === 'string' ? label : undefined,
      text: '',
      hasChildren: false,
    });
  }

  hear(text: string): void {
    const top = this.open.at(-1);
    if (top !== undefined) top.text += text;
  }

  end(): void {
    const element = this.open.pop();
    if (element === undefined || element.hasChildren || this.open.length < 2) return;
    const text = element.text.trim();
    if (element.name === 'Data')
      this.fields[element.label ?? `Data${this.unnamed++}`] = text === '-' ? null : text;
    else if (text !== '') this.fields[element.name] = text;
  }
}

/** Reads a record by the full parser. @throws Error for what is no event element */
export function readByParser(record: string): Fields {
  const gathered = new FieldGatherer();
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw error;
  });
  // Entities of a document's own can swell without bound, so no document may bring any.
  parser.on('doctype', () => {
    throw new Error('document types are not allowed');
  });
  parser.on('opentag', (tag) => {
    if (gathered.open.length === 0 && tag.name !== 'Event')
      throw new Error(`the outer element is "${tag.name}"`);
    if (gathered.open.length >= DEEPEST) throw new Error(`nested deeper than ${DEEPEST} levels`);
    gathered.begin(tag.name, tag.attributes);
  });
  parser.on('text', (text) => gathered.hear(text));
  parser.on('cdata', (text) => gathered.hear(text));
  parser.on('closetag', () => gathered.end());
  parser.write(record).close();
  return gathered.fields;
}

/** Reads a record as nearly all are written, many times quicker; null where it is not. */
export function readQuickly(record: string): Fields | null {
  const gathered = new FieldGatherer();
  const whole = readPlainXml(
    record,
    'Event',
    {
      open: (name, attributes) => gathered.begin(name, attributes),
      text: (text) => gathered.hear(text),
      close: () => gathered.end(),
    },
    DEEPEST,
  );
  return whole ? gathered.fields : null;
}

/**
 * Event records of the operating system as XML: the values of the system part by element name (`EventID`,
 * `Computer`), those of the data part by their `Name` attribute, a lone `-` as nothing.
 */
export const osEventXml: Format = {
  title: 'event records as XML',
  cutter: eventElementCutter,
  reader: () => (record) => {
    try {
      return { fields: { ...(readQuickly(record) ?? readByParser(record)) } };
    } catch (error) {
      return unreadable(
        'not-xml',
        `no event element: ${error instanceof Error ? excerpt(error.message.split('\n')[0] ?? '') : 'unreadable'}`,
      );
    }
  },
};
