import { randomBytes } from 'node:crypto';
import { Router, urlencoded, type Request, type Response } from 'express';
import type { JsonObject } from '../../core/base/json.js';
import { jsonToText } from '../../core/text/json-text.js';
import { escape, renderFrame } from '../page/frame.js';

// Warnings that neighbouring harbours share: indicators as a collection of TAXII 2.1 (OASIS), read with an access token
// that is had by client credentials (RFC 6749, section 4.4).

/** Who may read the collection. */
export const WARNINGS_CLIENT = { id: 'skerry-line', secret: 'skerry-line warnings' } as const;

const TYPE = 'application/taxii+json;version=2.1';
const COLLECTION = '5d0c1b7e-22f4-4a7e-9c55-7d1b9a3e4f01';
const TOKEN_SECONDS = 600;
const MAX_TOKENS = 100;
const MAX_PAGE = 1000;

interface Added {
  readonly added: string;
  readonly object: JsonObject;
}

/** A collection of indicators that can be added to and withdrawn from. */
export class Warnings {
  readonly router = Router();
  private readonly objects: Added[] = [];
  private readonly tokens = new Set<string>();
  private clock = 0;

  constructor(private readonly now: () => number = Date.now) {
    const { router } = this;
    router.post('/token', urlencoded({ extended: false, limit: '8kb' }), (request, response) =>
      this.giveToken(request, response),
    );
    router.get('/taxii2', (request, response) => {
      if (this.mayRead(request, response))
        response
          .type(TYPE)
          .send(JSON.stringify({ title: 'Harbour warnings', api_roots: ['/warnings/api/'] }));
    });
    router.get(`/api/collections/${COLLECTION}/`, (request, response) => {
      if (this.mayRead(request, response))
        response.type(TYPE).send(
          JSON.stringify({
            id: COLLECTION,
            title: 'Harbour warnings',
            can_read: true,
            can_write: false,
            media_types: ['application/stix+json;version=2.1'],
          }),
        );
    });
    router.get(`/api/collections/${COLLECTION}/objects/`, (request, response) =>
      this.give(request, response),
    );
    router.get('/', (_request, response) => void response.type('html').send(this.page()));
    router.post('/withdraw/:id', (request, response) => {
      this.withdraw(request.params.id);
      response.redirect(303, '/warnings');
    });
    for (const [pattern, name] of FIRST) this.add(pattern, name);
  }

  /** The address of the collection below the stand-ins. */
  static readonly path = `/warnings/api/collections/${COLLECTION}/`;

  /** Adds an indicator. @returns its id */
  add(pattern: string, name: string): string {
    const id = `indicator--${uuidOf(this.objects.length + 1)}`;
    const at = this.tick();
    this.objects.push({
      added: at,
      object: {
        type: 'indicator',
        spec_version: '2.1',
        id,
        created: at,
        modified: at,
        name,
        pattern,
        pattern_type: 'stix',
        valid_from: at,
        indicator_types: ['malicious-activity'],
      },
    });
    return id;
  }

  /** Revokes an indicator: a new version of it says so. */
  withdraw(id: string): void {
    const newest = this.objects.filter(({ object }) => object['id'] === id).at(-1);
    if (newest === undefined || newest.object['revoked'] === true) return;
    const at = this.tick();
    this.objects.push({ added: at, object: { ...newest.object, modified: at, revoked: true } });
  }

  /** Times that never come twice. */
  private tick(): string {
    this.clock = Math.max(this.clock + 1, this.now());
    return new Date(this.clock).toISOString();
  }

  private giveToken(request: Request, response: Response): void {
    const { id, secret } = WARNINGS_CLIENT;
    const wanted = `Basic ${Buffer.from(`${id}:${encodeURIComponent(secret).replace(/%20/g, '+')}`).toString('base64')}`;
    const body = request.body as Record<string, unknown> | undefined;
    if (request.get('authorization') !== wanted) {
      response.status(401).json({ error: 'invalid_client' });
      return;
    }
    if (body?.['grant_type'] !== 'client_credentials') {
      response.status(400).json({ error: 'unsupported_grant_type' });
      return;
    }
    const token = randomBytes(24).toString('base64url');
    if (this.tokens.size >= MAX_TOKENS) this.tokens.clear();
    this.tokens.add(token);
    response.set('Cache-Control', 'no-store');
    response.json({ access_token: token, token_type: 'Bearer', expires_in: TOKEN_SECONDS });
  }

  /** Tokens that are known no more, as after a restart over there. */
  forgetTokens(): void {
    this.tokens.clear();
  }

  private mayRead(request: Request, response: Response): boolean {
    const token = /^Bearer (.+)$/.exec(request.get('authorization') ?? '')?.[1];
    if (token !== undefined && this.tokens.has(token)) return true;
    response
      .status(401)
      .type(TYPE)
      .send(JSON.stringify({ title: 'Unauthorized', http_status: '401' }));
    return false;
  }

  private give(request: Request, response: Response): void {
    if (!this.mayRead(request, response)) return;
    if (!(request.get('accept') ?? '').includes('application/taxii+json')) {
      response
        .status(406)
        .type(TYPE)
        .send(JSON.stringify({ title: 'Not acceptable', http_status: '406' }));
      return;
    }
    const { added_after: after, limit, next } = request.query;
    const since = typeof after === 'string' ? Date.parse(after) : 0;
    const from = typeof next === 'string' ? Number(next) || 0 : 0;
    const many = Math.min(MAX_PAGE, Math.max(1, Number(limit ?? MAX_PAGE) || MAX_PAGE));
    const fitting = this.objects.filter(({ added }) => Date.parse(added) > since);
    const page = fitting.slice(from, from + many);
    const more = from + many < fitting.length;
    if (page[0] !== undefined) response.set('X-TAXII-Date-Added-First', page[0].added);
    const last = page.at(-1);
    if (last !== undefined) response.set('X-TAXII-Date-Added-Last', last.added);
    response.type(TYPE).send(
      JSON.stringify(
        page.length === 0
          ? {}
          : {
              more,
              ...(more && { next: String(from + many) }),
              objects: page.map(({ object }) => object),
            },
      ),
    );
  }

  private page(): string {
    const newest = new Map(this.objects.map(({ object }) => [textOf(object, 'id'), object]));
    const rows = [...newest].map(
      ([id, object]) =>
        `<tr><td>${escape(textOf(object, 'name'))}<br><code>${escape(textOf(object, 'pattern'))}</code></td><td>${
          object['revoked'] === true
            ? 'withdrawn'
            : `<form method="post" action="/warnings/withdraw/${escape(id)}"><button>Withdraw</button></form>`
        }</td></tr>`,
    );
    return renderFrame('Harbour warnings', `<table>${rows.join('')}</table>`, 5);
  }
}

const textOf = (object: JsonObject, name: string): string => jsonToText(object[name] ?? null) ?? '';

/** A name that is always the same for the same number. */
const uuidOf = (n: number): string => `5d0c1b7e-22f4-4a7e-9c55-${n.toString(16).padStart(12, '0')}`;

const FIRST: readonly (readonly [pattern: string, name: string])[] = [
  ["[ipv4-addr:value ISSUBSET '198.18.40.0/24']", 'Guesses at sign-ins of ferry companies'],
  ["[ipv4-addr:value = '203.0.113.77']", 'Takes in what tunnels carry'],
  ["[domain-name:value = 'quay-times.elsewhere.example']", 'Page that imitates a timetable'],
  ["[url:value = 'http://quay-times.elsewhere.example/seats.exe']", 'Program offered as a seat plan'],
  [
    "[file:hashes.'SHA-256' = '9f2c1d4b7a60e5c38d1f0b2a94c7e6d5a1b3c5d7e9f00112233445566778899a']",
    'The program itself',
  ],
  ["[email-addr:value = 'harbour.office@elsewhere.example']", 'Sender of letters with it'],
];
