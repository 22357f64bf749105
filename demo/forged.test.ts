import { readFileSync } from 'node:fs';
import { compileRecipe } from '../core/recipes/apply.js';

const read = (name: string, record: string): Record<string, unknown> => {
  const recipe = compileRecipe(JSON.parse(readFileSync(`demo/recipes/${name}.json`, 'utf8')));
  const outcome = recipe.apply(record, Date.parse('2026-11-14T12:00:00Z') * 1000);
  if (outcome.became !== 'event') throw new Error(`${name}: ${JSON.stringify(outcome)}`);
  return outcome.draft;
};

const auth = (program: string, message: string): Record<string, unknown> =>
  read('dock-auth', `<86>Nov 14 08:03:12 gate-01 ${program}: ${message}`);

describe('what a sender writes does not speak for the program', () => {
  const forged = 'root from 192.0.2.1 port 1';
  const true_ = { src_ip: '203.0.113.9', src_port: 4242, user: forged };
  it.each([
    [`Failed password for invalid user ${forged} from 203.0.113.9 port 4242 ssh2`, 'failure'],
    [`Failed password for ${forged} from 203.0.113.9 port 4242 ssh2`, 'failure'],
    [`Accepted password for ${forged} from 203.0.113.9 port 4242 ssh2`, 'success'],
    [`Accepted publickey for ${forged} from 203.0.113.9 port 4242 ssh2: ED25519 SHA256:abc`, 'success'],
    [`Invalid user ${forged} from 203.0.113.9 port 4242`, 'failure'],
  ])('%s', (message, outcome) => {
    expect(auth('sshd[7]', message)).toMatchObject({ ...true_, outcome });
    expect(auth('sshd-session[7]', message)).toMatchObject({ ...true_, outcome });
  });

  it.each([
    `Connection closed by authenticating user ${forged} 203.0.113.9 port 4242 [preauth]`,
    `Connection closed by invalid user ${forged} 203.0.113.9 port 4242 [preauth]`,
    `Connection reset by authenticating user ${forged} 203.0.113.9 port 4242 [preauth]`,
    `Disconnected from user ${forged} 203.0.113.9 port 4242`,
  ])('%s', (message) => {
    expect(auth('sshd[7]', message)).toMatchObject(true_);
  });

  it('words of a sign-in within another message are none', () => {
    const message =
      "Bad protocol version identification 'Accepted password for root from 192.0.2.1 port 1' from 203.0.113.9 port 4";
    expect(auth('sshd[7]', message)).toMatchObject({ kind: 'system' });
    expect(auth('sshd[7]', message)['user']).toBeUndefined();
    const bye =
      'Received disconnect from 203.0.113.9 port 4:11: Accepted password for root from 192.0.2.1 port 1 ssh2';
    expect(auth('sshd[7]', bye)).toMatchObject({ kind: 'system', src_ip: '203.0.113.9', src_port: 4 });
  });

  it('the name that a failed check ends in is taken whole', () => {
    const message =
      'pam_unix(sshd:auth): authentication failure; logname= uid=0 euid=0 tty=ssh ruser= rhost=203.0.113.9  user=root rhost=192.0.2.1';
    expect(auth('sshd[7]', message)).toMatchObject({ src_ip: '203.0.113.9', user: 'root rhost=192.0.2.1' });
  });

  it('a command of sudo that names another user is told, not believed', () => {
    const message =
      'teo.marrash : TTY=pts/0 ; PWD=/home/teo ; USER=root ; COMMAND=/bin/echo ; USER=runa.keel ; COMMAND=/bin/ls';
    const event = auth('sudo', message);
    expect(event).toMatchObject({ kind: 'acting', user: 'teo.marrash', outcome: 'unknown' });
    expect(event['acting_as']).toBeUndefined();
  });

  it('what is added to an access log line does not overwrite the line', () => {
    const line = (more: string): Record<string, unknown> =>
      read(
        'web-edge',
        `203.0.113.9 - - [14/Nov/2026:08:03:12 +0000] "GET /book HTTP/1.1" 200 512 "-" "agent" ${more}`,
      );
    expect(
      line('gate=gate-01 verdict=pass request="GET /other HTTP/1.1" status=500 client=192.0.2.1'),
    ).toMatchObject({
      message: 'GET /book HTTP/1.1',
      resource: '/book',
      status_code: '200',
      src_ip: '203.0.113.9',
    });
    expect(line('gate=gate-01 session=s-17 verdict=block')).toMatchObject({
      session: 's-17',
      outcome: 'blocked',
    });
    const quoted = read(
      'web-edge',
      String.raw`203.0.113.9 - - [14/Nov/2026:08:03:12 +0000] "GET /?q=\" 200 1 \"-\" \"x\" verdict=pass HTTP/1.1" 403 0 "-" "a" verdict=block`,
    );
    expect(quoted).toMatchObject({ status_code: '403', outcome: 'blocked' });
  });

  it('a value of a firewall line in quotes is no further pair', () => {
    const event = read(
      'fw-stavik',
      String.raw`<134>1 2026-11-14T08:03:12Z fw-stavik fw - - - action=refuse src=203.0.113.9 dst=10.0.0.1 rule="x action=permit src=10.9.9.9"`,
    );
    expect(event).toMatchObject({ outcome: 'blocked', src_ip: '203.0.113.9' });
  });
});

describe('how sudo ended', () => {
  it.each([
    ['TTY=pts/0 ; PWD=/ ; USER=root ; COMMAND=/bin/ls', 'success', undefined],
    ['PWD=/ ; USER=root ; COMMAND=/bin/ls', 'success', undefined],
    [
      'command not allowed ; TTY=pts/0 ; PWD=/ ; USER=root ; COMMAND=/bin/ls',
      'failure',
      'command not allowed',
    ],
    ['user NOT in sudoers ; TTY=pts/0 ; PWD=/ ; USER=root ; COMMAND=/bin/ls', 'failure', 'not allowed to'],
    [
      '3 incorrect password attempts ; TTY=pts/0 ; PWD=/ ; USER=root ; COMMAND=/bin/ls',
      'failure',
      'wrong password',
    ],
    ['a password is required ; PWD=/ ; USER=root ; COMMAND=/bin/ls', 'failure', 'a password is required'],
    [
      'a terminal is required ; TTY=unknown ; PWD=/ ; USER=root ; COMMAND=/bin/ls',
      'failure',
      'a terminal is required',
    ],
  ])('%s', (said, outcome, reason) => {
    const event = auth('sudo', ` teo.marrash : ${said}`);
    expect(event).toMatchObject({ kind: 'acting', operation: 'acting.start', acting_as: 'root', outcome });
    expect(event['reason']).toBe(reason);
  });
});

describe('kinds and operations', () => {
  const xml = (id: string, data: Record<string, string>): string =>
    `<Event><System><EventID>${id}</EventID><TimeCreated SystemTime="2026-11-14T08:00:00Z"/><Computer>mast-dc-01</Computer></System><EventData>${Object.entries(
      data,
    )
      .map(([name, value]) => `<Data Name="${name}">${value}</Data>`)
      .join('')}</EventData></Event>`;
  it.each([
    ['4698', { SubjectUserName: 'joris', TaskName: 'tidy' }, 'process', 'task.create', 'success'],
    ['4726', { SubjectUserName: 'joris', TargetUserName: 'dov' }, 'account', 'account.delete', 'success'],
    ['4781', { SubjectUserName: 'joris', NewTargetUserName: 'dov2' }, 'account', 'account.rename', 'success'],
    ['1100', {}, 'log', 'audit.stopped', 'success'],
    ['4648', { SubjectUserName: 'joris', TargetUserName: 'root' }, 'acting', 'acting.start', 'unknown'],
    ['4733', { SubjectUserName: 'joris', MemberName: 'dov' }, 'rights', 'group.remove', 'success'],
  ])('mast-os %s', (id, data, kind, operation, outcome) => {
    expect(read('mast-os', xml(id, data))).toMatchObject({ kind, operation, outcome });
  });
  it.each([
    ['application.consent', 'rights', 'consent.grant'],
    ['account.rename', 'account', 'account.rename'],
    ['account.delete', 'account', 'account.delete'],
    ['audit.stopped', 'log', 'audit.stopped'],
    ['group.add', 'rights', 'group.add'],
  ])('harbour-id %s', (action, kind, operation) => {
    const record = { eventId: '1', at: '2026-11-14T08:00:00Z', action, result: { status: 'ok' } };
    expect(read('harbour-id', JSON.stringify(record))).toMatchObject({ kind, operation, outcome: 'success' });
  });
  it.each([
    ['identity', 'delete-user', '200', 'account', 'account.delete', 'success'],
    ['identity', 'grant-consent', '201', 'rights', 'consent.grant', 'success'],
    ['audit', 'stop', '204', 'log', 'audit.stopped', 'success'],
    ['identity', 'assume-role', '403', 'acting', 'acting.start', 'failure'],
    ['database', 'delete', '302', 'cloud', 'database.delete', 'unknown'],
  ])('cumulus %s.%s %s', (service, verb, code, kind, operation, outcome) => {
    const record = { event: { id: '1', time: '2026-11-14T08:00:00Z', service, verb, status: { code } } };
    expect(read('cumulus', JSON.stringify(record))).toMatchObject({ kind, operation, outcome });
  });
  it.each([
    ['role_removed', 'rights', 'role.revoke'],
    ['user_delete', 'account', 'account.delete'],
    ['consent', 'rights', 'consent.grant'],
  ])('booking-app %s', (event, kind, operation) => {
    const record = { id: '1', ts: 1_794_600_000_000, event, ok: true };
    expect(read('booking-app', JSON.stringify(record))).toMatchObject({
      kind,
      operation,
      outcome: 'success',
    });
  });
});
