import { parseNetwork } from '../net/network.js';

/** What a response falls on. */
export const responseKinds = ['user', 'host', 'address', 'flow', 'right'] as const;
export type ResponseKind = (typeof responseKinds)[number];

/** Who carries responses out. */
export type CarrierKind = 'identity' | 'firewall' | 'agent' | 'cloud';

/** A response: a document, so that another needs no further code. */
export interface ResponseDocument {
  /** The words of its button, before "of" and the subject. */
  readonly title: string;
  readonly on: ResponseKind;
  /** The kind of destination that carries it out. */
  readonly to: CarrierKind;
  /** What is asked of it, with `{names}` of places below its address; in the path they are escaped. */
  readonly path: string;
  readonly body: Readonly<Record<string, string>>;
  /** How it is taken back; null for what cannot be. */
  readonly undo: { readonly title: string; readonly path: string } | null;
  /** It ends by itself after so many hours; null for what holds until it is undone. */
  readonly hours: number | null;
  /** A hunt whose rows are what it would have hit, with the same `{names}` as quoted texts. */
  readonly history: string;
  /** One that does less, and may do as well. */
  readonly narrower: string | null;
}

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

const isAddress = (text: string): boolean => !text.includes('/') && parseNetwork(text) !== null;

/** The places that a subject fills; null where it is no subject of this kind. */
export function placesOf(kind: ResponseKind, subject: string): Readonly<Record<string, string>> | null {
  switch (kind) {
    case 'user':
    case 'host':
      return subject === '' ? null : { subject };
    case 'right': {
      const [, user, right, account] = RIGHT.exec(subject) ?? [];
      return user === undefined || right === undefined || account === undefined
        ? null
        : { subject, user, right, account };
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
