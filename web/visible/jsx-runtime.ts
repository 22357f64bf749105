import { Fragment, type ElementType, type Key, type ReactElement } from 'react';
import * as runtime from 'react/jsx-runtime';
import { isMisleading, visibleText } from '../../core/text/visible.js';

export type { JSX } from 'react';
export { Fragment };

/** What is shown of an element besides its children. */
const SHOWN = ['title', 'aria-label', 'alt', 'placeholder'] as const;

type Props = Record<string, unknown>;
type Make = (type: ElementType, props: Props, key?: Key) => ReactElement;

const shown = (value: unknown): unknown =>
  typeof value === 'string' ? visibleText(value) : Array.isArray(value) ? value.map(shown) : value;

const needs = (value: unknown): boolean =>
  typeof value === 'string' ? isMisleading(value) : Array.isArray(value) && value.some(needs);

/** The props of an element of the page itself with everything that is shown made visible; those of components stay. */
function visible(type: ElementType, props: Props): Props {
  // Components hand their texts on to elements, where they are looked at.
  if (typeof type !== 'string') return props;
  let changed: Props | undefined;
  for (const name of ['children', ...SHOWN])
    if (needs(props[name])) changed = { ...(changed ?? props), [name]: shown(props[name]) };
  return changed ?? props;
}

const { jsx: jsxOf, jsxs: jsxsOf } = runtime as unknown as { jsx: Make; jsxs: Make };

export const jsx: Make = (type, props, key) => jsxOf(type, visible(type, props), key);
export const jsxs: Make = (type, props, key) => jsxsOf(type, visible(type, props), key);
