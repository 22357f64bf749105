import SwaggerParser from '@apidevtools/swagger-parser';
import { validate as validateByParser } from '@readme/openapi-parser';
import { Validator } from '@seriousme/openapi-schema-validator';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import type { AnyEndpoint } from '../core/wire/endpoint.js';
import { openApi } from '../server/http/openapi.js';

// Holds the description of the API against three validators of the registry, each of which reads the standard in its own
// way. It prints a line for each, and fails where one of them finds a mistake.

const folder = join(import.meta.dirname, '..', 'core', 'wire', 'endpoints');

async function allEndpoints(): Promise<AnyEndpoint[]> {
  const files = readdirSync(folder).filter((name) => name.endsWith('.ts'));
  const modules = await Promise.all(
    files.map(async (name) => (await import(join(folder, name))) as Record<string, unknown>),
  );
  return modules.flatMap((module) => Object.values(module).filter(isEndpoint));
}

const isEndpoint = (value: unknown): value is AnyEndpoint =>
  typeof value === 'object' && value !== null && 'method' in value && 'path' in value && 'access' in value;

/** Each validator by its name; it gives what is wrong, and nothing where all is well. */
const validators: Readonly<Record<string, (document: never) => Promise<unknown>>> = {
  'openapi-schema-validator': async (document: object) => {
    const { valid, errors } = await new Validator().validate(document as Record<string, unknown>);
    return valid ? null : errors;
  },
  'openapi-parser': async (document: Parameters<typeof validateByParser>[0]) => {
    const found = await validateByParser(document);
    return found.valid ? null : found.errors;
  },
  'swagger-parser': async (document: Parameters<typeof SwaggerParser.validate>[0]) => {
    await SwaggerParser.validate(document);
    return null;
  },
};

const endpoints = await allEndpoints();
const description = JSON.stringify(openApi(endpoints));
for (const [name, validate] of Object.entries(validators)) {
  // Each gets a copy of its own: some of them work in place.
  const wrong = await validate(JSON.parse(description) as never).catch((error: unknown) => String(error));
  console.log(
    wrong === null ? `${name}: right, ${endpoints.length} endpoints` : `${name}: ${JSON.stringify(wrong)}`,
  );
  if (wrong !== null) process.exitCode = 1;
}
