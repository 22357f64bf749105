import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** A hunt that comes with the demo world. */
export interface DemoHunt {
  readonly name: string;
  readonly folder: string;
  readonly description: string;
  readonly tags: string[];
  readonly text: string;
}

/** A line of the head, such as `-- name: Who fails most`. */
const HEAD = /^-- (name|folder|about|tags): (.*)$/;

/** Reads a hunt with what is told of it in its head. @throws Error for a head that lacks something */
export function readDemoHunt(file: string, content: string): DemoHunt {
  const lines = content.trimEnd().split('\n');
  const head = new Map<string, string>();
  while (HEAD.test(lines[0] ?? '')) {
    const [, key = '', value = ''] = HEAD.exec(lines.shift() ?? '') ?? [];
    head.set(key, value);
  }
  const told = (key: string): string => {
    const value = head.get(key);
    if (value === undefined) throw new Error(`${file} does not say its ${key}.`);
    return value;
  };
  return {
    name: told('name'),
    folder: told('folder'),
    description: told('about'),
    tags: told('tags').split(', '),
    text: lines.join('\n'),
  };
}

/** The hunts of the demo world. */
export const demoHunts = (): DemoHunt[] =>
  readdirSync('demo/hunts')
    .filter((file) => file.endsWith('.wick'))
    .sort()
    .map((file) => readDemoHunt(file, readFileSync(join('demo/hunts', file), 'utf8')));
