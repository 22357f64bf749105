import { compileHunt } from '../wick/compile.js';
import { fill, flowText, namesOfSubject, placesOf, rightText } from './document.js';
import { historyByDay, historyHunt, judgeHistory, type HitDay } from './history.js';
import { offered, responseOf, responses } from './shipped.js';
import { subjectFor } from './subjects.js';

const SUBJECTS = {
  user: "o'hara",
  address: '203.0.113.77',
  flow: flowText('10.30.0.10', '203.0.113.77', 53, 'UDP'),
  host: 'quay-tk-07',
  right: rightText('0ttilie.brandt', 'owner', 'ticketing-prod'),
} as const;

describe('what a response falls on', () => {
  it('is read strictly', () => {
    expect(placesOf('flow', SUBJECTS.flow)).toMatchObject({
      source: '10.30.0.10',
      destination: '203.0.113.77',
      port: '53',
      protocol: 'udp',
    });
    for (const wrong of [
      '10.0.0.1 > 10.0.0.2',
      '10.0.0.1 > x port 5/udp',
      '10.0.0.1 > 10.0.0.2 port 99999/udp',
    ])
      expect(placesOf('flow', wrong)).toBeNull();
    for (const wrong of ['10.0.0.0/8', 'everything', '']) expect(placesOf('address', wrong)).toBeNull();
    for (const name of ['', '.', '..']) expect(placesOf('user', name)).toBeNull();
    expect(placesOf('right', '.. has owner in ticketing-prod')).toBeNull();
  });

  it('of an alert: the address that is not one’s own, the flow of its newest event', () => {
    const alert = {
      subjectFields: { src_ip: '10.30.0.10', dst_ip: '203.0.113.77' },
      evidence: [
        { src_ip: '10.1.1.1', dst_ip: '10.2.2.2', dst_port: 1, protocol: 'tcp' },
        { src_ip: '10.30.0.10', dst_ip: '203.0.113.77', dst_port: 53, protocol: 'udp' },
        { user: 'x' },
      ],
    };
    expect(subjectFor('address', alert)).toBe('203.0.113.77');
    expect(subjectFor('flow', alert)).toBe('10.30.0.10 > 203.0.113.77 port 53/udp');
    expect(subjectFor('user', alert)).toBeNull();
    expect(subjectFor('host', alert)).toBeNull();
    expect(subjectFor('right', alert)).toBeNull();
    const given = {
      kind: 'rights',
      operation: 'role.grant',
      host: 'mast-dc-01',
      target_user: '0ttilie.brandt',
      group_name: 'owner',
      account: 'ticketing-prod',
    };
    const rights = { subjectFields: {}, evidence: [given] };
    expect(subjectFor('right', rights)).toBe('0ttilie.brandt has owner in ticketing-prod');
    expect(subjectFor('host', rights)).toBe('mast-dc-01');
    expect(subjectFor('right', { ...rights, evidence: [{ ...given, operation: 'role.revoke' }] })).toBeNull();
    const places = placesOf('right', SUBJECTS.right) ?? {};
    expect(namesOfSubject('right', places)).toEqual(['0ttilie.brandt', 'owner', 'ticketing-prod']);
    expect(placesOf('right', 'owner of everything')).toBeNull();
    expect(subjectFor('address', { subjectFields: { src_ip: '10.0.0.1' }, evidence: [] })).toBeNull();
  });

  it('fills places, and no other', () => {
    expect(fill('/a/{x}/{y}/{constructor}', { x: 'b/c' }, encodeURIComponent)).toBe(
      '/a/b%2Fc/{y}/{constructor}',
    );
  });
});

describe.each(Object.entries(responses))('%s', (name, response) => {
  it('has a history that can be asked of any subject, and leaves no place open', () => {
    const hunt = historyHunt(response, SUBJECTS[response.on]) ?? '';
    expect(hunt).not.toMatch(/\{\w+\}/);
    const window = { from: 0, to: 86_400_000_000 };
    expect(() => compileHunt(historyByDay(hunt), { window, now: window.to })).not.toThrow();
    expect(historyHunt(response, '')).toBeNull();
  });

  it('names only a narrower one that there is; what ends can be taken back', () => {
    const { narrower, hours, undo } = response;
    if (narrower !== null) expect(responseOf(narrower)).not.toBeNull();
    if (hours !== null) expect(undo).not.toBeNull();
    expect(responseOf(name)).toBe(response);
  });
});

it('messages offer what falls on people', () => {
  expect(offered).toEqual(['force-password-change', 'revoke-sessions', 'disable-account', 'watch-user']);
  expect(responseOf('toString')).toBeNull();
});

describe('what one would have hit', () => {
  const day = (n: number, events = 10): HitDay => ({
    day: `2026-11-${String(n).padStart(2, '0')}T00:00:00Z`,
    events,
    what: [n % 2 === 0 ? 'booking' : 'mail'],
    whence: [`h${n}`],
  });
  const own = new Set(['2026-11-14']);

  it('on many days besides the alert’s is everyday work', () => {
    const found = judgeHistory(
      [1, 2, 3, 4, 5, 14].map((n) => day(n)),
      30,
      own,
    );
    expect(found).toMatchObject({ everyday: true, events: 60, what: ['booking', 'mail'] });
    expect(found.says).toBe(
      'Over 30 days it would have hit 60 events on 6 days: that looks like everyday work.',
    );
  });

  it('on the alert’s day alone, on a few others, or never, is not', () => {
    expect(judgeHistory([day(14)], 30, own).says).toMatch(/10 events, all on the day of this alert/);
    expect(judgeHistory([day(3, 1), day(14)], 30, own)).toMatchObject({
      everyday: false,
      says: 'Over 30 days it would have hit 11 events on 2 days, 1 of them without this alert.',
    });
    expect(judgeHistory([], 30, own).says).toMatch(/hit nothing/);
  });
});
