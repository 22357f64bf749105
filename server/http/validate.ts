import { Ajv, type ErrorObject, type ValidateFunction } from 'ajv';
import addFormats from 'ajv-formats';
import type { JSONSchema } from 'json-schema-to-ts';
import { nearestWord } from '../../core/base/text-distance.js';
import { invalid } from '../failure.js';

const ajv = new Ajv({
  allErrors: false,
  useDefaults: true,
  coerceTypes: false,
  strict: true,
  allowUnionTypes: true,
});
// Words in a query are text; numbers among them are read as such.
const queryAjv = new Ajv({ useDefaults: true, coerceTypes: true, strict: true, allowUnionTypes: true });
addFormats.default(ajv);
addFormats.default(queryAjv);

const compiled = new WeakMap<object, ValidateFunction>();

function validatorFor(schema: JSONSchema, query: boolean): ValidateFunction {
  const key = schema as object;
  let validate = compiled.get(key);
  if (validate === undefined) {
    validate = (query ? queryAjv : ajv).compile(key);
    compiled.set(key, validate);
  }
  return validate;
}

/** The first mistake in words: where it is, and what is wanted. */
export function describeError(error: ErrorObject | undefined, what: string): string {
  if (error === undefined) return `The ${what} is not as it should be.`;
  const where =
    error.instancePath === ''
      ? `The ${what}`
      : `"${error.instancePath.slice(1).replaceAll('/', '.')}" in the ${what}`;
  switch (error.keyword) {
    case 'required':
      return `${where} lacks "${String(error.params['missingProperty'])}".`;
    case 'additionalProperties':
      return `${where} has "${String(error.params['additionalProperty'])}", which is not known.`;
    case 'enum':
      if (error.propertyName !== undefined) {
        const known = (error.params['allowedValues'] as unknown[]).map(String);
        return `${where} has a name that is not known: "${error.propertyName}". Did you mean "${nearestWord(error.propertyName, known)}"?`;
      }
      return `${where} must be one of: ${(error.params['allowedValues'] as unknown[]).map(String).join(', ')}.`;
    case 'propertyNames':
      return `${where} has a name that is not known: "${String(error.params['propertyName'])}".`;
    default:
      return `${where} ${error.message ?? 'is not as it should be'}.`;
  }
}

/**
 * Checks a value against its schema and fills in defaults.
 * @throws Failure 400 with the first mistake
 */
export function check<T>(schema: JSONSchema, value: unknown, what: string): T {
  const validate = validatorFor(schema, what === 'query');
  if (!validate(value)) throw invalid(describeError(validate.errors?.[0], what));
  return value as T;
}

/** The mistake in a value, or null; for documents that are not requests. */
export function mistakeIn(schema: JSONSchema, value: unknown, what: string): string | null {
  const validate = validatorFor(schema, false);
  return validate(value) ? null : describeError(validate.errors?.[0], what);
}
