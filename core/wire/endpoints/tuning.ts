import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import { expiringList, renewal } from '../expiring.js';
import { byUuid } from '../params.js';
import { rule } from '../rules.js';
import { coverage, noiseRanking, silentRules, studyPiece, studyRequest, tuningQuery } from '../tuning.js';
import { keepRequest, proofPiece, proofRequest } from '../tuning-proof.js';

const example = { window: { from: '2026-10-15T00:00:00Z', to: '2026-11-14T00:00:00Z' } };

export const rankNoise = endpoint('get', '/tuning', {
  access: 'reader',
  summary: 'Rules and subjects by the noise they make',
  query: tuningQuery,
  answer: noiseRanking,
});

export const listSilentRules = endpoint('get', '/tuning/silent', {
  access: 'reader',
  summary: 'Rules that are on and matched nothing, each with the reason and the nearest miss',
  query: tuningQuery,
  answer: silentRules,
});

export const listExpiring = endpoint('get', '/tuning/expiring', {
  access: 'reader',
  summary: 'Values that rules leave out for a time, which runs out within a week or has within a month',
  answer: expiringList,
});

export const renewExpiring = endpoint('post', '/tuning/expiring', {
  access: 'analyst',
  summary: 'Let such a value be left out until another moment, or let it go',
  body: renewal,
  answer: nothing,
  example: { list: 'left-out', value: 'lb-check', until: '2027-02-14T00:00:00Z' },
});

export const readCoverage = endpoint('get', '/coverage', {
  access: 'reader',
  summary: 'Techniques by tactic, each with the rules that look for it, and what they are blind for',
  answer: coverage,
});

export const exportCoverage = endpoint('get', '/coverage.csv', {
  access: 'reader',
  summary: 'Coverage as CSV, a line for each rule of each technique',
  gives: ['text/csv'],
});

export const studyNoise = endpoint('post', '/tuning/:id/study', {
  access: 'reader',
  summary:
    'Where the noise of a rule comes from, what it rests on, and cuts with proof, line by line as it goes on',
  params: byUuid,
  body: studyRequest,
  piece: studyPiece,
  gives: ['application/x-ndjson'],
  example,
});

export const proveCuts = endpoint('post', '/tuning/:id/proof', {
  access: 'reader',
  summary: 'Replays a changed rule beside the present one: what is removed, kept, new and lost',
  params: byUuid,
  body: proofRequest,
  piece: proofPiece,
  gives: ['application/x-ndjson'],
  example: { ...example, cuts: [{ all: [{ field: 'user', op: 'equals', value: 'lb-check' }] }] },
});

export const keepCuts = endpoint('post', '/tuning/:id/keep', {
  access: 'analyst',
  summary: 'Keeps a proved change of a rule as a version with its reason and proof, and switches it on',
  params: byUuid,
  body: keepRequest,
  answer: rule,
  example: {
    ...example,
    version: 1,
    cuts: [{ all: [{ field: 'user', op: 'equals', value: 'lb-check' }] }],
    why: 'the check of the load balancer',
  },
});
