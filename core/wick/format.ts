import { aggregateNames } from './aggregates.js';
import { reservedWords } from './cursor.js';
import { functionNames } from './functions.js';
import { stepNames } from './steps/index.js';

// Layout only: a formatted hunt says what it said before. Works line by line, so that a hunt with a mistake can be
// put in order too.

const WORDS: ReadonlySet<string> = new Set([...reservedWords, 'null', 'true', 'false', 'list']);
const CALLS: ReadonlySet<string> = new Set<string>([...functionNames, ...aggregateNames]);
const STEPS: ReadonlySet<string> = new Set<string>(['ask', ...stepNames]);

/** Quoted text, comment, number with its unit, name with its dots, sign. */
const PIECE =
  /'(?:[^']|'')*'?|--.*$|\d[\p{L}\p{N}_]*(?:\.\d+)?|\$?[\p{L}_][\p{L}\p{N}_]*(?:\.(?:[\p{L}\p{N}_]+|"(?:[^"]|"")*"?))*|"(?:[^"]|"")*"?(?:\.(?:[\p{L}\p{N}_]+|"(?:[^"]|"")*"?))*|!=|<=|>=|[^\s]/gu;

function piecesOf(line: string): string[] {
  return line.match(PIECE) ?? [];
}

/** True where nothing stands between two pieces. */
function touches(before: string, piece: string, opened: string | undefined): boolean {
  if (piece === ',' || piece === ')' || piece === ':' || before === '(' || before === '$') return true;
  if (piece !== '(') return isUnaryMinus(before, opened);
  return CALLS.has(before.toLowerCase());
}

/** A minus after an operator or at the beginning belongs to what follows it. */
const isUnaryMinus = (before: string, beforeThat: string | undefined): boolean =>
  before === '-' &&
  (beforeThat === undefined ||
    /^(?:[=<>+\-*/%(,]|!=|<=|>=)$/.test(beforeThat) ||
    WORDS.has(beforeThat.toLowerCase()));

function formatLine(line: string, startsStep: boolean): string {
  let written = '';
  let before: string | undefined;
  let beforeThat: string | undefined;
  for (const [i, piece] of piecesOf(line).entries()) {
    const lower = piece.toLowerCase();
    const isWord = WORDS.has(lower) || (startsStep && i === 0 && STEPS.has(lower));
    const spelled = isWord ? lower : piece.startsWith('--') ? piece.trimEnd() : piece;
    if (before !== undefined && !touches(before, piece, beforeThat)) written += ' ';
    written += spelled;
    beforeThat = before;
    before = piece;
  }
  return written;
}

/** How many parentheses a line leaves open; quotes and comments do not count. */
const opens = (line: string): number =>
  piecesOf(line).reduce((open, piece) => open + (piece === '(' ? 1 : piece === ')' ? -1 : 0), 0);

/**
 * A hunt put in order: one space between words, steps at the edge, what goes on indented by two characters for each
 * parenthesis and itself, language words in small letters. Meaning, comments and line breaks stay.
 */
export function formatHunt(text: string): string {
  let open = 0;
  let seenStep = false;
  const lines = text.split('\n').map((line) => {
    const trimmed = line.trim();
    if (trimmed === '') return '';
    const atEdge = !/^\s/.test(line);
    const closes = trimmed.startsWith(')');
    const startsStep = atEdge && !closes && !trimmed.startsWith('--');
    if (startsStep) {
      open = 0;
      seenStep = true;
    }
    const indent = atEdge && !closes ? 0 : closes ? Math.max(0, open - 1) * 2 : Math.max(1, open) * 2;
    const formatted = formatLine(trimmed, startsStep || open > 0);
    open = Math.max(0, open + opens(trimmed));
    // A comment above the first step stands at the edge: there, nothing may be indented.
    return seenStep ? ' '.repeat(indent) + formatted : formatted;
  });
  return lines.join('\n').trimEnd();
}
