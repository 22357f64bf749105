/** Every query key of the application. */
export const keys = {
  session: ['session'] as const,
  alerts: ['alerts'] as const,
  alertList: (state: string) => ['alerts', 'list', state] as const,
  alert: (id: number) => ['alerts', 'one', id] as const,
  rules: ['rules'] as const,
  rule: (id: string) => ['rules', 'one', id] as const,
  sources: ['sources'] as const,
  setAside: (source: string) => ['sources', 'set-aside', source] as const,
  rereads: (source: string) => ['rereads', source] as const,
  pull: (into: string, name: string) => ['pulls', into, name] as const,
  intakeWays: ['intake-ways'] as const,
  recipes: ['recipes'] as const,
  recipe: (name: string) => ['recipes', 'one', name] as const,
  lists: ['lists'] as const,
  list: (name: string) => ['lists', 'one', name] as const,
  event: (id: string) => ['event', id] as const,
  timeline: (text: string, blanks: Readonly<Record<string, string>>, from: string, to: string) =>
    ['timeline', text, blanks, from, to] as const,
  savedHunts: ['saved-hunts'] as const,
  dossier: (user: string, from: string, to: string, zone: string) =>
    ['dossier', user, from, to, zone] as const,
};
