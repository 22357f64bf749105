import { DateTime } from 'luxon';
import type { Question } from '../../../../core/wire/paths.js';

const LONGEST = 80;
const cut = (text: string): string => (text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text);

const linesOf = ({ text }: Question): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');

const windowWords = ({ window, last }: Question, zone: string): string => {
  if (last !== undefined) return `last ${last}`;
  const from = DateTime.fromISO(window.from, { zone });
  const to = DateTime.fromISO(window.to, { zone });
  return `${from.toFormat('d LLL HH:mm')} – ${to.toFormat(from.hasSame(to, 'day') ? 'HH:mm' : 'd LLL HH:mm')}`;
};

/** What a run asked otherwise than the one before it, in few words; the last step where nothing came before. */
export function turnWords(question: Question, before: Question | null, zone: string): string {
  const lines = linesOf(question);
  if (before === null) return cut(lines.at(-1) ?? '');
  const earlier = linesOf(before);
  const added = lines.filter((line) => !earlier.includes(line));
  const gone = earlier.filter((line) => !lines.includes(line));
  const windowNow = windowWords(question, zone);
  const said = [
    ...(windowNow === windowWords(before, zone) ? [] : [`Beam: ${windowNow}`]),
    ...added.map((line) => `+ ${line}`),
    ...gone.map((line) => `− ${line}`),
    ...Object.entries(question.parameters ?? {})
      .filter(([name, value]) => before.parameters?.[name] !== value)
      .map(([name, value]) => `${name}: ${value}`),
    ...(question.carried ?? [])
      .filter((one) => before.carried?.includes(one) !== true)
      .map((one) => `carries ${one}`),
    ...(before.carried ?? [])
      .filter((one) => question.carried?.includes(one) !== true)
      .map((one) => `lets go of ${one}`),
  ];
  if (said.length === 0) return lines.join() === earlier.join() ? 'asked again' : 'steps in another order';
  return cut(said.join(' · '));
}
