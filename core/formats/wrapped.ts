import { MAX_RECORD_LENGTH, type Cutter } from './format.js';

const CUT_SHORT = MAX_RECORD_LENGTH + 1;
const MAX_NAME = 200;
const DEEPEST = 64;

/**
 * Cuts the elements of a list out of JSON documents that wrap it, exactly as they are written. A document that has no such
 * list is given out itself, so that it is set aside and nothing is lost.
 * @param path the names that lead to the list
 */
export function wrappedListCutter(path: readonly string[]): Cutter {
  /** The names of the objects that are open, the innermost last; null for a list. */
  let names: (string | null)[] = [];
  let quoted = false;
  let escaped = false;
  /** The text of the string that is read, where it may be a name. */
  let word = '';
  let isName = false;
  /** The document so far, while its list has not come. */
  let whole = '';
  let found = false;
  /** The element that is read, and how deep its list lies; null outside of the list. */
  let element: string | null = null;
  let listDepth = 0;

  const isAtList = (): boolean => names.length === path.length && path.every((name, i) => names[i] === name);
  const give = (out: string[], text: string): void => {
    const record = text.trim();
    if (record !== '') out.push(record.slice(0, CUT_SHORT));
  };
  const reset = (): void => {
    names = [];
    quoted = escaped = isName = found = false;
    word = whole = '';
    element = null;
  };

  const take = (out: string[], sign: string): void => {
    if (!found && whole.length < CUT_SHORT) whole += sign;
    if (quoted) {
      if (element !== null && element.length < CUT_SHORT) element += sign;
      else if (element === null && isName && word.length < MAX_NAME && (escaped || sign !== '"'))
        word += sign;
      if (escaped) escaped = false;
      else if (sign === '\\') escaped = true;
      else if (sign === '"') quoted = false;
      return;
    }
    if (element !== null) {
      if (names.length === listDepth && (sign === ',' || sign === ']')) {
        give(out, element);
        element = sign === ',' ? '' : null;
        if (sign === ']') names.pop();
        return;
      }
      if (sign === '{' || sign === '[') names.push(null);
      else if (sign === '}' || sign === ']') names.pop();
      else if (sign === '"') quoted = true;
      if (element.length < CUT_SHORT) element += sign;
      return;
    }
    switch (sign) {
      case '"':
        quoted = true;
        isName = true;
        word = '';
        break;
      case ':':
        if (names.length > 0) names[names.length - 1] = word;
        break;
      case ',':
        if (names.length > 0 && names.at(-1) !== null) names[names.length - 1] = '';
        break;
      case '{':
        if (names.length < DEEPEST) names.push('');
        break;
      case '[':
        if (!found && isAtList()) {
          found = true;
          whole = '';
          names.push(null);
          listDepth = names.length;
          element = '';
        } else if (names.length < DEEPEST) names.push(null);
        break;
      case '}':
      case ']':
        names.pop();
        if (names.length === 0) {
          if (!found) give(out, whole);
          reset();
        }
        break;
    }
  };
  return {
    push(piece) {
      const out: string[] = [];
      for (let i = 0; i < piece.length; i++) take(out, piece[i] ?? '');
      return out;
    },
    end() {
      const out: string[] = [];
      // What breaks off is given out as far as it came, to be set aside.
      if (element !== null) give(out, element);
      else if (!found) give(out, whole);
      reset();
      return out;
    },
  };
}
