import { exportRule, exportRules, importArchive, importRules } from '../../core/wire/endpoints/rule-files.js';
import {
  addRule,
  changeRule,
  checkRule,
  listHuntRuns,
  listRules,
  listRuleVersions,
  listRuleWords,
  previewRule,
  readRule,
  removeRule,
  replayRule,
} from '../../core/wire/endpoints/rules.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import { streamPieces } from '../http/stream-pieces.js';
import { readBytes } from '../intake/read-body.js';
import { readArchive, writeArchive } from './archives.js';
import type { RuleFiles } from './files.js';
import type { RuleHistory } from './history.js';
import type { Replays } from './replays.js';
import type { Rules } from './service.js';

/** What rules are made of: their texts, versions and states. */
export function ruleRoutes(rules: Rules): Route[] {
  return [
    handles(listRules, async () => ({ rules: await rules.all() })),
    handles(addRule, async ({ body, person }) => rules.add(body.text, person.name, body.why)),
    handles(checkRule, ({ body }) => rules.check(body.text, body.id ?? null)),
    handles(listRuleWords, () => rules.nameable()),
    handles(readRule, async ({ params }) => rules.one(params.id)),
    handles(changeRule, async ({ params, body, person }) => rules.change(params.id, body, person.name)),
    handles(removeRule, async ({ params }) => {
      await rules.remove(params.id);
      return {};
    }),
    handles(listRuleVersions, async ({ params }) => ({ versions: await rules.versions(params.id) })),
  ];
}

/** What rules did and would have done. */
export function replayRoutes(replays: Replays, history: RuleHistory): Route[] {
  return [
    handles(replayRule, async ({ body, person, response, signal }) => {
      await streamPieces(replays.run(body, person.name, signal), response, signal);
      return ANSWERED;
    }),
    handles(previewRule, ({ body, signal }) => replays.preview(body.text, body.id ?? null, signal)),
    handles(listHuntRuns, async ({ params }) => ({ runs: await history.runs(params.id) })),
  ];
}

/** Rules in and out as files. */
export function ruleFileRoutes(files: RuleFiles): Route[] {
  return [
    handles(importRules, ({ body, person }) => files.import(body.files, person.name)),
    handles(importArchive, async ({ request, person }) =>
      files.import(await readArchive(await readBytes(request)), person.name),
    ),
    handles(exportRules, async ({ response }) => {
      const archive = writeArchive(await files.all());
      response.attachment('rules.zip').type('application/zip').send(Buffer.from(archive));
      return ANSWERED;
    }),
    handles(exportRule, async ({ params, response }) => {
      const { name, text } = await files.one(params.id);
      response.attachment(name).type('application/yaml').send(text);
      return ANSWERED;
    }),
  ];
}
