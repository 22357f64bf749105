import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { columnNames } from '../../core/events/columns.js';
import { namedFields, placeNames, placesIn } from '../../core/rules/template.js';
import { responseIn, type ResponseDocuments } from '../../core/responses/document.js';
import {
  type DeliveryAction,
  describeAction,
  responseOffered,
  type RuleAction,
} from '../../core/sigma/actions.js';
import type {
  ActionPreview,
  DeliveryLog,
  DestinationBody,
  DestinationWire,
} from '../../core/wire/deliveries.js';
import type { PageAsk } from '../../core/wire/paging.js';
import { readPage, toPage } from '../db/pages.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import type { RuleReading } from '../rules/reading.js';
import { requireRight } from '../rules/service.js';
import type { Seal } from '../seal.js';
import { addChange } from '../trail/changes.js';
import { type AlertContext, type Content, contentOf } from './content.js';
import { loadAlertContext, sendNow } from './deliver.js';
import { DeliveryFailure } from './delivery-failure.js';
import { ResponseBook } from './response-book.js';
import {
  PUT_DESTINATION,
  DELIVER_AGAIN,
  HOLD_DESTINATION,
  NEWEST_ALERT_OF_RULE,
  READ_DELIVERIES,
  READ_DESTINATIONS,
  KINDS_OF_DESTINATIONS,
  KIND_OF_DESTINATION,
  NAMES_OF_LISTS,
  REMOVE_DESTINATION,
} from './sql.js';

const protocols: Readonly<Record<DestinationBody['kind'], RegExp>> = {
  chat: /^https?:$/,
  webhook: /^https?:$/,
  identity: /^https?:$/,
  firewall: /^https?:$/,
  agent: /^https?:$/,
  cloud: /^https?:$/,
  mail: /^smtps?:$/,
  syslog: /^(tcp|udp):$/,
  program: /^$/,
};
const examples: Readonly<Record<DestinationBody['kind'], string>> = {
  chat: 'https://chat.example/rooms/watch',
  webhook: 'https://sink.example/alerts',
  identity: 'https://directory.example/identity',
  firewall: 'https://firewall.example/api',
  agent: 'https://agents.example/api',
  cloud: 'https://rights.example/api',
  mail: 'smtp://mail.example:25',
  syslog: 'tcp://collector.example:514',
  program: 'block.sh',
};

/** Where actions of rules go, and how what went there fared. */
export class Destinations {
  constructor(
    private readonly pool: Pool,
    private readonly seal: Seal,
    private readonly reading: RuleReading,
    private readonly base: () => string,
  ) {}

  async all(): Promise<DestinationWire[]> {
    const [{ rows }, { pack }] = await Promise.all([
      this.pool.query<{
        name: string;
        kind: DestinationWire['kind'];
        address: string;
        settings: Record<string, string>;
        secret: boolean;
        allow_private: boolean;
        waiting: number;
        dead: number;
      }>(READ_DESTINATIONS),
      this.reading.all(),
    ]);
    const named = [...pack.rules, ...pack.hunts.map(({ hunt }) => hunt)].flatMap(({ settings }) =>
      settings.actions.map(({ to }) => to),
    );
    return rows.map(({ secret, allow_private, ...row }) => ({
      ...row,
      hasSecret: secret,
      allowPrivate: allow_private,
      rules: named.filter((to) => to === row.name).length,
    }));
  }

  /** Sets a destination up, or changes it. @throws Failure 422 for an address that cannot be one */
  async put(
    name: string,
    body: Pick<DestinationBody, 'kind' | 'address'> & Partial<DestinationBody>,
  ): Promise<void> {
    const { kind, address, settings = {}, secret, allowPrivate = false } = body;
    const url = URL.parse(address);
    const right =
      kind === 'program' ? /^[\w][\w.-]*$/.test(address) : protocols[kind].test(url?.protocol ?? '');
    if (!right)
      throw new Failure(
        'bad-address',
        `"${address}" is no address for ${kind}. Write it as ${examples[kind]}.`,
      );
    if (url !== null && (url.username !== '' || url.password !== ''))
      throw new Failure(
        'secret-in-address',
        'Leave the password out of the address: it has a field of its own.',
      );
    if (kind === 'mail' && !/^[^\s@<>]+@[^\s@<>]+$/.test(settings['to'] ?? ''))
      throw new Failure('bad-mailbox', 'Say whom mails go to, as in desk@mail.example.');
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<{ kind: string; address: string; secret: boolean }>(
        HOLD_DESTINATION,
        [name],
      );
      const [before] = rows;
      const elsewhere = before !== undefined && (before.address !== address || before.kind !== kind);
      // A secret was given for one address; it goes to no other because somebody changed the address.
      if (elsewhere && before.secret && secret === undefined)
        throw new Failure(
          'secret-again',
          'The address changes, so the secret must be given again: it was given for the old one. Leave the field empty to send none.',
        );
      // $6 the sealed secret; $7 whether the one there is kept
      await client.query(PUT_DESTINATION, [
        name,
        kind,
        address,
        JSON.stringify(settings),
        allowPrivate,
        typeof secret === 'string' && secret !== '' ? this.seal.close(secret) : null,
        secret === undefined,
      ]);
      await addChange(
        client,
        'destination',
        name,
        [
          before === undefined
            ? `set up: ${kind} ${address}`
            : elsewhere
              ? `address ${before.address} → ${address}`
              : 'changed',
          ...(secret === undefined
            ? []
            : [secret === null || secret === '' ? 'without a secret' : 'with a new secret']),
          ...(allowPrivate ? ['may lie inside'] : []),
        ].join(', '),
      );
    });
  }

  /**
   * Sends a word to a destination, outside of any alert, to see whether it arrives.
   * @returns what became of it, in words
   * @throws Failure 404; 422 where the kind does something rather than tell; 502 where it did not arrive, and why
   */
  async try(name: string, who: string): Promise<string> {
    const { rows } = await this.pool.query<{ kind: DestinationWire['kind'] }>(KIND_OF_DESTINATION, [name]);
    const kind = rows[0]?.kind;
    if (kind === undefined) throw notFound(`destination "${name}"`);
    const action = trials(kind, name);
    if (action === null)
      throw new Failure(
        'nothing-to-try',
        'Programs and directories do something, so they are not tried for the sake of trying.',
      );
    const context = {
      ...invented(`A test, sent by ${who}`, 'informational'),
      subject: 'nobody',
      subjectFields: {},
    };
    try {
      return await sendNow(
        { pool: this.pool, seal: this.seal, base: this.base, programs: null },
        action,
        context,
      );
    } catch (error) {
      if (error instanceof DeliveryFailure) throw new Failure('not-delivered', error.message);
      throw error;
    }
  }

  /** @throws Failure 404 */
  async remove(name: string): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(REMOVE_DESTINATION, [name]);
      if (rowCount === 0) throw notFound(`destination "${name}"`);
      await addChange(client, 'destination', name, 'removed');
    });
  }

  /** The newest deliveries; those that were given up or wait, if asked for. */
  async log(asked: PageAsk & { readonly state?: 'waiting' | 'sent' | 'dead' }): Promise<DeliveryLog> {
    const page = readPage(asked, 1);
    const { rows } = await this.pool.query<{
      id: number;
      alert: number | null;
      title: string;
      subject: string;
      action: DeliveryAction;
      state: 'waiting' | 'sent' | 'dead';
      tries: number;
      said: string | null;
      created: Instant;
      finished: Instant | null;
      place: [number];
    }>(READ_DELIVERIES, [asked.state ?? null, ...page.after, page.rows]);
    const { shown, next } = toPage(rows, asked);
    const deliveries = shown.map(({ action, created, finished, ...row }) => ({
      ...row,
      board: action.do === 'sheet' ? action.board : null,
      does: describeAction(action),
      created: formatInstant(created),
      finished: finished === null ? null : formatInstant(finished),
    }));
    return { deliveries, next };
  }

  /** Tries a delivery that was given up once more. @throws Failure 404, 409 where it was not given up */
  async again(id: number): Promise<void> {
    const { rows } = await this.pool.query<{ was: string }>(DELIVER_AGAIN, [id]);
    if (rows[0] === undefined) throw notFound(`delivery ${id}`);
    if (rows[0].was !== 'dead')
      throw new Failure(
        'not-given-up',
        'Only what was given up can be tried again; this is under way or sent.',
      );
  }

  /** What the actions of a rule text would say, of its newest alert or of an invented one. @throws Failure 422 */
  async preview(text: string, id: string | null): Promise<ActionPreview> {
    const read = await this.reading.read(text, id);
    requireRight(read);
    const { pack, own, hunts } = read;
    const rules = [...own.flatMap((at) => pack.rules[at] ?? []), ...hunts];
    const context = await this.newestOf(id);
    const { rows } = await this.pool.query<{ name: string; kind: string }>(KINDS_OF_DESTINATIONS);
    const lists = new Set(
      (await this.pool.query<{ name: string }>(NAMES_OF_LISTS)).rows.map(({ name }) => name),
    );
    const documents = await new ResponseBook(this.pool).documents();
    const missingFor = (action: RuleAction): string | null => {
      if (action.do === 'tag') return null;
      if (action.do === 'list') return lists.has(action.to) ? null : `There is no list "${action.to}".`;
      if (!rows.some(({ name, kind }) => name === action.to && kind === action.do))
        return `There is no destination "${action.to}" for ${action.do}.`;
      return action.do === 'chat' ? cannotOffer(action.offer, documents) : null;
    };
    return {
      of: context === null ? null : `${context.title}: ${context.subject}`,
      previews: rules.flatMap((rule) =>
        rule.settings.actions.map((action) => {
          const odd = placesIn(JSON.stringify(action)).find((name) => !knownPlaces.has(name));
          return {
            does: describeAction(action),
            shown: shownOf(
              contentOf(action, context ?? invented(rule.title, rule.level), this.base(), documents),
            ),
            missing: odd === undefined ? missingFor(action) : `Nothing is called {${odd}}; it stays empty.`,
          };
        }),
      ),
    };
  }

  private async newestOf(rule: string | null): Promise<AlertContext | null> {
    if (rule === null) return null;
    const { rows } = await this.pool.query<Parameters<typeof loadAlertContext>[1]>(NEWEST_ALERT_OF_RULE, [
      rule,
    ]);
    return rows[0] === undefined ? null : loadAlertContext(this.pool, rows[0]);
  }
}

/** What is said to see whether it arrives; nothing where the kind does something rather than tell. */
function trials(kind: DestinationWire['kind'], to: string): RuleAction | null {
  switch (kind) {
    case 'chat':
      return { do: kind, to, text: '{title}', fields: [], offer: [] };
    case 'mail':
      return { do: kind, to, subject: '{title}', text: 'If you read this, mail of alerts arrives.\n' };
    case 'webhook':
      return { do: kind, to, fields: [] };
    case 'syslog':
      return { do: kind, to, text: '{title}' };
    case 'program':
    case 'identity':
    case 'firewall':
    case 'agent':
    case 'cloud':
      return null;
  }
}

const knownPlaces: ReadonlySet<string> = new Set([
  ...placeNames,
  ...columnNames.map((name) => `event.${name}`),
  ...namedFields.map((name) => `name.${name}`),
]);

/** What of its buttons a message would leave out, in words; null where it leaves out none. */
function cannotOffer(offers: readonly string[], documents: ResponseDocuments): string | null {
  for (const offer of offers) {
    const does = responseOffered(offer);
    if (does === null) continue;
    const document = responseIn(documents, does);
    if (document === null) return `There is no response "${does}": its button is left out.`;
    if (!OFFERED_KINDS.has(document.on))
      return `"${document.title}" falls on a ${document.on}, which no alert names: its button is left out.`;
  }
  return null;
}

/** What an alert can name for a button to fall on. */
const OFFERED_KINDS: ReadonlySet<string> = new Set(['user', 'host', 'address']);

const invented = (title: string, level: string): AlertContext => ({
  alert: 0,
  rule: '',
  title,
  level,
  subject: 'somebody',
  subjectFields: { user: 'somebody' },
  matches: 1,
  first: 0,
  last: 0,
  event: null,
});

/** What goes out, as its receiver sees it. */
function shownOf(content: Content): string {
  switch (content.do) {
    case 'chat':
      return [
        content.text,
        ...content.fields.map(({ name, value }) => `${name}: ${value}`),
        ...content.offer.map(({ label }) => `[ ${label} ]`),
        content.link,
      ].join('\n');
    case 'mail':
      return `${content.subject}\n\n${content.text}`;
    case 'webhook':
      return JSON.stringify(content.body, null, 2);
    case 'syslog':
      return content.text;
    case 'program':
      return content.arguments.join(' ');
    case 'tag':
      return content.tag;
    case 'list':
      return content.value;
  }
}
