import {
  dossier,
  dossierQuery,
  findQuery,
  found,
  identity,
  joinRequest,
  namesFound,
  namesRequest,
  otherQuery,
  subjectParams,
} from '../dossiers.js';
import { endpoint } from '../endpoint.js';

export const readDossier = endpoint('get', '/dossiers/:kind/:name', {
  access: 'reader',
  summary: 'Everything about one subject: names, what is new, what is usual, and its board',
  params: subjectParams,
  query: dossierQuery,
  answer: dossier,
});

export const joinNames = endpoint('post', '/dossiers/:kind/:name/names', {
  access: 'analyst',
  summary: 'Joins two names of one subject, or splits them, with a reason',
  params: subjectParams,
  body: joinRequest,
  answer: identity,
  example: { other: 'u-1002', joined: true, reason: 'the same badge' },
});

export const unjoinNames = endpoint('delete', '/dossiers/:kind/:name/names', {
  access: 'analyst',
  summary: 'Takes back what a person said of two names',
  params: subjectParams,
  query: otherQuery,
  answer: identity,
});

export const namesOfIds = endpoint('post', '/names', {
  access: 'reader',
  summary: 'The names that ids belong to, by lists and by events that carry both',
  body: namesRequest,
  answer: namesFound,
  example: { kind: 'user', ids: ['u-1002'] },
});

export const findAnything = endpoint('get', '/find', {
  access: 'reader',
  summary: 'Finds subjects, hunts, boards, rules, lists, sources, cases, alerts and places by a word',
  query: findQuery,
  answer: found,
});
