import { jsx } from './jsx-runtime.js';

export { Fragment, type JSX } from './jsx-runtime.js';

/** The runtime that builds for development ask for. */
export const jsxDEV = jsx;
