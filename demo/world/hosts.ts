const numbered = (name: string, count: number): string[] =>
  Array.from({ length: count }, (_, i) => `${name}-${String(i + 1).padStart(2, '0')}`);

/** Linux servers that log sign-ins and sudo. */
export const gates = numbered('gate', 6);
export const fileServer = 'hold-fs-01';
export const linuxServers = [fileServer, ...gates];

/** Machines that write event records: ticket desks, directory servers, the bridges of the ships. */
export const desks = numbered('quay-tk', 12);
export const directoryServers = numbered('mast-dc', 2);
export const bridges = numbered('bridge', 9);
export const scanner = 'scan-02';

/** Inside addresses by host; the last byte is its place in the server room or at the quay. */
export const addressOf = (host: string): string => {
  const desk = desks.indexOf(host);
  if (desk >= 0) return `10.20.4.${201 + desk}`;
  const bridge = bridges.indexOf(host);
  if (bridge >= 0) return `10.40.0.${11 + bridge}`;
  const servers = [fileServer, ...gates, ...directoryServers, scanner];
  return `10.30.0.${10 + servers.indexOf(host)}`;
};
