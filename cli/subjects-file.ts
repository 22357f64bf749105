import { readFileSync } from 'node:fs';
import { parseInstant, type Instant } from '../core/base/instant.js';
import { isJsonObject, type Json } from '../core/base/json.js';
import { isSubjectKind, subjectKinds } from '../core/subjects/kinds.js';
import { indexSubjects, type Joined, type Subject, type SubjectIndex } from '../core/subjects/subject.js';
import { UsageError } from './usage.js';

/**
 * Reads what subjects are also called: `[{"kind","name","also":[{"value","from","to"}]}]`; a name without `from` and
 * `to` is joined always.
 * @throws UsageError that names the entry
 */
export function readSubjectsFile(file: string | undefined): SubjectIndex {
  if (file === undefined) return () => [];
  let document: Json;
  try {
    document = JSON.parse(readFileSync(file, 'utf8')) as Json;
  } catch (error) {
    throw new UsageError(
      `--subjects: ${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
  if (!Array.isArray(document)) throw new UsageError(`--subjects: ${file} must hold a list of subjects.`);
  return indexSubjects(
    document.map((entry: Json, i) => readSubject(entry, `--subjects: ${file}, entry ${i + 1}`)),
  );
}

function readSubject(entry: Json, where: string): Subject {
  const { kind, name, also = [] } = isJsonObject(entry) ? entry : {};
  if (typeof kind !== 'string' || !isSubjectKind(kind))
    throw new UsageError(`${where}: "kind" must be one of ${subjectKinds.join(', ')}.`);
  if (typeof name !== 'string' || name.trim() === '') throw new UsageError(`${where}: "name" is missing.`);
  if (!Array.isArray(also)) throw new UsageError(`${where}: "also" must be a list.`);
  return { kind, name, also: also.map((one: Json) => readJoined(one, where)) };
}

function readJoined(one: Json, where: string): Joined {
  const { value, from = null, to = null } = isJsonObject(one) ? one : {};
  if (typeof value !== 'string' || value === '')
    throw new UsageError(`${where}: each of "also" needs a "value".`);
  const moment = (name: string, text: Json): Instant | null => {
    if (text === null) return null;
    const time = typeof text === 'string' ? parseInstant(text) : null;
    if (time === null)
      throw new UsageError(`${where}: "${name}" must be a time such as 2026-11-14T06:00:00Z.`);
    return time;
  };
  return { value, from: moment('from', from), to: moment('to', to) };
}
