import fc from 'fast-check';
import { columnDef, type ColumnName } from '../events/columns.js';
import type { Event } from '../events/event.js';
import { namedBy, subjectKinds, type SubjectKind } from '../subjects/kinds.js';
import { indexSubjects, type Joined } from '../subjects/subject.js';
import { subjectsAskedAbout } from './about.js';
import { compileHunt, type CompileOptions } from './compile.js';
import { completeAt } from './complete.js';
import { HuntError } from './hunt-error.js';
import { runInMemory } from './in-memory/run.js';
import { makeEvents } from './tests/events.js';

const from = Date.parse('2026-11-14') * 1000;
const window = { from, to: Date.parse('2026-11-15') * 1000 };
const options: CompileOptions = { window, now: window.to };
const hours = (hour: number): number => from + hour * 3_600_000_000;

const idsOf = (text: string, events: readonly Event[], more: Partial<CompileOptions> = {}): unknown[] =>
  runInMemory(compileHunt(`${text}\nsort id\nshow id`, { ...options, ...more }), events).rows.map(
    ([id]) => id,
  );

function refused(text: string, more: Partial<CompileOptions> = {}): HuntError {
  try {
    compileHunt(text, { ...options, ...more });
  } catch (error) {
    if (error instanceof HuntError) return error;
    throw error;
  }
  throw new Error('This should have been refused.');
}

describe('56: about', () => {
  const events = makeEvents([
    { time: '2026-11-14T01:00:00Z', user: 'teo.marrash' },
    { time: '2026-11-14T02:00:00Z', user: 'runa.keel', target_user: 'Teo.Marrash' },
    { time: '2026-11-14T03:00:00Z', user: 'ottilie.brandt', user_id: 'u-1002' },
    { time: '2026-11-14T04:00:00Z', host: 'quay-tk-07', src_ip: '10.20.4.11' },
    { time: '2026-11-14T05:00:00Z', src_ip: '10.20.4.11' },
    { time: '2026-11-14T06:00:00Z', dst_ip: '10.20.4.11' },
    { time: '2026-11-14T07:00:00Z', via_ips: ['198.51.100.1', '10.20.4.11'] },
    {
      time: '2026-11-14T08:00:00Z',
      resource: 'fares-archive',
      account: 'ticketing-prod',
      application: 'booking',
    },
  ]);

  it('finds a subject in every role, whatever the case of its name', () => {
    expect(idsOf("from all\nwhere about user 'TEO.MARRASH '", events)).toEqual(['e1', 'e2']);
    expect(idsOf("from all\nwhere about address '10.20.4.11'", events)).toEqual(['e4', 'e5', 'e6', 'e7']);
    expect(idsOf("from all\nwhere about account 'ticketing-prod'", events)).toEqual(['e8']);
    expect(idsOf("from all\nwhere about resource 'fares-archive'", events)).toEqual(['e8']);
    expect(idsOf("from all\nwhere about application 'booking'", events)).toEqual(['e8']);
    expect(idsOf("from all\nwhere not about host 'quay-tk-07'", events)).not.toContain('e4');
  });

  it('and under what is joined to it, while it was', () => {
    const subjects = indexSubjects([
      { kind: 'user', name: 'teo.marrash', also: [{ value: 'u-1002', from: null, to: null }] },
      { kind: 'host', name: 'quay-tk-07', also: [{ value: '10.20.4.11', from: hours(4), to: hours(5) }] },
    ]);
    expect(idsOf("from all\nwhere about user 'teo.marrash'", events, { subjects })).toEqual([
      'e1',
      'e2',
      'e3',
    ]);
    expect(idsOf("from all\nwhere about host 'quay-tk-07'", events, { subjects })).toEqual(['e4', 'e5']);
  });

  it('takes its name from a blank, and lets everything through while that is left open', () => {
    const asked = "ask who 'Who' any\nfrom all\nwhere about user $who";
    expect(idsOf(asked, events, { parameters: { who: 'teo.marrash' } })).toEqual(['e1', 'e2']);
    expect(idsOf(asked, events)).toHaveLength(8);
  });

  it('says what is wrong, and where', () => {
    expect(refused("from all\nwhere about usr 'x'")).toMatchObject({ suggestion: 'user', span: { line: 2 } });
    expect(refused("from all\nwhere about address 'x'").message).toBe('"x" is no address.');
    expect(refused("from all\ntally count() per user\nwhere about user 'x'").message).toContain(
      'asks events',
    );
    expect(refused("from all\nhide acting_as\nwhere about user 'x'").message).toContain('"acting_as"');
  });

  it('a column may still be called "about"', () => {
    const plan = compileHunt("from all\nset about = user\nwhere about = 'x'\nshow about", options);
    expect(plan.columns.map(({ name }) => name)).toEqual(['about']);
  });

  it('tells beforehand whom it asks about, in the text, in blanks and in what is carried', () => {
    expect(
      subjectsAskedAbout(compileHunt, "ask who 'Who'\nfrom all\nwhere about user $who", {
        ...options,
        parameters: { who: 'teo.marrash' },
        carried: ["about host 'quay-tk-07'"],
      }),
    ).toEqual([
      { kind: 'host', name: 'quay-tk-07' },
      { kind: 'user', name: 'teo.marrash' },
    ]);
    expect(subjectsAskedAbout(compileHunt, 'from all\nwhere nonsense', options)).toEqual([]);
  });

  it('is completed: kinds, then names', () => {
    const catalogue = { lists: [], sources: [] };
    const found = completeAt('from all\nwhere about ', catalogue, options);
    expect(found?.suggestions.map(({ label }) => label)).toEqual([...subjectKinds]);
    expect(completeAt("from all\nwhere about host 'qu", catalogue, options)).toMatchObject({
      valuesOf: 'host',
      prefix: 'qu',
    });
  });
});

const values = ['a', 'B', 'u-1', '10.0.0.1', '10.0.0.2', '2001:db8::1'];
const columns = [
  ...new Set(subjectKinds.flatMap((kind) => [...namedBy[kind].names, ...namedBy[kind].addresses])),
];
const isAddress = (column: ColumnName): boolean => /^address/.test(columnDef(column).type);

/** One event with any of the columns filled, of the types they have. */
const someEvents = fc
  .array(
    fc.record({
      hour: fc.integer({ min: 0, max: 23 }),
      cells: fc.dictionary(fc.constantFrom(...columns), fc.constantFrom(...values), { maxKeys: 4 }),
    }),
    { maxLength: 12 },
  )
  .map((drawn) =>
    makeEvents(
      drawn.map(({ hour, cells }) => ({
        time: new Date(hours(hour) / 1000).toISOString(),
        ...Object.fromEntries(
          Object.entries(cells).flatMap(([column, value]) => {
            const name = column as ColumnName;
            if (isAddress(name) && !/[.:]\d|::/.test(value)) return [];
            return [[column, columnDef(name).type === 'addresses' ? [value] : value]];
          }),
        ),
      })),
    ),
  );
const someJoins = fc.array(
  fc.record({
    value: fc.constantFrom(...values),
    from: fc.option(fc.integer({ min: 0, max: 23 }).map(hours)),
    to: fc.option(fc.integer({ min: 0, max: 23 }).map(hours)),
  }),
  { maxLength: 3 },
);

/** Decision 56, read word for word. */
function plainly(
  kind: SubjectKind,
  name: string,
  also: readonly Joined[],
  events: readonly Event[],
): string[] {
  const { names, addresses } = namedBy[kind];
  const holds = (event: Event, column: ColumnName, value: string): boolean => {
    const cell = (event as unknown as Record<string, unknown>)[column] ?? null;
    const cells = (Array.isArray(cell) ? cell : cell === null ? [] : [cell]).map(String);
    const identity = columnDef(column).identity === true;
    return cells.some((one) => (identity ? one.toLowerCase() === value.toLowerCase() : one === value));
  };
  return events
    .filter((event) =>
      [{ value: name, from: null, to: null }, ...also].some(
        ({ value, from: since, to: until }) =>
          (since === null || event.time >= since) &&
          (until === null || event.time <= until) &&
          [...names, ...addresses].some((column) => holds(event, column, value)),
      ),
    )
    .map(({ id }) => id)
    .sort();
}

it('56: property: about is what the decision says, for every kind and join', () => {
  fc.assert(
    fc.property(
      someEvents,
      someJoins,
      fc.constantFrom(...subjectKinds),
      fc.constantFrom(...values),
      (events, also, kind, name) => {
        fc.pre(kind !== 'address' || /[.:]\d|::/.test(name));
        const subjects = indexSubjects([{ kind, name, also }]);
        const asked = idsOf(`from all\nwhere about ${kind} '${name}'`, events, { subjects });
        expect([...asked].sort()).toEqual(plainly(kind, name, also, events));
      },
    ),
    { numRuns: 400 },
  );
});
