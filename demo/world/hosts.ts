const numbered = (name: string, count: number): string[] =>
  Array.from({ length: count }, (_, i) => `${name}-${String(i + 1).padStart(2, '0')}`);

/** Linux servers that log sign-ins and sudo. */
export const gates = numbered('gate', 6);
export const fileServer = 'hold-fs-01';
export const linuxServers = [fileServer, ...gates];
