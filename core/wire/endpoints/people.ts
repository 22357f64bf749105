import { nothing } from '../common.js';
import { endpoint } from '../endpoint.js';
import {
  madeToken,
  newPassword,
  newPerson,
  newToken,
  person,
  personChange,
  personList,
  signIn,
  tokenList,
} from '../people.js';

const byTokenId = {
  type: 'object',
  required: ['id'],
  properties: {
    id: { type: 'string', pattern: '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$' },
  },
} as const;

const byName = {
  type: 'object',
  required: ['name'],
  properties: { name: { type: 'string', maxLength: 200 } },
} as const;

export const signInPerson = endpoint('post', '/session', {
  access: 'anyone',
  summary: 'Sign in',
  body: signIn,
  answer: person,
  example: { name: 'joris.penhale', password: 'a long password' },
});

export const readSession = endpoint('get', '/session', {
  access: 'reader',
  summary: 'Who is signed in',
  answer: person,
});

export const signOut = endpoint('delete', '/session', {
  access: 'reader',
  summary: 'Sign out',
  answer: nothing,
});

export const changePassword = endpoint('put', '/session/password', {
  access: 'reader',
  summary: 'Change the own password; other sessions and all tokens end',
  body: newPassword,
  answer: nothing,
  example: { present: 'a long password', next: 'another long password' },
});

export const listTokens = endpoint('get', '/tokens', {
  access: 'reader',
  summary: 'The own personal tokens that still hold',
  answer: tokenList,
});

export const makeToken = endpoint('post', '/tokens', {
  access: 'reader',
  summary: 'Make a personal token for the API; a token cannot make tokens',
  body: newToken,
  answer: madeToken,
  example: { label: 'nightly export', days: 30 },
});

export const revokeToken = endpoint('delete', '/tokens/:id', {
  access: 'reader',
  summary: 'Revoke a personal token of your own',
  params: byTokenId,
  answer: nothing,
});

export const listPeople = endpoint('get', '/people', {
  access: 'admin',
  summary: 'Everybody who may use the workbench',
  answer: personList,
});

export const addPerson = endpoint('post', '/people', {
  access: 'admin',
  summary: 'Add a person',
  body: newPerson,
  answer: nothing,
  example: { name: 'runa.keel', displayName: 'Runa Keel', role: 'reader', password: 'a long password' },
});

export const changePerson = endpoint('patch', '/people/:name', {
  access: 'admin',
  summary: 'Give a person another name, role or password, or disable them; sessions and tokens end at once',
  params: byName,
  body: personChange,
  answer: nothing,
  example: { role: 'analyst' },
});
