/** The places of the top bar, and the key that goes there after G. */
export const places = [
  { path: '/hunt', name: 'Hunt', key: 'h' },
  { path: '/alerts', name: 'Alerts', key: 'a' },
  { path: '/cases', name: 'Cases', key: 'c' },
  { path: '/rules', name: 'Rules', key: 'r' },
  { path: '/lists', name: 'Lists', key: 'l' },
  { path: '/sources', name: 'Sources', key: 's' },
] as const;
