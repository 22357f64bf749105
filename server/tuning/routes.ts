import { coverageCsv } from '../../core/tuning/coverage.js';
import {
  exportCoverage,
  keepCuts,
  listExpiring,
  listSilentRules,
  proveCuts,
  rankNoise,
  readCoverage,
  renewExpiring,
  studyNoise,
} from '../../core/wire/endpoints/tuning.js';
import { ANSWERED, handles, type Route } from '../http/route.js';
import { streamPieces } from '../http/stream-pieces.js';
import type { ExpiringExclusions } from './expiring.js';
import type { KeepCuts } from './keep.js';
import type { Tuning } from './service.js';

export function tuningRoutes(tuning: Tuning, keep: KeepCuts, exclusions: ExpiringExclusions): Route[] {
  return [
    handles(rankNoise, ({ query }) => tuning.rank(query)),
    handles(listSilentRules, async ({ query, signal }) => ({ silent: await tuning.silent(query, signal) })),
    handles(listExpiring, async () => ({ expiring: await exclusions.all() })),
    handles(renewExpiring, async ({ body }) => {
      await exclusions.renew(body);
      return {};
    }),
    handles(readCoverage, async () => ({
      tactics: (await tuning.coverage()).map(({ tactic, techniques }) => ({
        tactic,
        techniques: techniques.map((one) => ({
          ...one,
          rules: one.rules.map((rule) => ({ ...rule, tags: [...rule.tags] })),
        })),
      })),
    })),
    handles(exportCoverage, async ({ response }) => {
      response
        .attachment('coverage.csv')
        .type('text/csv')
        .send(coverageCsv(await tuning.coverage()));
      return ANSWERED;
    }),
    handles(studyNoise, async ({ params, body, response, signal }) => {
      await streamPieces(tuning.study(params.id, body.window, signal), response, signal);
      return ANSWERED;
    }),
    handles(proveCuts, async ({ params, body, person, response, signal }) => {
      await streamPieces(tuning.prove(params.id, body, person.name, signal), response, signal);
      return ANSWERED;
    }),
    handles(keepCuts, ({ params, body, person, signal }) => keep.keep(params.id, body, person.name, signal)),
  ];
}
