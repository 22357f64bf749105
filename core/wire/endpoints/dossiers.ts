import { dossierQuery, userDossier } from '../dossiers.js';
import { endpoint } from '../endpoint.js';

const byUser = {
  type: 'object',
  required: ['user'],
  properties: { user: { type: 'string', minLength: 1, maxLength: 1000 } },
} as const;

export const readUserDossier = endpoint('get', '/dossiers/user/:user', {
  access: 'reader',
  summary: 'Everything about one user',
  params: byUser,
  query: dossierQuery,
  answer: userDossier,
});
