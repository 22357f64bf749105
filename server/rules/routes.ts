import { nothing } from '../../core/wire/common.js';
import {
  huntRuns,
  replayRequest,
  rule,
  ruleChange,
  ruleCheck,
  ruleFiles,
  ruleImport,
  ruleList,
  rulePreview,
  ruleText,
  ruleToCheck,
  ruleVersions,
  ruleWords,
} from '../../core/wire/rules.js';
import { ANSWERED, route, type Route } from '../http/route.js';
import { streamPieces } from '../http/stream-pieces.js';
import { readBytes } from '../intake/read-body.js';
import type { Replays } from './replays.js';
import { readArchive, writeArchive } from './archives.js';
import type { RuleFiles } from './files.js';
import type { RuleHistory } from './history.js';
import type { Rules } from './service.js';

const byId = {
  type: 'object',
  required: ['id'],
  properties: { id: { type: 'string', format: 'uuid' } },
} as const;

/** What rules are made of: their texts, versions and states. */
export function ruleRoutes(rules: Rules): Route[] {
  return [
    route('get', '/rules', {
      access: 'reader',
      summary: 'All rules',
      answer: ruleList,
      handle: async () => ({ rules: await rules.all() }),
    }),
    route('post', '/rules', {
      access: 'analyst',
      summary: 'Add a rule, as a draft',
      body: ruleText,
      answer: rule,
      handle: async ({ body, person }) => rules.add(body.text, person.name, body.why),
    }),
    route('post', '/rules/check', {
      access: 'reader',
      summary: 'What a rule text says in plain words, how its tests go, or its first mistake',
      body: ruleToCheck,
      answer: ruleCheck,
      handle: ({ body }) => rules.check(body.text, body.id ?? null),
    }),
    route('get', '/rules/words', {
      access: 'reader',
      summary: 'What a rule may name: fields seen of late, log sources, lists, other rules, techniques',
      answer: ruleWords,
      handle: () => rules.nameable(),
    }),
    route('get', '/rules/:id', {
      access: 'reader',
      summary: 'One rule with its text',
      params: byId,
      answer: rule,
      handle: async ({ params }) => rules.one(params.id),
    }),
    route('patch', '/rules/:id', {
      access: 'analyst',
      summary: 'Change a rule: its text, which makes a version; or switch a version on, or the rule off',
      params: byId,
      body: ruleChange,
      answer: rule,
      handle: async ({ params, body, person }) => rules.change(params.id, body, person.name),
    }),
    route('delete', '/rules/:id', {
      access: 'analyst',
      summary: 'Remove a rule that never raised an alert',
      params: byId,
      answer: nothing,
      handle: async ({ params }) => {
        await rules.remove(params.id);
        return {};
      },
    }),
    route('get', '/rules/:id/versions', {
      access: 'reader',
      summary: 'The versions of a rule, the newest first: who changed it, when and why',
      params: byId,
      answer: ruleVersions,
      handle: async ({ params }) => ({ versions: await rules.versions(params.id) }),
    }),
  ];
}

/** What rules did and would have done. */
export function replayRoutes(replays: Replays, history: RuleHistory): Route[] {
  return [
    route('post', '/rules/replay', {
      access: 'reader',
      summary:
        'Run a rule text over stored time as if it had been live; JSON lines, the last one is complete',
      body: replayRequest,
      async handle({ body, person, response, signal }) {
        await streamPieces(replays.run(body, person.name, signal), response, signal);
        return ANSWERED;
      },
    }),
    route('post', '/rules/preview', {
      access: 'reader',
      summary: 'The newest events of the last day that a rule text matches',
      body: ruleToCheck,
      answer: rulePreview,
      handle: ({ body, signal }) => replays.preview(body.text, body.id ?? null, signal),
    }),
    route('get', '/rules/:id/runs', {
      access: 'reader',
      summary: 'The last runs of a hunt that is a rule',
      params: byId,
      answer: huntRuns,
      handle: async ({ params }) => ({ runs: await history.runs(params.id) }),
    }),
  ];
}

/** Rules in and out as files. */
export function ruleFileRoutes(files: RuleFiles): Route[] {
  return [
    route('post', '/rules/import', {
      access: 'analyst',
      summary: 'Take rule files in; broken documents are refused, the others go on',
      body: ruleFiles,
      answer: ruleImport,
      largeBody: true,
      handle: ({ body, person }) => files.import(body.files, person.name),
    }),
    route('post', '/rules/import-archive', {
      access: 'analyst',
      summary: 'Take the rule files of a ZIP, tar or tar.gz archive in',
      answer: ruleImport,
      rawBody: true,
      handle: async ({ request, person }) =>
        files.import(await readArchive(await readBytes(request)), person.name),
    }),
    route('get', '/rules/export', {
      access: 'reader',
      summary: 'All rules as a ZIP archive, sign by sign as they were kept',
      async handle({ response }) {
        const archive = writeArchive(await files.all());
        response.attachment('rules.zip').type('application/zip').send(Buffer.from(archive));
        return ANSWERED;
      },
    }),
    route('get', '/rules/:id/export', {
      access: 'reader',
      summary: 'One rule as a file, sign by sign as it was kept',
      params: byId,
      async handle({ params, response }) {
        const { name, text } = await files.one(params.id);
        response.attachment(name).type('application/yaml').send(text);
        return ANSWERED;
      },
    }),
  ];
}
