import { DAY, HOUR, MINUTE, parseInstant } from '../base/instant.js';
import type { Json } from '../base/json.js';
import { canonicalJson } from './canonical.js';
import { saysOf } from './evidence.js';
import { mayLeave, stricter } from './marking.js';
import { caseFile } from './report/case-file.js';
import { reportHtml } from './report/html.js';
import { reportMarkdown } from './report/markdown.js';
import { markingOfReport, reportOf, type CasePin, type CaseRecord } from './report/model.js';
import { reportStix } from './report/stix.js';
import { gapOf, storyOf } from './story.js';
import { markings } from './words.js';

describe('the one text of a JSON value', () => {
  it('is that of the standard’s own example', () => {
    // RFC 8785, 3.2.2 and 3.2.3
    const value = JSON.parse(
      '{"numbers":[333333333.33333329,1E30,4.50,2e-3,0.000000000000000000000000001],"string":"\\u20ac$\\u000F\\u000aA\'\\u0042\\u0022\\u005c\\\\\\"\\/","literals":[null,true,false]}',
    ) as Json;
    expect(canonicalJson(value)).toBe(
      '{"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],"string":"€$\\u000f\\nA\'B\\"\\\\\\\\\\"/"}',
    );
  });

  it('orders names by their units, and refuses what is too deep', () => {
    expect(canonicalJson({ '€': 1, '\r': 2, '1': 3, '😀': 4, ö: 5, '\ufb33': 6 })).toBe(
      '{"\\r":2,"1":3,"ö":5,"€":1,"😀":4,"\ufb33":6}',
    );
    let deep: Json = 1;
    for (let i = 0; i < 200; i++) deep = [deep];
    expect(() => canonicalJson(deep)).toThrow(RangeError);
  });
});

it.each([
  [30_000_000, null],
  [13 * MINUTE, { long: false, words: '13 min' }],
  [9 * HOUR + 10 * MINUTE, { long: true, words: '9 h later' }],
  [2.4 * DAY, { long: true, words: '2 days later' }],
])('a gap of %d microseconds', (micros, gap) => expect(gapOf(micros)).toEqual(gap));

it('a story stands in order of happening, a new day told once', () => {
  const steps = storyOf(
    [3 * DAY, HOUR, 2 * HOUR],
    (time) => time,
    (time) => String(Math.floor(time / DAY)),
  );
  expect(steps.map(({ one, newDay }) => [one / HOUR, newDay])).toEqual([
    [1, true],
    [2, false],
    [72, true],
  ]);
  expect(steps.map(({ gap }) => gap?.words ?? null)).toEqual([null, '1 h later', '3 days later']);
});

it('who may read what', () => {
  expect(markings.map((marking) => mayLeave(marking, 'green'))).toEqual([false, false, false, true, true]);
  expect(markings.every((marking) => mayLeave(marking, 'red'))).toBe(true);
  expect(stricter('green', 'amber')).toBe('amber');
});

const EVIL = `<script>alert(1)</script>"'&[x](javascript:1) | # *b*\u202egpj\u200b`;
const event = {
  id: 'e1',
  time: '2026-11-28T07:58:02Z',
  source: EVIL,
  operation: EVIL,
  outcome: 'success',
  user: EVIL,
  src_ip: '198.18.40.77',
  city: EVIL,
  country: 'Canada',
};
const ALERT = {
  alert: {
    title: EVIL,
    level: 'high',
    subject: EVIL,
    subjectFields: { user: 'teo.marrash' },
    matches: 7,
    firstEvent: '2026-11-28T07:50:00Z',
    lastEvent: '2026-11-28T07:58:02Z',
    evidence: [event],
    evidenceTotal: 9,
  },
  rule: { title: EVIL, version: 2, tags: ['attack.t1110.003', EVIL] },
};
const pin = (more: Partial<CasePin> = {}): CasePin => ({
  kind: 'alert',
  ref: EVIL,
  title: EVIL,
  time: '2026-11-28T07:58:02Z',
  who: EVIL,
  at: '2026-11-28T09:00:00Z',
  why: EVIL,
  key: true,
  marking: null,
  frozen: canonicalJson(ALERT),
  sha256: 'a'.repeat(64),
  ...more,
});
const record = (more: Partial<CaseRecord> = {}): CaseRecord => ({
  number: '26-118',
  title: EVIL,
  state: 'open',
  severity: 'high',
  verdict: null,
  owner: EVIL,
  created: '2026-11-28T08:00:00Z',
  lede: EVIL,
  marking: 'amber',
  pins: [pin(), pin({ kind: 'event', ref: 'e1', key: false, frozen: canonicalJson({ event }) })],
  notes: [{ who: EVIL, at: '2026-11-28T10:00:00Z', text: EVIL, inReport: true, about: null }],
  tasks: [{ what: EVIL, owner: EVIL, due: '2026-11-29T00:00:00Z', done: null }],
  subjects: [
    { kind: 'address', name: '198.18.40.77', role: 'attacker' },
    { kind: 'user', name: EVIL, role: 'victim' },
  ],
  done: [{ what: EVIL, state: 'done', askedBy: EVIL, decidedBy: EVIL, at: '2026-11-28T11:00:00Z' }],
  ...more,
});
const NOW = parseInstant('2026-11-30T00:00:00Z') ?? 0;

describe('what frozen evidence says', () => {
  it('of an alert: its rule, its events, who is named, its techniques', () => {
    const says = saysOf(ALERT);
    expect(says).toMatchObject({ level: 'high', techniques: ['T1110.003'], table: { total: 9 } });
    expect(says.subjects).toContainEqual({ kind: 'user', name: 'teo.marrash' });
    expect(says.subjects).toContainEqual({ kind: 'address', name: '198.18.40.77' });
  });

  it('of a snapshot: its hunt and its rows, the first of many', () => {
    const rows = Array.from({ length: 60 }, (_, i) => [`u${i}`, i]);
    const says = saysOf({
      snapshot: { question: { text: 'from all' }, columns: [{ name: 'user' }, { name: 'n' }], rows },
    });
    expect([says.table?.rows.length, says.table?.total]).toEqual([25, 60]);
    expect(says.facts[0]).toEqual({ label: 'hunt', value: 'from all' });
    expect(says.subjects[0]).toEqual({ kind: 'user', name: 'u0' });
  });

  it.each([
    [null],
    ['x'],
    [[1]],
    [{}],
    [{ alert: 3 }],
    [{ alert: { evidence: 'x', subjectFields: [1] }, rule: 'y' }],
  ])('of %j nothing that would stop anybody', (frozen) => expect(saysOf(frozen).techniques).toEqual([]));
});

describe('a report', () => {
  const report = reportOf(record(), 'amber', NOW);

  it('in HTML: no field of it is read as HTML, and what misleads is seen', () => {
    const html = reportHtml(report);
    expect(html).not.toMatch(/<script|\u202e|\u200b/);
    expect(html).toContain('⟨U+202E⟩');
    expect(html.match(/&lt;script&gt;/g)?.length).toBeGreaterThan(15);
    expect(html).toContain('TLP:AMBER');
    for (const head of [
      'What happened',
      'Who and what',
      'What was done',
      'What is left to do',
      'Notes',
      'Evidence',
    ])
      expect(html).toContain(`<h2>${head}</h2>`);
  });

  it('in Markdown: no field of it is read as Markdown or HTML', () => {
    const text = reportMarkdown(report);
    expect(text).not.toMatch(/(^|[^\\])<script|\]\(javascript|\u202e/);
    expect(text).toContain('\\<script\\>');
    expect(text.split('\n').filter((line) => line.startsWith('# '))).toHaveLength(1);
  });

  it('leaves out what is marked for fewer, counts it, and says who may read the rest', () => {
    const mixed = record({
      pins: [pin(), pin({ ref: '2', title: 'for all', marking: 'clear' }), pin({ ref: '3', marking: 'red' })],
    });
    const amber = reportOf(mixed, 'amber', NOW);
    expect([amber.steps.length, amber.leftOut.pins]).toEqual([2, 1]);
    expect(markingOfReport(amber)).toBe('amber');
    const clear = reportOf(mixed, 'clear', NOW);
    expect(clear.steps.map((step) => step.pin.title)).toEqual(['for all']);
    expect(clear.leftOut).toEqual({ pins: 2, notes: 1 });
    expect(markingOfReport(clear)).toBe('clear');
    const html = reportHtml(clear);
    expect(html).toContain('2 pinned, 1 note');
    // Nothing of the case itself is for everybody.
    expect(clear.record).toMatchObject({ title: 'Parts of a case', subjects: [], owner: '', severity: null });
    expect(clear.lede).toContain('for all');
    expect(JSON.parse(caseFile(clear)).case.pins).toHaveLength(1);
  });

  it('leaves out a note whose thing is left out, also where another is called alike', () => {
    const about = {
      who: 'a',
      at: '2026-11-28T10:00:00Z',
      text: 'only for us',
      inReport: true,
      about: 'same',
    };
    const twins = record({
      pins: [pin({ title: 'same', marking: 'clear' }), pin({ ref: '2', title: 'same', marking: 'red' })],
      notes: [about],
    });
    expect(reportOf(twins, 'clear', NOW).notes).toEqual([]);
    expect(reportOf(twins, 'red', NOW).notes).toEqual([about]);
  });

  it('opens by itself with what is key where nobody wrote an opening', () => {
    const two = record({
      lede: '',
      pins: [
        pin({ title: 'A' }),
        pin({ ref: '2', title: 'B', key: false }),
        pin({ ref: '3', title: 'C', time: '2026-11-29T01:02:03Z' }),
      ],
    });
    expect(reportOf(two, 'amber', NOW).lede).toBe(
      'Between 2026-11-28 07:58 and 2026-11-29 01:02 UTC: “A” and “C”.',
    );
    expect(reportOf(record({ lede: '', pins: [] }), 'amber', NOW).lede).toMatch(/Nothing is pinned/);
  });

  it('as a file keeps evidence and hashes as they were', () => {
    const file = JSON.parse(caseFile(report));
    expect(file).toMatchObject({ format: 'under-lamp-case', version: 1 });
    expect(file.case.pins.map(({ frozen }: CasePin) => frozen)).toEqual(
      record().pins.map(({ frozen }) => frozen),
    );
  });
});

describe('a STIX 2.1 bundle', () => {
  const uuidOf = (name: string): string => {
    // Any function of the name does; that of the server is tested there.
    const hex = [...name]
      .reduce((sum, sign) => (sum * 31 + sign.charCodeAt(0)) % 2 ** 40, 7)
      .toString(16)
      .padStart(12, '0');
    return `00000000-0000-5000-8000-${hex}`;
  };
  const bundle = JSON.parse(reportStix(reportOf(record(), 'amber', NOW), uuidOf));
  const objects: Record<string, any>[] = bundle.objects;
  const of = (type: string) => objects.filter((one) => one['type'] === type);

  it('holds who, what was seen, what tells the attacker, and how', () => {
    expect(bundle.type).toBe('bundle');
    expect(of('report')[0]).toMatchObject({
      published: '2026-11-30T00:00:00.000Z',
      report_types: ['threat-report'],
    });
    expect(of('ipv4-addr').map(({ value }) => value)).toEqual(['198.18.40.77']);
    expect(of('indicator')[0]).toMatchObject({
      pattern: "[ipv4-addr:value = '198.18.40.77']",
      pattern_type: 'stix',
    });
    expect(of('attack-pattern')[0]?.['external_references']).toEqual([
      { source_name: 'mitre-attack', external_id: 'T1110.003' },
    ]);
    expect(of('observed-data')[0]).toMatchObject({
      number_observed: 7,
      first_observed: '2026-11-28T07:50:00.000Z',
    });
  });

  it('refers to nothing that it does not hold, and every id is a UUID of its type', () => {
    const ids = new Set(objects.map((one) => one['id']));
    expect(ids.size).toBe(objects.length);
    for (const one of objects) {
      expect(one['id']).toMatch(
        new RegExp(
          `^${one['type']}--[0-9a-f]{8}-[0-9a-f]{4}-[1-5][0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$`,
        ),
      );
      const refs = [
        one['created_by_ref'],
        one['source_ref'],
        one['target_ref'],
        ...(one['object_refs'] ?? []),
        ...(one['object_marking_refs'] ?? []),
      ];
      for (const ref of refs) if (ref !== undefined) expect([ref, ids.has(ref)]).toEqual([ref, true]);
    }
  });

  it('gives each object what the specification requires, and nothing that its type does not know', () => {
    // STIX 2.1, section 3.2 for all of them, 4 for domain objects, 5 for relationships, 6 for observables, 7.2 for markings
    const common = [
      'type spec_version id created_by_ref created modified revoked labels confidence lang external_references',
      'object_marking_refs granular_markings extensions',
    ].join(' ');
    const dated = 'type spec_version id created modified';
    const observable = 'type spec_version id';
    const known: Record<string, readonly [required: string, optional: string]> = {
      identity: [`${dated} name`, 'description roles identity_class sectors contact_information'],
      report: [`${dated} name object_refs published`, 'description report_types'],
      indicator: [
        `${dated} pattern pattern_type valid_from`,
        'name description indicator_types pattern_version valid_until kill_chain_phases',
      ],
      'attack-pattern': [`${dated} name`, 'description aliases kill_chain_phases'],
      'observed-data': [`${dated} first_observed last_observed number_observed object_refs`, ''],
      relationship: [`${dated} relationship_type source_ref target_ref`, 'description start_time stop_time'],
      'marking-definition': ['type spec_version id created', 'name definition_type definition'],
      'ipv4-addr': [`${observable} value`, 'resolves_to_refs belongs_to_refs'],
      'ipv6-addr': [`${observable} value`, 'resolves_to_refs belongs_to_refs'],
      'user-account': [`${observable} account_login`, 'user_id account_type display_name'],
    };
    const moments = ['created', 'modified', 'published', 'valid_from', 'first_observed', 'last_observed'];
    expect(Object.keys(bundle).sort()).toEqual(['id', 'objects', 'type']);
    for (const one of objects) {
      const [required, optional] = known[one['type']] ?? ['a type that is not known', ''];
      const has = Object.keys(one);
      expect([one['type'], required.split(' ').filter((name) => !has.includes(name))]).toEqual([
        one['type'],
        [],
      ]);
      const may = new Set(`${required} ${optional} ${common}`.split(' '));
      expect([one['type'], has.filter((name) => !may.has(name))]).toEqual([one['type'], []]);
      expect(one['spec_version']).toBe('2.1');
      for (const name of moments)
        if (one[name] !== undefined)
          expect([name, one[name]]).toEqual([
            name,
            expect.stringMatching(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z$/),
          ]);
      // Neither a list nor a text is ever empty (3.1).
      for (const [name, value] of Object.entries(one))
        expect([name, Array.isArray(value) && value.length === 0, value === '']).toEqual([
          name,
          false,
          false,
        ]);
      if (one['modified'] !== undefined) expect(one['modified'] >= one['created']).toBe(true);
      if (one['last_observed'] !== undefined)
        expect(one['last_observed'] >= one['first_observed']).toBe(true);
    }
  });

  it('quotes what stands in a pattern', () => {
    const evil = record({ subjects: [{ kind: 'user', name: `a' OR b\\`, role: 'attacker' }] });
    const text = reportStix(reportOf(evil, 'amber', NOW), uuidOf);
    expect(JSON.parse(text).objects.find((one: any) => one.type === 'indicator').pattern).toBe(
      "[user-account:account_login = 'a\\' OR b\\\\']",
    );
  });
});
