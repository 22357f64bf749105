/**
 * Marks a branch that the types rule out. A union member that is not handled fails to compile at the
 * call; if one arrives anyway (data from outside), the error names it.
 * @throws Error always
 */
export function unreachable(value: never): never {
  throw new Error(`Unhandled case: ${JSON.stringify(value)}`);
}
