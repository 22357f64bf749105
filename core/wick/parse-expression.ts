import { parseDuration } from '../base/instant.js';
import { spanFromTo, type Span } from '../base/span.js';
import { reservedWords, type Cursor } from './cursor.js';
import { nearestWord } from '../base/text-distance.js';
import { isSubjectKind, subjectKinds } from '../subjects/kinds.js';
import { HuntError } from './hunt-error.js';
import {
  isConditionNode,
  type ArithmeticOperator,
  type CallMode,
  type CompareOperator,
  type NamePart,
  type Node,
} from './syntax.js';

// Expressions by falling precedence: unary minus; * / %; + -; comparisons (no chaining); not; and; or.

/** Deeper nesting is refused: the text may come from outside, and the readers of plans recurse. */
const DEEPEST = 100;

const COMPARE_OPERATORS: ReadonlySet<string> = new Set(['=', '!=', '<', '<=', '>', '>=']);
const COMPARE_WORDS: ReadonlySet<string> = new Set([
  'between',
  'in',
  'like',
  'matches',
  'within',
  'is',
  'not',
]);

/** Reads an expression or condition of any precedence. */
export function parseNode(cursor: Cursor, depth = 0): Node {
  if (depth > DEEPEST)
    throw new HuntError(
      'too-large',
      cursor.peek().span,
      'This is nested too deeply: take it apart with "set" or several "where" steps.',
    );
  return parseJoined(cursor, 'or', depth);
}

/** Reads a condition; a bare value is refused with what to write instead. */
export function parseCondition(cursor: Cursor): Node {
  const node = parseNode(cursor);
  requireCondition(node, cursor);
  return node;
}

/** Reads a value; a condition is refused with what to write instead. */
export function parseValue(cursor: Cursor): Node {
  const node = parseNode(cursor);
  requireValue(node);
  return node;
}

function requireCondition(node: Node, cursor?: Cursor): void {
  if (isConditionNode(node)) return;
  const ahead = cursor?.peek();
  if (
    ahead !== undefined &&
    ahead.kind !== 'end' &&
    !(ahead.kind === 'symbol' && (ahead.text === ')' || ahead.text === ','))
  ) {
    throw cursor!.unexpected('Expected a comparison such as = or like');
  }
  throw new HuntError(
    'wrong-type',
    node.span,
    `A condition is needed here, ${describeValue(node)} is a value: compare it, for example with "= true" or "is not null".`,
  );
}

function requireValue(node: Node): void {
  if (!isConditionNode(node)) return;
  throw new HuntError(
    'wrong-type',
    node.span,
    'A value is needed here, and this is a condition: use if(condition, value, other value).',
  );
}

const describeValue = (node: Node): string =>
  node.node === 'name' ? `"${node.parts.map((part) => part.text).join('.')}"` : 'this';

function parseJoined(cursor: Cursor, word: 'or' | 'and', depth: number): Node {
  const inner = () => (word === 'or' ? parseJoined(cursor, 'and', depth) : parseNot(cursor, depth));
  const first = inner();
  if (!cursor.seesWord(word)) return first;
  requireCondition(first);
  const parts = [first];
  while (cursor.takeWord(word)) {
    const part = inner();
    requireCondition(part);
    parts.push(part);
  }
  return { node: word, parts, span: spanFromTo(first.span, parts[parts.length - 1]?.span ?? first.span) };
}

function parseNot(cursor: Cursor, depth: number): Node {
  if (!cursor.seesWord('not')) return parseComparison(cursor, depth);
  const { span } = cursor.next();
  if (depth > DEEPEST) throw new HuntError('too-large', span, 'This is nested too deeply.');
  const part = parseNot(cursor, depth + 1);
  requireCondition(part);
  return { node: 'not', part, span: spanFromTo(span, part.span) };
}

function seesComparison(cursor: Cursor): boolean {
  const token = cursor.peek();
  if (token.kind === 'symbol') return COMPARE_OPERATORS.has(token.text);
  return token.kind === 'word' && COMPARE_WORDS.has(token.text.toLowerCase());
}

/** `about KIND 'NAME'`; null where "about" is a name like any other. */
function parseAbout(cursor: Cursor, depth: number): Node | null {
  if (!cursor.seesWord('about')) return null;
  const back = cursor.scanner.mark();
  const { span } = cursor.next();
  const kind = cursor.next();
  const { kind: after } = cursor.peek();
  if (kind.kind !== 'word' || (after !== 'text' && after !== 'parameter')) {
    back();
    return null;
  }
  const word = kind.text.toLowerCase();
  if (!isSubjectKind(word)) {
    const nearest = nearestWord(word, [...subjectKinds]);
    throw new HuntError(
      'unexpected',
      kind.span,
      `"${kind.text}" is no kind of subject: ${subjectKinds.join(', ')}.${nearest === undefined ? '' : ` Did you mean "${nearest}"?`}`,
      nearest,
    );
  }
  const name = parseSum(cursor, depth);
  return { node: 'about', kind: word, name, span: spanFromTo(span, name.span) };
}

function parseComparison(cursor: Cursor, depth: number): Node {
  if (cursor.seesWord('has')) {
    const { span } = cursor.next();
    const pattern = parseSum(cursor, depth);
    return { node: 'has', pattern, span: spanFromTo(span, pattern.span) };
  }
  const about = parseAbout(cursor, depth);
  if (about !== null) return about;
  const left = parseSum(cursor, depth);
  if (!seesComparison(cursor)) return left;
  requireValue(left);
  const node = parseAfterValue(cursor, left, depth);
  if (seesComparison(cursor)) {
    throw new HuntError(
      'unexpected',
      cursor.peek().span,
      `"${cursor.peek().text}" cannot follow a comparison: join comparisons with "and".`,
    );
  }
  return node;
}

function parseAfterValue(cursor: Cursor, value: Node, depth: number): Node {
  const operand = (): Node => {
    const node = parseSum(cursor, depth);
    requireValue(node);
    return node;
  };
  const token = cursor.next();
  if (token.kind === 'symbol') {
    const right = operand();
    return {
      node: 'compare',
      sign: token.text as CompareOperator,
      left: value,
      right,
      span: spanFromTo(value.span, right.span),
    };
  }
  let word = token.text.toLowerCase();
  if (word === 'is') {
    const not = cursor.takeWord('not');
    const end = cursor.expectWord('null', 'after "is"');
    return { node: 'is-null', value, not, span: spanFromTo(value.span, end) };
  }
  const not = word === 'not';
  if (not) {
    const after = cursor.peek();
    word = after.kind === 'word' ? after.text.toLowerCase() : '';
    if (!COMPARE_WORDS.has(word) || word === 'is' || word === 'not')
      throw cursor.unexpected('Expected "in", "like", "between", "matches" or "within" after "not"');
    cursor.next();
  }
  switch (word) {
    case 'between': {
      const low = operand();
      cursor.expectWord('and', 'between the two ends');
      const high = operand();
      return { node: 'between', value, low, high, not, span: spanFromTo(value.span, high.span) };
    }
    case 'in':
      return parseIn(cursor, value, not, depth);
    default: {
      const pattern = operand();
      return {
        node: 'pattern',
        how: word as 'like' | 'matches' | 'within',
        value,
        pattern,
        not,
        span: spanFromTo(value.span, pattern.span),
      };
    }
  }
}

function parseIn(cursor: Cursor, value: Node, not: boolean, depth: number): Node {
  if (cursor.takeWord('list')) {
    const list = cursor.scanner.takeBareName();
    if (list === undefined) throw cursor.unexpected('Expected the name of a list');
    return { node: 'in-list', value, list, not, span: spanFromTo(value.span, list.span) };
  }
  cursor.expectSymbol('(', 'or "list NAME" after "in"');
  const options: Node[] = [];
  do {
    const option = parseSum(cursor, depth);
    requireValue(option);
    options.push(option);
  } while (cursor.takeSymbol(','));
  const end = cursor.expectSymbol(')', 'after the values');
  return { node: 'in', value, options, not, span: spanFromTo(value.span, end) };
}

function parseSum(cursor: Cursor, depth: number): Node {
  return parseArithmetic(cursor, ['+', '-'], () =>
    parseArithmetic(cursor, ['*', '/', '%'], () => parseUnary(cursor, depth)),
  );
}

function parseArithmetic(cursor: Cursor, signs: readonly ArithmeticOperator[], inner: () => Node): Node {
  let left = inner();
  for (;;) {
    const sign = signs.find((candidate) => cursor.seesSymbol(candidate));
    if (sign === undefined) return left;
    cursor.next();
    requireValue(left);
    const right = inner();
    requireValue(right);
    left = { node: 'arithmetic', sign, left, right, span: spanFromTo(left.span, right.span) };
  }
}

function parseUnary(cursor: Cursor, depth: number): Node {
  if (!cursor.seesSymbol('-')) return parsePrimary(cursor, depth);
  const { span } = cursor.next();
  if (depth > DEEPEST) throw new HuntError('too-large', span, 'This is nested too deeply.');
  const value = parseUnary(cursor, depth + 1);
  requireValue(value);
  const whole = spanFromTo(span, value.span);
  return value.node === 'number'
    ? { node: 'number', value: -value.value, span: whole }
    : { node: 'negate', value, span: whole };
}

function parsePrimary(cursor: Cursor, depth: number): Node {
  const token = cursor.peek();
  switch (token.kind) {
    case 'text':
      cursor.next();
      return { node: 'text', value: token.text, span: token.span };
    case 'number':
      cursor.next();
      return { node: 'number', value: Number(token.text), span: token.span };
    case 'duration':
      cursor.next();
      return { node: 'duration', value: parseDuration(token.text) ?? 0, span: token.span };
    case 'parameter':
      cursor.next();
      return { node: 'parameter', name: token.text, span: token.span };
    case 'name':
      return parseName(cursor);
    case 'symbol': {
      if (token.text !== '(') throw cursor.unexpected('Expected a value');
      cursor.next();
      const inner = parseNode(cursor, depth + 1);
      cursor.expectSymbol(')', 'to close the parenthesis');
      return inner;
    }
    case 'word':
      return parseWord(cursor, token.text, token.span, depth);
    case 'end':
      throw cursor.unexpected('Expected a value');
  }
}

function parseWord(cursor: Cursor, text: string, span: Span, depth: number): Node {
  const word = text.toLowerCase();
  if (word === 'true' || word === 'false') {
    cursor.next();
    return { node: 'truth', value: word === 'true', span };
  }
  if (word === 'null') {
    cursor.next();
    return { node: 'null', span };
  }
  if (reservedWords.has(word)) throw cursor.unexpected('Expected a value');
  const back = cursor.scanner.mark();
  cursor.next();
  if (cursor.seesSymbol('(')) return parseCall(cursor, text, span, depth);
  if (word === 'now') return { node: 'now', span };
  back();
  return parseName(cursor);
}

function parseCall(cursor: Cursor, name: string, span: Span, depth: number): Node {
  cursor.expectSymbol('(', `after "${name}"`);
  const args: Node[] = [];
  let mode: CallMode = 'plain';
  if (name.toLowerCase() === 'count' && cursor.seesWord('where')) {
    cursor.next();
    mode = 'where';
    const condition = parseNode(cursor, depth + 1);
    requireCondition(condition, cursor);
    args.push(condition);
  } else {
    const back = cursor.scanner.mark();
    if (cursor.takeWord('distinct')) {
      // `distinct` may also be a column; it is the word only when a value follows.
      if (cursor.seesSymbol(')') || cursor.seesSymbol(',')) back();
      else mode = 'distinct';
    }
    if (!cursor.seesSymbol(')')) {
      do args.push(parseNode(cursor, depth + 1));
      while (cursor.takeSymbol(','));
    }
  }
  const end = cursor.expectSymbol(')', `to close "${name}("`);
  return { node: 'call', name, mode, args, span: spanFromTo(span, end) };
}

/** Reads a name with its dotted parts, such as `user`, `original."Some Field".0` or `fares.owner`. */
export function parseName(cursor: Cursor): Node & { node: 'name' } {
  const first = cursor.peek();
  if (first.kind !== 'word' && first.kind !== 'name') throw cursor.unexpected('Expected a name');
  if (first.kind === 'word' && reservedWords.has(first.text.toLowerCase()))
    throw cursor.unexpected('Expected a name');
  cursor.next();
  const parts: NamePart[] = [{ text: first.text, span: first.span, quoted: first.kind === 'name' }];
  while (cursor.scanner.aheadTouchesLast() && cursor.seesSymbol('.')) {
    cursor.next();
    const part = cursor.scanner.takePathPart();
    if (part === undefined) throw cursor.unexpected('Expected a name directly after the dot');
    parts.push(part);
  }
  const last = parts[parts.length - 1]?.span ?? first.span;
  return { node: 'name', parts, span: spanFromTo(first.span, last) };
}
