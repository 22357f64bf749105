import { SaxesParser } from 'saxes';
import { eventElementCutter } from './cutters.js';
import { excerpt, unreadable, type Format } from './format.js';

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

/** Attributes of the system part that rules know by a name of their own. */
const attributeNames: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  Provider: { Name: 'Provider_Name', Guid: 'Provider_Guid' },
  TimeCreated: { SystemTime: 'SystemTime' },
  Execution: { ProcessID: 'Execution_ProcessID', ThreadID: 'Execution_ThreadID' },
  Security: { UserID: 'Security_UserID' },
  Correlation: { ActivityID: 'Correlation_ActivityID' },
};

function readEventElement(record: string): Fields {
  const fields: Fields = Object.create(null) as Fields;
  const open: Open[] = [];
  let unnamed = 0;
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw error;
  });
  // Entities of a document's own can swell without bound, so no document may bring any.
  parser.on('doctype', () => {
    throw new Error('document types are not allowed');
  });
  parser.on('opentag', (tag) => {
    const parent = open.at(-1);
    if (parent !== undefined) parent.hasChildren = true;
    if (open.length === 0 && tag.name !== 'Event') throw new Error(`the outer element is "${tag.name}"`);
    if (open.length >= DEEPEST) throw new Error(`nested deeper than ${DEEPEST} levels`);
    for (const [name, as] of Object.entries(attributeNames[tag.name] ?? {})) {
      const value = tag.attributes[name];
      if (typeof value === 'string') fields[as] = value;
    }
    const label = tag.attributes['Name'];
    open.push({
      name: tag.name,
      label: typeof label === 'string' ? label : undefined,
      text: '',
      hasChildren: false,
    });
  });
  const hear = (text: string): void => {
    const top = open.at(-1);
    if (top !== undefined) top.text += text;
  };
  parser.on('text', hear);
  parser.on('cdata', hear);
  parser.on('closetag', () => {
    const element = open.pop();
    if (element === undefined || element.hasChildren || open.length < 2) return;
    const text = element.text.trim();
    if (element.name === 'Data') fields[element.label ?? `Data${unnamed++}`] = text === '-' ? null : text;
    else if (text !== '') fields[element.name] = text;
  });
  parser.write(record).close();
  return fields;
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
      return { fields: { ...readEventElement(record) } };
    } catch (error) {
      return unreadable(
        'not-xml',
        `no event element: ${error instanceof Error ? excerpt(error.message.split('\n')[0] ?? '') : 'unreadable'}`,
      );
    }
  },
};
