/** The places of the top bar, the key that goes there after G, and what else belongs to one. */
export const places = [
  { path: '/desk', name: 'Desk', key: 'd' },
  { path: '/hunt', name: 'Hunt', key: 'h' },
  { path: '/alerts', name: 'Alerts', key: 'a' },
  { path: '/cases', name: 'Cases', key: 'c' },
  { path: '/rules', name: 'Rules', key: 'r', also: ['/tuning', '/coverage', '/runbooks'] },
  { path: '/dashboards', name: 'Dashboards', key: 'b' },
  { path: '/lists', name: 'Lists', key: 'l' },
  { path: '/sources', name: 'Sources', key: 's' },
] as const;
