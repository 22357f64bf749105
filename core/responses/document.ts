import { parseNetwork } from '../net/network.js';

/** What a response falls on. */
export const responseKinds = ['user', 'host', 'address', 'flow', 'right'] as const;
export type ResponseKind = (typeof responseKinds)[number];

/** Who carries responses out: destinations of these kinds, or the product itself, which keeps the lists. */
export const carrierKinds = ['identity', 'firewall', 'agent', 'cloud', 'lists'] as const;
export type CarrierKind = (typeof carrierKinds)[number];

/** Longer texts are no responses. */
export const MAX_RESPONSE_LENGTH = 20_000;

const title = { type: 'string', minLength: 1, maxLength: 80, pattern: '\\S' } as const;
const path = { type: 'string', maxLength: 300, pattern: '^/[^?#\\\\\\s]*$' } as const;

/** How whoever carries a response out is asked. */
export const requestMethods = ['POST', 'PUT', 'PATCH', 'DELETE'] as const;
export type RequestMethod = (typeof requestMethods)[number];

const asked = {
  method: { enum: requestMethods },
  alsoDone: {
    type: 'array',
    maxItems: 5,
    uniqueItems: true,
    items: { type: 'integer', minimum: 400, maximum: 499 },
    description: 'answers that say that it is so already, such as 409, or 404 of what is taken back',
  },
} as const;

/** A response as JSON: what somebody may write. */
export const response = {
  type: 'object',
  required: ['title', 'on', 'to', 'path', 'body', 'undo', 'hours', 'history', 'narrower'],
  additionalProperties: false,
  properties: {
    title,
    on: { enum: responseKinds },
    to: { enum: carrierKinds },
    path,
    ...asked,
    body: {
      type: 'object',
      maxProperties: 20,
      propertyNames: { pattern: '^[A-Za-z_][A-Za-z0-9_]{0,59}$' },
      additionalProperties: { type: 'string', maxLength: 500 },
    },
    undo: {
      anyOf: [
        {
          type: 'object',
          required: ['title', 'path'],
          additionalProperties: false,
          properties: { title, path, ...asked },
        },
        { type: 'null' },
      ],
    },
    hours: { anyOf: [{ type: 'integer', minimum: 1, maximum: 8760 }, { type: 'null' }] },
    history: { type: 'string', minLength: 1, maxLength: 5000 },
    narrower: { anyOf: [{ type: 'string', maxLength: 60 }, { type: 'null' }] },
  },
} as const;

/** What is asked of whoever carries a response out. */
interface AskedOfCarrier {
  /** Below the address of the destination, with `{names}` of places, which are escaped. */
  readonly path: string;
  /** POST unless told otherwise. */
  readonly method?: RequestMethod;
  /** Refusals that say that it is so already: they count as done. */
  readonly alsoDone?: readonly number[];
}

/** A response: a document, so that another needs no further code. */
export interface ResponseDocument extends AskedOfCarrier {
  /** The words of its button, before "of" and the subject. */
  readonly title: string;
  readonly on: ResponseKind;
  /** The kind of destination that carries it out. */
  readonly to: CarrierKind;
  /** What is sent, as JSON, with the same `{names}`. */
  readonly body: Readonly<Record<string, string>>;
  /** How it is taken back; null for what cannot be. */
  readonly undo: (AskedOfCarrier & { readonly title: string }) | null;
  /** It ends by itself after so many hours; null for what holds until it is undone. */
  readonly hours: number | null;
  /** A hunt whose rows are what it would have hit, with the same `{names}` as quoted texts. */
  readonly history: string;
  /** One that does less, and may do as well. */
  readonly narrower: string | null;
}

/** Responses by their names. */
export type ResponseDocuments = Readonly<Record<string, ResponseDocument>>;

/** A response by its name; null for what is none. */
export const responseIn = (documents: ResponseDocuments, name: string): ResponseDocument | null =>
  Object.hasOwn(documents, name) ? (documents[name] ?? null) : null;

/** A flow: who talks to whom, on which port. */
const FLOW = /^([0-9a-f.:]+) > ([0-9a-f.:]+) port (\d{1,5})\/([a-z0-9]{2,10})$/i;

/** A flow as the subject of a response: `10.30.0.10 > 203.0.113.77 port 53/udp`. */
export const flowText = (source: string, destination: string, port: number, protocol: string): string =>
  `${source} > ${destination} port ${port}/${protocol}`;

/** A right that somebody holds somewhere. */
const RIGHT = /^(\S{1,300}) has (.{1,300}) in (\S{1,300})$/;

/** A right as the subject of a response: `0ttilie.brandt has owner in ticketing-prod`. */
export const rightText = (user: string, right: string, account: string): string =>
  `${user} has ${right} in ${account}`;

/** A name of dots would lead to another address than the one it is filled into (RFC 3986, section 5.2.4). */
const isName = (text: string | undefined): text is string => text !== undefined && !/^\.{0,2}$/.test(text);

const isAddress = (text: string): boolean => !text.includes('/') && parseNetwork(text) !== null;

/** The places that a subject fills; null where it is no subject of this kind. */
export function placesOf(kind: ResponseKind, subject: string): Readonly<Record<string, string>> | null {
  switch (kind) {
    case 'user':
    case 'host':
      return isName(subject) ? { subject } : null;
    case 'right': {
      const [, user, right, account] = RIGHT.exec(subject) ?? [];
      return isName(user) && isName(right) && isName(account) ? { subject, user, right, account } : null;
    }
    case 'address':
      return isAddress(subject) ? { subject, address: subject } : null;
    case 'flow': {
      const [, source = '', destination = '', port = '', protocol = ''] = FLOW.exec(subject) ?? [];
      return isAddress(source) && isAddress(destination) && Number(port) <= 65_535
        ? { subject, source, destination, port, protocol: protocol.toLowerCase() }
        : null;
    }
  }
}

/** A template with its places filled; a place that is not known stays as it is. */
export const fill = (
  template: string,
  places: Readonly<Record<string, string>>,
  write: (text: string) => string = (text) => text,
): string =>
  template.replace(/\{(\w+)\}/g, (whole, name: string) => {
    const value = Object.hasOwn(places, name) ? places[name] : undefined;
    return value === undefined ? whole : write(value);
  });

/** The names that one event of an alert must hold, for a response to fall on them; null where addresses decide. */
export function namesOfSubject(
  kind: ResponseKind,
  places: Readonly<Record<string, string>>,
): string[] | null {
  switch (kind) {
    case 'user':
    case 'host':
      return [places['subject'] ?? ''];
    case 'right':
      return [places['user'] ?? '', places['right'] ?? '', places['account'] ?? ''];
    case 'address':
    case 'flow':
      return null;
  }
}
