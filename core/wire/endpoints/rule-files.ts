import { endpoint } from '../endpoint.js';
import { ruleExample } from '../examples.js';
import { byUuid } from '../params.js';
import { ruleFiles, ruleImport } from '../rule-files.js';

export const importRules = endpoint('post', '/rules/import', {
  access: 'analyst',
  summary: 'Take rule files in; broken documents are refused, the others go on',
  body: ruleFiles,
  answer: ruleImport,
  largeBody: true,
  example: { files: [{ name: 'refusals.yml', text: ruleExample }] },
});

export const importArchive = endpoint('post', '/rules/import-archive', {
  access: 'analyst',
  summary: 'Take the rule files of a ZIP, tar or tar.gz archive in',
  answer: ruleImport,
  rawBody: true,
});

export const exportRules = endpoint('get', '/rules/export', {
  access: 'reader',
  summary: 'All rules as a ZIP archive, character by character as they were kept',
  gives: ['application/zip'],
});

export const exportRule = endpoint('get', '/rules/:id/export', {
  access: 'reader',
  summary: 'One rule as a file, character by character as it was kept',
  params: byUuid,
  gives: ['application/yaml'],
});
