import { readdirSync, readFileSync } from 'node:fs';
import { parseInstant } from '../../base/instant.js';
import { compileRecipe } from '../apply.js';
import { wordMistake } from '../fixed-words.js';
import { bestShipped, fittingShipped, shippedRecipes } from './index.js';

const received = parseInstant('2026-11-30T12:00:00Z') ?? 0;
const folder = 'core/recipes/shipped/fixtures/';
const fixtures = readdirSync(folder).map((file) => ({
  name: file.replace(/\.\w+$/, ''),
  text: readFileSync(folder + file, 'utf8'),
}));

/** What became of each record, counted; and the events. */
function readAll(name: string, text: string) {
  const recipe = shippedRecipes[name];
  if (recipe === undefined) throw new Error(`No recipe ${name}`);
  const compiled = compileRecipe(recipe);
  const counts: Record<string, number> = {};
  const events = compiled.cut(text).flatMap((record) => {
    const outcome = compiled.apply(record, received);
    const told =
      outcome.became === 'event'
        ? `${outcome.draft.kind} ${outcome.draft.operation ?? '-'} ${outcome.draft.outcome ?? '-'}`
        : outcome.became;
    counts[told] = (counts[told] ?? 0) + 1;
    if (outcome.became !== 'event') return [];
    expect([record, outcome.unread]).toEqual([record, []]);
    return [outcome.draft];
  });
  return { counts, events };
}

it.each(Object.entries(shippedRecipes))('%s says only words that columns know', (name, recipe) => {
  expect(recipe.name).toBe(name);
  expect(wordMistake(recipe)).toBeNull();
});

it.each(fixtures)('$name: nothing is set aside, and it is the recipe that fits best', ({ name, text }) => {
  const { counts, events } = readAll(name, text);
  expect(counts).not.toHaveProperty('set-aside');
  expect(events.length).toBeGreaterThan(0);
  expect(bestShipped(text, received)?.name).toBe(name);
});

it.each([
  [
    'apache-error',
    { 'signin session.start failure': 2, 'web web.request blocked': 1, 'web web.request failure': 2 },
  ],
  ['bind', { 'dns dns.query unknown': 3, 'dns dns.query failure': 1 }],
  ['dnsmasq', { 'dns dns.query unknown': 4, 'dns dns.answer success': 2, 'dns dns.answer failure': 2 }],
  ['unbound', { 'dns dns.query unknown': 3, 'dns dns.query success': 2, 'dns dns.query failure': 1 }],
  [
    'nginx-error',
    { 'signin session.start failure': 1, 'web web.request blocked': 3, 'web web.request failure': 3 },
  ],
  ['web-access', { 'web web.request success': 8, 'web web.request failure': 19 }],
  ['web-access-json', { 'web web.request success': 3, 'web web.request failure': 7 }],
  [
    'postgresql-csv',
    {
      'signin session.start success': 3,
      'signin session.start failure': 2,
      'query query.run failure': 2,
      'query query.run success': 4,
    },
  ],
  [
    'postgresql-json',
    {
      'signin session.start success': 3,
      'signin session.start failure': 2,
      'query query.run failure': 2,
      'query query.run success': 4,
    },
  ],
  ['postfix', { 'system mail.reject blocked': 1, 'system mail.deliver success': 1 }],
  ['linux-firewall', { 'network firewall.decision blocked': 6, 'network firewall.decision allowed': 4 }],
  [
    'linux-auth',
    {
      'signin session.start failure': 6,
      'signin session.start success': 3,
      'acting acting.start failure': 2,
    },
  ],
  [
    'journald',
    {
      'signin session.start failure': 2,
      'signin session.start success': 1,
      'acting acting.start success': 3,
      'account account.create success': 1,
    },
  ],
  [
    'linux-audit',
    {
      // One each of a wrong password and a name that does not exist, of which seven records tell.
      'signin session.start failure': 2,
      'signin session.start success': 1,
      'signin session.end success': 1,
      'acting acting.start success': 1,
      'process process.start success': 6,
      'object object.access failure': 1,
      'account account.create success': 1,
      'account account.delete success': 1,
      'account password.change success': 1,
      'log audit.changed success': 3,
    },
  ],
  [
    'ocsf',
    { 'signin session.start failure': 1, 'cloud database.delete success': 1, 'network flow blocked': 1 },
  ],
  ['stix-sightings', { 'finding finding unknown': 1, discarded: 1 }],
])('%s reads what happened, in both directions', (name, wanted) => {
  const { text } = fixtures.find((one) => one.name === name) ?? { text: '' };
  expect(readAll(name, text).counts).toMatchObject(wanted);
});

it('who, whence and what are where every source has them', () => {
  const of = (name: string, operation: string, outcome: string) =>
    readAll(name, fixtures.find((one) => one.name === name)?.text ?? '').events.find(
      (event) => event.operation === operation && event.outcome === outcome,
    );
  expect(of('nginx-error', 'session.start', 'failure')).toMatchObject({
    user: 'teo.marrash',
    src_ip: '127.0.0.1',
    reason: 'wrong password',
  });
  expect(of('apache-error', 'session.start', 'failure')).toMatchObject({
    user: 'teo.marrash',
    src_ip: '127.0.0.1',
  });
  expect(of('postgresql-csv', 'session.start', 'failure')).toMatchObject({
    user: 'teo.marrash',
    src_ip: '127.0.0.1',
  });
  // The server's clock was in Lisbon: WET is UTC in winter.
  expect(of('postgresql-csv', 'session.start', 'failure')?.time).toBe(
    parseInstant('2026-11-30T09:15:20.790Z'),
  );
  expect(of('unbound', 'dns.query', 'failure')).toMatchObject({
    resource: 'nothing.skerry-line.example.',
    reason: 'NXDOMAIN',
  });
  expect(of('linux-audit', 'process.start', 'success')).toMatchObject({
    user: 'teo.marrash',
    process_path: '/usr/bin/bash',
    event_code: 'SYSCALL',
  });
  expect(of('linux-audit', 'object.access', 'failure')).toMatchObject({
    user: 'teo.marrash',
    command_line: 'cat /etc/shadow',
    resource: '/etc/shadow',
  });
  // The daemon knows no name of whoever was just made, and says so: that is no name.
  expect(of('linux-audit', 'account.create', 'success')).toMatchObject({
    user: 'teo.marrash',
    target_id: '1003',
  });
  expect(of('linux-audit', 'account.create', 'success')).not.toHaveProperty('target_user');
  expect(of('linux-audit', 'audit.changed', 'success')).toMatchObject({ user: 'root' });
  expect(of('linux-firewall', 'firewall.decision', 'blocked')).toMatchObject({
    src_ip: '198.18.40.77',
    dst_port: 3389,
    protocol: 'TCP',
  });
  expect(of('web-access', 'web.request', 'success')).toMatchObject({ resource: '/', status_code: '200' });
  expect(of('postfix', 'mail.deliver', 'success')).toMatchObject({
    target_user: 'root@mail.skerry-line.example',
  });
});

it('a packet that an error of the network quotes is not taken for the packet itself', () => {
  const { text } = fixtures.find((one) => one.name === 'linux-firewall') ?? { text: '' };
  const quoting = readAll('linux-firewall', text).events.filter(({ message }) =>
    String(message).includes('[SRC='),
  );
  expect(quoting).toHaveLength(1);
  expect(quoting[0]).toMatchObject({ src_ip: '198.18.40.77', dst_ip: '198.18.40.10', protocol: 'ICMP' });
  expect(quoting[0]).not.toHaveProperty('dst_port');
});

it('what a sender can write does not speak for the server', () => {
  const forged =
    '2026/11/30 09:15:19 [error] 1#1: *4 user "x": password mismatch, client: 9.9.9.9, server: a, request: "GET / HTTP/1.1"": password mismatch, client: 198.18.40.77, server: www, request: "GET /secret HTTP/1.1", host: "www"';
  const nginx = compileRecipe(shippedRecipes['nginx-error'] as never).apply(forged, received);
  if (nginx.became !== 'event') throw new Error(nginx.became);
  // A name that imitates the line holds blanks, and is no name: no sign-in of somebody else's is made of it.
  expect([nginx.draft.user ?? null, nginx.draft.src_ip]).not.toEqual(['teo.marrash', '198.18.40.77']);
  // Nor does a sender take its own address out of the line by what it says it was sent from.
  for (const said of [
    'connect() failed (111: Connection refused) while connecting to upstream',
    'upstream timed out (110: Connection timed out) while reading response header from upstream',
    'client intended to send too large body: 900 bytes',
  ])
    expect(
      compileRecipe(shippedRecipes['nginx-error'] as never).apply(
        `2026/11/30 09:15:19 [error] 1#1: *4 ${said}, client: 198.18.40.77, server: www, request: "GET /a HTTP/1.1", host: "www", referrer: "x, client: 192.0.2.66, server: a, request: "GET /b "`,
        received,
      ),
    ).toMatchObject({ draft: { src_ip: '198.18.40.77', resource: '/a' } });
  const sshd = compileRecipe(shippedRecipes['linux-auth'] as never).apply(
    'Nov 30 09:00:00 gate-01 sshd[1]: Failed password for invalid user root from 9.9.9.9 port 1 ssh2 from 198.18.40.77 port 5 ssh2',
    received,
  );
  expect(sshd).toMatchObject({ draft: { src_ip: '198.18.40.77' } });
  expect(fittingShipped('nothing that any of them reads\n', received)).toEqual([]);
});

it('sensor records of the operating system: process, network, file, registry, names asked', () => {
  const event = (code: number, data: Record<string, string>): string =>
    `<Event><System><Provider Name="Sensor"/><EventID>${code}</EventID><TimeCreated SystemTime="2026-11-14T08:00:00Z"/><Computer>QUAY-TK-07.mast.example</Computer></System><EventData>${Object.entries(
      data,
    )
      .map(([name, value]) => `<Data Name="${name}">${value}</Data>`)
      .join('')}</EventData></Event>`;
  const { counts, events } = readAll(
    'os-events',
    [
      event(1, { Image: 'C:\\a.exe', CommandLine: 'a -x', User: 'MAST\\teo', ParentImage: 'C:\\b.exe' }),
      event(3, {
        Image: 'C:\\a.exe',
        SourceIp: '10.0.0.1',
        DestinationIp: '203.0.113.77',
        DestinationPort: '53',
      }),
      event(11, { Image: 'C:\\a.exe', TargetFilename: 'C:\\x.txt' }),
      event(13, { Image: 'C:\\a.exe', TargetObject: 'HKLM\\Run\\x', Details: 'a.exe' }),
      event(22, { Image: 'C:\\a.exe', QueryName: 'x.example' }),
    ].join(''),
  );
  expect(counts).toEqual({
    'process process.start success': 1,
    'network flow allowed': 1,
    'object object.write success': 1,
    'system registry.change success': 1,
    'dns dns.query unknown': 1,
  });
  expect(events[1]).toMatchObject({ dst_ip: '203.0.113.77', dst_port: 53, host: 'quay-tk-07' });
});
