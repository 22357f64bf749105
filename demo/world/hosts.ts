const numbered = (name: string, count: number): string[] =>
  Array.from({ length: count }, (_, i) => `${name}-${String(i + 1).padStart(2, '0')}`);

/** Linux servers that log sign-ins and sudo. */
export const gates = numbered('gate', 6);
export const fileServer = 'hold-fs-01';
export const linuxServers = [fileServer, ...gates];

/** Last byte of each server's address in 10.30.0.0/24. */
const serverAddress = (host: string): string => `10.30.0.${10 + linuxServers.indexOf(host)}`;
