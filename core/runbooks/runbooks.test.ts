import { missingFor, namesOf, fillNames } from './names.js';
import { mistakesOf, readRunbook } from './read-runbook.js';
import { shippedRunbooks } from './shipped.js';
import { END, type Runbook, type Step } from './document.js';
import { stepAfter, ways, type Outcome } from './walk.js';

const alert = {
  title: 'Flows',
  subject: 'hold-fs-01',
  subjectFields: { src_host: 'hold-fs-01', user: 'teo.marrash' },
  evidence: [
    { src_ip: '10.30.0.10', dst_ip: '203.0.113.77', dst_port: 53, protocol: 'udp' },
    { src_ip: '10.30.0.11', user: 'somebody.else' },
  ],
};
const wait = (id: string, go?: string): Step => ({
  id,
  title: id,
  do: 'wait',
  minutes: 1,
  ...(go !== undefined && { go }),
});
const say = (value: unknown): string[] => mistakesOf(value).map(({ message }) => message);

describe.each(Object.entries(shippedRunbooks))('%s', (name, runbook) => {
  it('holds, and every step can be reached', () => {
    expect(readRunbook(JSON.stringify(runbook))).toEqual({ runbook, mistakes: [] });
    expect(name).toMatch(/^[a-z-]+$/);
    const reached = new Set([runbook.steps[0]?.id]);
    for (const [i, step] of runbook.steps.entries()) {
      if (!reached.has(step.id)) continue;
      for (const [, to] of ways(step)) reached.add(to === undefined ? runbook.steps[i + 1]?.id : to);
    }
    expect(runbook.steps.filter(({ id }) => !reached.has(id))).toEqual([]);
  });

  it('ends, however its steps end', () => {
    const outcomes = (step: Step): Outcome[] =>
      step.do === 'hunt'
        ? [true, false].map((found) => ({ step: 'hunt', found }))
        : step.do === 'respond'
          ? [true, false].map((done) => ({ step: 'respond', done }))
          : step.do === 'ask'
            ? step.answers.map((_, answer) => ({ step: 'ask', answer }))
            : [{ step: 'over' }];
    const walk = (step: Step | null | undefined, depth: number): void => {
      expect(depth).toBeLessThanOrEqual(runbook.steps.length);
      if (step === null || step === undefined) return;
      for (const outcome of outcomes(step)) walk(stepAfter(runbook, step, outcome), depth + 1);
    };
    walk(runbook.steps[0], 0);
  });
});

it('goes on with the next step, with the one that is named, or ends', () => {
  const [a, b, c] = [wait('a', 'c'), wait('b', END), wait('c')] as const;
  const runbook: Runbook = { title: 'x', steps: [a, b, c] };
  expect(stepAfter(runbook, a, { step: 'over' })).toBe(c);
  expect(stepAfter(runbook, b, { step: 'over' })).toBeNull();
  expect(stepAfter(runbook, c, { step: 'over' })).toBeNull();
  const hunt: Step = { id: 'h', title: 'h', do: 'hunt', hunt: 'from all', nothing: 'c' };
  const second: Runbook = { title: 'x', steps: [hunt, b, c] };
  expect(stepAfter(second, hunt, { step: 'hunt', found: true })).toBe(b);
  expect(stepAfter(second, hunt, { step: 'hunt', found: false })).toBe(c);
});

it('says of every mistake where it is and what to do', () => {
  const steps = [wait('a'), wait('a'), wait('b', 'a'), wait('c', 'ende'), wait('end')];
  expect(say({ title: 'x', steps })).toEqual([
    'Two steps are called "a": each needs a name of its own.',
    'Step "b" leads back to "a" (then): a runbook only goes forward.',
    'There is no step "ende" (then). Did you mean "end"?',
    'No step may be called "end".',
  ]);
  const one = (step: object): string[] => say({ title: 'x', steps: [{ id: 'a', title: 'A', ...step }] });
  expect(one({ do: 'respond', response: 'revoke-session' })).toEqual([
    '"revoke-session" is no response. Did you mean "revoke-sessions"?',
  ]);
  expect(one({ do: 'respond', response: 'revoke-sessions', hours: 1 })[0]).toContain('it has no end');
  expect(one({ do: 'hunt', hunt: "from all\nwher user = 'x'" })[0]).toMatch(/^Line 2 of the hunt: .*wher/);
  expect(one({ do: 'hunt', hunt: "ask captain 'Captain'\nfrom all\nwhere user = $captain" })[0]).toContain(
    'asks for "captain", which no alert names',
  );
  expect(one({ do: 'wait', minutes: 0 })).toHaveLength(1);
  expect(one({ do: 'shout' })).not.toEqual([]);
  expect(say({ title: 'x', steps: [] })).toHaveLength(1);
  const read = readRunbook(
    '{"title": "x",\n "steps": [\n{"id":"a","title":"A","do":"wait","minutes":1,"then":"b"}]}',
  );
  expect(read.mistakes[0]).toMatchObject({ line: 3, message: expect.stringContaining('"then"') });
  expect(readRunbook('{').mistakes[0]?.message).toContain('This is no JSON');
  expect(readRunbook(' '.repeat(200_000)).mistakes[0]?.message).toContain('at most');
});

it('names what the alert is about first, then what its newest events say', () => {
  expect(namesOf(alert)).toEqual({
    title: 'Flows',
    subject: 'hold-fs-01',
    user: 'teo.marrash',
    host: 'hold-fs-01',
    src_host: 'hold-fs-01',
    src_ip: '10.30.0.11',
    dst_ip: '203.0.113.77',
    address: '203.0.113.77',
    flow: '10.30.0.10 > 203.0.113.77 port 53/udp',
  });
  expect(fillNames('{user} at {src_host}, {constructor}, {captain}', namesOf(alert))).toBe(
    'teo.marrash at hold-fs-01, {constructor}, {captain}',
  );
});

it('says what a runbook needs that an alert does not name', () => {
  const nobody = { title: 'x', subject: 'fw-stavik', subjectFields: {}, evidence: [] };
  const [stolen, leaves] = [shippedRunbooks['stolen-password'], shippedRunbooks['data-leaves']] as [
    Runbook,
    Runbook,
  ];
  expect(missingFor(stolen, nobody)).toEqual(['user']);
  expect(missingFor(leaves, nobody)).toEqual(['src_ip', 'dst_ip', 'flow', 'address']);
  expect(missingFor(leaves, alert)).toEqual([]);
});
