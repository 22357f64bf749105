import { Router, json } from 'express';
import { isJsonObject, type JsonObject } from '../../core/base/json.js';
import type { DemoRecord } from '../../demo/generate/record.js';
import { escape, renderFrame } from '../page/frame.js';
import { Kept } from './kept.js';

/** What a rule of the firewall drops: everything of an address, or one flow. */
interface DropRule {
  readonly at: Date;
  readonly why: string;
  /** Texts that a record of what is dropped holds, all of them. */
  readonly needs: readonly string[];
  ended: Date | null;
}

const ADDRESS = /^[0-9a-f.:]{2,45}$/i;
/** Sources that tell of flows: what is dropped is not told by them. */
const FLOW_SOURCES: ReadonlySet<string> = new Set(['fw-stavik', 'fw-brannoch', 'cumulus-flow']);

/** Whether a record holds a word: not as a part of a longer number or address. */
const holds = (raw: string, word: string): boolean => {
  for (let at = raw.indexOf(word); at >= 0; at = raw.indexOf(word, at + 1))
    if (!/[\w.:]/.test(raw[at - 1] ?? ' ') && !/[\w.:]/.test(raw[at + word.length] ?? ' ')) return true;
  return false;
};

/** A firewall with a rule table: what a rule drops does not come in any more, until the rule ends. */
export class Firewall {
  private readonly rules = new Kept<DropRule>();
  readonly router = Router();

  constructor() {
    const { router } = this;
    // As rules of the demo call it: an address to drop.
    router.post('/blocks', json({ limit: '64kb' }), (request, response) => {
      const body = isJsonObject(request.body) ? request.body : {};
      const fields = isJsonObject(body['fields']) ? body['fields'] : {};
      const address = body['address'] ?? fields['src_ip'];
      if (typeof address !== 'string' || !ADDRESS.test(address)) {
        response.status(422).json({ said: 'Name an address.' });
        return;
      }
      this.add(address, [address], typeof body['title'] === 'string' ? body['title'] : '');
      response.json({ said: `${address} is dropped` });
    });
    router.get('/blocks', (_request, response) => {
      response.json({ blocks: this.rules.all().map(([address, block]) => ({ address, ...block })) });
    });
    // As responses call it: a rule with a name of theirs, so that it can be ended.
    router.post('/rules', json({ limit: '64kb' }), (request, response) => {
      const body = isJsonObject(request.body) ? request.body : {};
      const needs = needsOf(body);
      if (typeof body['id'] !== 'string' || needs === null) {
        response.status(422).json({ said: 'Name the rule, and an address or a flow.' });
        return;
      }
      this.add(body['id'], needs, 'asked for by the workbench');
      response.json({ said: `dropped: ${needs.join(' ')}` });
    });
    router.post('/rules/:id/end', (request, response) => {
      const rule = this.rules.get(request.params.id);
      if (rule === undefined) {
        response.status(404).json({ said: 'No rule is called so.' });
        return;
      }
      rule.ended ??= new Date();
      response.json({ said: `let through again: ${rule.needs.join(' ')}` });
    });
    router.get('/rules', (_request, response) => {
      response.json({ rules: this.rules.all().map(([id, rule]) => ({ id, ...rule })) });
    });
    router.get('/', (_request, response) => void response.type('html').send(this.page()));
  }

  private add(name: string, needs: readonly string[], why: string): void {
    this.rules.add(name, { at: new Date(), why, needs, ended: null });
  }

  /** Whether a record tells of something that is dropped. */
  drops({ source, raw }: Pick<DemoRecord, 'source' | 'raw'>): boolean {
    return (
      FLOW_SOURCES.has(source) &&
      this.rules
        .all()
        .some(([, { needs, ended }]) => ended === null && needs.every((word) => holds(raw, word)))
    );
  }

  private page(): string {
    const rows = this.rules
      .all()
      .map(
        ([name, { at, why, needs, ended }]) =>
          `<tr><td><code>${escape(name)}</code><br>${needs.map(escape).join(' ')}</td><td>${at.toISOString().slice(11, 19)} UTC${ended === null ? '' : `, ended ${ended.toISOString().slice(11, 19)}`}</td><td>${escape(why)}</td></tr>`,
      );
    return renderFrame(
      'Firewall',
      rows.length === 0 ? '<p class="soft">Nothing is dropped.</p>' : `<table>${rows.join('')}</table>`,
      5,
    );
  }
}

/** The words that a record of what a rule drops holds; null where it names neither an address nor a flow. */
function needsOf({ address, source, destination, port }: JsonObject): string[] | null {
  const named = (value: unknown): value is string => typeof value === 'string' && ADDRESS.test(value);
  if (named(address)) return [address];
  return named(source) && named(destination) && typeof port === 'string' && /^\d{1,5}$/.test(port)
    ? [source, destination, port]
    : null;
}
