import type { SubjectKind } from '../subjects/kinds.js';
import type { Span } from '../base/span.js';

/** One part of a dotted name, as written; quoted parts are exact keys. */
export interface NamePart {
  readonly text: string;
  readonly span: Span;
  readonly quoted: boolean;
}

export type CompareOperator = '=' | '!=' | '<' | '<=' | '>' | '>=';
export type ArithmeticOperator = '+' | '-' | '*' | '/' | '%';

/** A written expression or condition, before names and types are known. */
export type Node =
  | { readonly node: 'text'; readonly value: string; readonly span: Span }
  | { readonly node: 'number'; readonly value: number; readonly span: Span }
  | { readonly node: 'duration'; readonly value: number; readonly span: Span }
  | { readonly node: 'truth'; readonly value: boolean; readonly span: Span }
  | { readonly node: 'null'; readonly span: Span }
  | { readonly node: 'now'; readonly span: Span }
  | { readonly node: 'parameter'; readonly name: string; readonly span: Span }
  | { readonly node: 'name'; readonly parts: readonly NamePart[]; readonly span: Span }
  | {
      readonly node: 'call';
      readonly name: string;
      readonly mode: CallMode;
      readonly args: readonly Node[];
      readonly span: Span;
    }
  | { readonly node: 'negate'; readonly value: Node; readonly span: Span }
  | {
      readonly node: 'arithmetic';
      readonly sign: ArithmeticOperator;
      readonly left: Node;
      readonly right: Node;
      readonly span: Span;
    }
  | {
      readonly node: 'compare';
      readonly sign: CompareOperator;
      readonly left: Node;
      readonly right: Node;
      readonly span: Span;
    }
  | {
      readonly node: 'between';
      readonly value: Node;
      readonly low: Node;
      readonly high: Node;
      readonly not: boolean;
      readonly span: Span;
    }
  | {
      readonly node: 'in';
      readonly value: Node;
      readonly options: readonly Node[];
      readonly not: boolean;
      readonly span: Span;
    }
  | {
      readonly node: 'in-list';
      readonly value: Node;
      readonly list: { text: string; span: Span };
      readonly not: boolean;
      readonly span: Span;
    }
  | {
      readonly node: 'pattern';
      readonly how: 'like' | 'matches' | 'within';
      readonly value: Node;
      readonly pattern: Node;
      readonly not: boolean;
      readonly span: Span;
    }
  | { readonly node: 'is-null'; readonly value: Node; readonly not: boolean; readonly span: Span }
  | { readonly node: 'has'; readonly pattern: Node; readonly span: Span }
  | { readonly node: 'about'; readonly kind: SubjectKind; readonly name: Node; readonly span: Span }
  | { readonly node: 'not'; readonly part: Node; readonly span: Span }
  | { readonly node: 'and' | 'or'; readonly parts: readonly Node[]; readonly span: Span };

/** `count(distinct x)` and `count(where cond)` are calls of a mode of their own. */
export type CallMode = 'plain' | 'distinct' | 'where';

/** True for a written form that is true or false rather than a value. */
export function isConditionNode(node: Node): boolean {
  switch (node.node) {
    case 'compare':
    case 'between':
    case 'in':
    case 'in-list':
    case 'pattern':
    case 'is-null':
    case 'has':
    case 'about':
    case 'not':
    case 'and':
    case 'or':
      return true;
    default:
      return false;
  }
}
