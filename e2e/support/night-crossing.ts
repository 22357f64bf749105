import type { CaseDetail } from '../../core/wire/cases.js';
import type { AlertList } from '../../core/wire/alerts.js';
import type { ApiCall } from './api.js';

/** Alerts of the story by the beginnings of their titles, with whether they are what matters most. */
const PINNED: readonly (readonly [title: string, key: boolean, why: string])[] = [
  ['Second factor given after refusals', true, 'seven refusals, then yes'],
  ['Two sign-ins nobody can travel', false, '4,000 km in twenty minutes'],
  ['Acting as another from outside', false, 'an old support role of his'],
  ['Large export of records', true, '184,000, where 200 are usual'],
  ['Access key changed', true, 'once among sixty reads'],
  ['Owner role granted', false, 'to a name with a zero'],
  ['Storage read after denials', false, ''],
  ['Administrator rights, then a script', false, ''],
  ['Desk taken over', true, 'log cleared at the end'],
  ['Data leaves by the port of names', true, 'ten minutes, two hundred times the usual'],
  ['Database deleted', true, 'its network first, once refused'],
];
const ROLES = [
  ['user', 'teo.marrash', 'victim'],
  ['user', 'ottilie.brandt', 'victim'],
  ['user', 'adm-penhale', 'used'],
  ['host', 'quay-tk-07', 'used'],
  ['address', '198.18.40.77', 'attacker'],
  ['address', '203.0.113.77', 'attacker'],
  ['user', '0ttilie.brandt', 'attacker'],
  ['account', 'ticketing-prod', 'affected'],
] as const;
const TASKS = [
  ['Renew two passwords', 'ottilie.brandt', '2026-11-30T12:00:00Z'],
  ['Switch key-2 of svc-fares off', 'joris.penhale', '2026-11-30T18:00:00Z'],
  ['Rebuild quay-tk-07', 'joris.penhale', '2026-12-02T12:00:00Z'],
  ['Tell the passengers', 'joris.penhale', '2026-12-03T12:00:00Z'],
] as const;
const LEDE =
  'Somebody else was Teo Marrash for an hour. They guessed his password over three nights, wore him down until he let the second factor through, read 184,000 passengers as Ottilie Brandt, made themselves an owner of the ticketing account, and left by the port of names. The passengers of this year are known outside.';

/** Makes the case of the demo's story, as a team would have it by the evening. @returns the case */
export async function makeNightCrossing(call: ApiCall): Promise<CaseDetail> {
  const ask = async <T>(method: string, path: string, body?: object): Promise<T> => {
    const response = await call(method, path, body);
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return (await response.json()) as T;
  };
  const { alerts } = await ask<AlertList>('GET', '/alerts?state=all&limit=200');
  const pins = PINNED.flatMap(([title, key, why]) => {
    const alert = alerts.find((one) => one.title.startsWith(title));
    return alert === undefined
      ? []
      : [
          {
            kind: 'alert',
            ref: String(alert.id),
            title: `${alert.title}: ${alert.subject}`,
            time: alert.lastEvent,
            key,
            why,
          },
        ];
  });
  const { id, pinned } = await ask<CaseDetail>('POST', '/cases', { title: 'Night crossing', pins });
  await ask('PATCH', `/cases/${id}`, { lede: LEDE });
  for (const [kind, name, role] of ROLES) await ask('PUT', `/cases/${id}/subjects`, { kind, name, role });
  for (const [what, owner, due] of TASKS) await ask('POST', `/cases/${id}/tasks`, { what, owner, due });
  await ask('POST', `/cases/${id}/notes`, {
    text: 'Backup of fares-archive is whole\nfrom the evening before, 22:00',
  });
  const changed = pinned.find(({ title }) => title.startsWith('Access key'));
  if (changed !== undefined)
    await ask('POST', `/cases/${id}/notes`, {
      text: 'The fares job uses key-1; key-2 has been off since June.',
      pin: changed.id,
    });
  const made = await ask<CaseDetail>('GET', `/cases/${id}`);
  const [first] = made.tasks;
  if (first !== undefined) await ask('PATCH', `/cases/${id}/tasks/${first.id}`, { done: true });
  return ask('GET', `/cases/${id}`);
}
