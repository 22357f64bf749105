import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useEffect, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { changeRule, readRule } from '../../../core/wire/endpoints/rules.js';
import {
  keepCuts,
  listSilentRules,
  proveCuts,
  rankNoise,
  studyNoise,
} from '../../../core/wire/endpoints/tuning.js';
import type { CutWire, RankedRuleWire, RuleChangeWire } from '../../../core/wire/tuning.js';
import { about, answerTo, call } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { Dialog } from '../../kit/Dialog.js';
import { useControlKey, useKeys } from '../../ui/use-keys.js';
import { NoiseList, SHOWN } from './NoiseList.js';
import { RuleNoise } from './RuleNoise.js';
import { useFollowed } from './use-followed.js';
import { keyOfCut, type Way, WaysSheet } from './WaysSheet.js';
import { WriteOwn } from './WriteOwn.js';

const USUAL = { show: 'rules' } as const;
const DAY = 86_400_000;
const PROOF_DAYS = 30;
/** Nothing may have been ticked for so long before it is replayed. */
const PAUSE = 250;
/** Where values that rules leave out are kept. */
const LIST = 'left-out';

/** Cuts that the address brings along, such as from an alert: `leave=user:lb-check`. */
function broughtAlong(parameters: URLSearchParams): CutWire[] {
  const all = parameters.getAll('leave').flatMap((one) => {
    const at = one.indexOf(':');
    return at <= 0 ? [] : [{ field: one.slice(0, at), op: 'equals' as const, value: one.slice(at + 1) }];
  });
  return all.length === 0 ? [] : [{ all: all.slice(0, 5) }];
}

const wordsOf = ({ all }: CutWire): string =>
  all.map(({ field, value }) => `${field} is ${value ?? ''}`).join(', ');

/** What somebody is doing about one rule. */
interface Work {
  readonly rule: string | null;
  /** Ways that are chosen, by their keys. */
  readonly ticked: ReadonlySet<string>;
  /** The version that was kept just now, and the text before it. */
  readonly kept: { readonly version: number; readonly before: string } | null;
  readonly asList: boolean;
  /** The reason, while it is asked for. */
  readonly why: string | null;
}

/** The tuning bench: where noise comes from, what would cut it, and the proof. */
export function TuningPage(): JSX.Element {
  const { id = null } = useParams();
  const [parameters, setParameters] = useSearchParams();
  const { at: asked } = useAsked();
  const { beam } = useBeam(asked);
  const state = useAddressState(USUAL);
  const navigate = useNavigate();
  const client = useQueryClient();
  const mayChange = usePerson().role !== 'reader';
  const search = beamSearch(parameters);
  const shown = oneOf(SHOWN, state.values.show) ?? 'rules';
  // A day is too short to see noise: where the address says nothing, a week is meant.
  const unsaid = !parameters.has('last') && !parameters.has('from');
  useEffect(() => {
    if (!unsaid) return;
    setParameters(
      (before) => {
        const next = new URLSearchParams(before);
        next.set('last', '7d');
        return next;
      },
      { replace: true },
    );
  }, [unsaid, setParameters]);
  const ranking = useQuery({ ...answerTo(rankNoise, { query: beam.window }), enabled: !unsaid });
  const silent = useQuery({
    ...answerTo(listSilentRules, { query: beam.window }),
    enabled: !unsaid && shown === 'silent',
  });
  const rules = useMemo(
    () =>
      (ranking.data?.rules ?? []).filter(
        ({ matches, alerts, id: own }) => matches + alerts > 0 || own === id,
      ),
    [ranking.data, id],
  );
  const chosen: RankedRuleWire | null = rules.find((rule) => rule.id === id) ?? null;
  const addressOf = (rule: string): string => {
    const next = new URLSearchParams(search);
    if (shown !== 'rules') next.set('show', shown);
    return `/tuning/${rule}?${next}`;
  };
  const first = rules[0];
  useEffect(() => {
    if (id === null && first !== undefined && shown === 'rules')
      void navigate(addressOf(first.id), { replace: true });
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id, first, shown]);

  const window = useMemo(() => {
    // By whole hours, so that what was read once is still known.
    const to = Math.ceil(asked / 3_600_000) * 3_600_000;
    return { from: new Date(to - PROOF_DAYS * DAY).toISOString(), to: new Date(to).toISOString() };
  }, [asked]);
  const {
    followed: studied,
    stop,
    again,
  } = useFollowed(studyNoise, id === null ? null : { params: { id }, body: { window } });
  const study = studied.newest?.piece === 'study' ? studied.newest : null;
  const ways = useMemo((): Way[] => {
    const proposed = (study?.proposals ?? []).map((one): Way => ({
      all: one.all,
      key: keyOfCut(one),
      words: one.words,
      proposal: one,
    }));
    const brought = broughtAlong(parameters)
      .map((cut): Way => ({ ...cut, key: keyOfCut(cut), words: wordsOf(cut), proposal: null }))
      .filter(({ key }) => !proposed.some((one) => one.key === key));
    return study === null ? [] : [...brought, ...proposed];
  }, [study, parameters]);

  const [own, setOwn] = useState<{ readonly begin: RuleChangeWire | null } | null>(null);
  const [held, setHeld] = useState<Work | null>(null);
  // What was done belongs to its rule: with another one it begins anew, with what the address brings along ticked.
  const begun: Work = {
    rule: id,
    ticked: new Set(broughtAlong(parameters).map(keyOfCut)),
    kept: null,
    asList: false,
    why: null,
  };
  const work = held?.rule === id ? held : begun;
  const { ticked, kept, asList, why } = work;
  const put = (change: Partial<Work>): void =>
    setHeld((before) => ({ ...(before?.rule === id ? before : begun), ...change }));
  const tick = (key: string): void => {
    const next = new Set(ticked);
    if (!next.delete(key)) next.add(key);
    put({ ticked: next, kept: null });
  };
  const cuts = ways.filter(({ key }) => ticked.has(key)).map(({ all }) => ({ all }));
  const { followed: proved, stop: stopProof } = useFollowed(
    proveCuts,
    id === null || cuts.length === 0 || kept !== null ? null : { params: { id }, body: { window, cuts } },
    PAUSE,
  );
  const newest = proved.newest?.piece === 'proof' ? proved.newest : null;
  const earlier = proved.before?.piece === 'proof' ? proved.before : null;
  const proof = newest ?? (proved.status === 'running' ? earlier : null);
  const listable =
    cuts.length > 0 &&
    ways.filter(({ key }) => ticked.has(key)).every(({ proposal }) => proposal?.list != null);

  const keep = useMutation({
    mutationFn: async (said: { why: string; text?: string; lose?: boolean }) => {
      if (id === null) throw new Error('No rule is chosen.');
      const before = await call(readRule, { params: { id } });
      const rule = await call(keepCuts, {
        params: { id },
        body: {
          version: study?.version ?? before.version,
          why: said.why,
          window,
          ...(said.text === undefined ? { cuts } : { text: said.text }),
          ...(said.text === undefined && asList && listable && { form: 'list', list: { name: LIST } }),
          ...(said.lose === true && { lose: true }),
        },
      });
      return { rule, before: before.text };
    },
    onSuccess: async ({ rule, before }) => {
      put({ kept: { version: rule.version, before }, why: null });
      setOwn(null);
      await Promise.all([
        client.invalidateQueries(about('rules')),
        client.invalidateQueries(about('tuning')),
      ]);
    },
  });
  const undo = useMutation({
    mutationFn: async () => {
      if (id === null || kept === null) return;
      await call(changeRule, {
        params: { id },
        body: {
          text: kept.before,
          why: `back to what was before version ${kept.version}`,
          state: 'on',
          version: kept.version,
        },
      });
    },
    onSuccess: async () => {
      put({ kept: null, ticked: new Set() });
      await client.invalidateQueries(about('rules'));
      again();
    },
  });
  const loses = (newest?.realLost.length ?? 0) > 0;
  const mayKeep =
    mayChange && newest !== null && cuts.length > 0 && kept === null && proved.status === 'done';
  const askKeep = (): void => {
    if (mayKeep)
      put({
        why: `leave out: ${ways
          .filter(({ key }) => ticked.has(key))
          .map(({ words }) => words)
          .join('; ')}`.slice(0, 900),
      });
  };
  useControlKey('enter', askKeep);
  const at = rules.findIndex((rule) => rule.id === id);
  const go = (to: RankedRuleWire | undefined): void => {
    if (to !== undefined) void navigate(addressOf(to.id));
  };
  useKeys({
    j: () => go(rules[at + 1]),
    k: () => go(rules[at - 1]),
    s: () => state.put({ show: shown === 'subjects' ? 'rules' : 'subjects' }),
    u: () => kept !== null && undo.mutate(),
    Escape: () => void navigate(`/rules${search}`),
  });
  const days = Math.max(1, Math.round((Date.parse(beam.window.to) - Date.parse(beam.window.from)) / DAY));
  return (
    <main className="bench bench-tuning">
      <NoiseList
        ranking={ranking.data}
        failure={ranking.error}
        silent={silent.data?.silent}
        silentFailure={silent.error}
        shown={shown}
        onShow={(show) => state.put({ show })}
        rules={rules}
        chosen={id}
        days={days}
        search={search}
        addressOf={addressOf}
        mayChange={mayChange}
      />
      <RuleNoise
        rule={chosen}
        study={study}
        progress={
          studied.status === 'running'
            ? studied.newest?.piece === 'progress'
              ? studied.newest.done
              : 0
            : null
        }
        failure={studied.failure}
        onStop={stop}
        onAgain={again}
        window={window}
        beam={beam.window}
        zone={beam.zone}
        search={search}
        chosenWays={cuts.length}
        keptNow={kept?.version ?? null}
      />
      <WaysSheet
        rule={chosen?.id ?? null}
        study={study}
        ways={ways}
        ticked={ticked}
        onTick={tick}
        proof={kept === null ? proof : null}
        proving={
          proved.status === 'running' ? (proved.newest?.piece === 'progress' ? proved.newest.done : 0) : null
        }
        failure={proved.failure}
        onStop={stopProof}
        onKeep={askKeep}
        keeping={keep.isPending}
        keepFailure={why === null && own === null ? (keep.error ?? undo.error) : null}
        onUndo={mayChange ? () => undo.mutate() : null}
        kept={kept?.version ?? null}
        mayChange={mayChange}
        onWriteOwn={(begin) => {
          keep.reset();
          setOwn({ begin });
        }}
        list={listable ? { name: LIST, on: asList, onChange: (on: boolean) => put({ asList: on }) } : null}
        window={window}
        zone={beam.zone}
        search={search}
      />
      {why !== null && newest !== null && (
        <Dialog
          title={`Keep as version ${(study?.version ?? 0) + 1}`}
          onClose={() => put({ why: null })}
          onSend={() => keep.mutate({ why: why.trim(), ...(loses && { lose: true }) })}
          foot={
            <>
              <Button variant="outline-secondary" onClick={() => put({ why: null })}>
                Cancel
              </Button>
              <Button type="submit" variant="primary" disabled={why.trim() === '' || keep.isPending}>
                {keep.isPending ? 'Keeping' : loses ? 'Keep it, and lose the real ones' : 'Keep'}
              </Button>
            </>
          }
        >
          <p className="sm">
            {newest.before.alerts.toLocaleString('en-GB')} alerts become{' '}
            {newest.after.alerts.toLocaleString('en-GB')} over {PROOF_DAYS} days. The version goes on at once;
            the proof is kept with it, and after a week how it did.
          </p>
          {loses && (
            <p className="sm bad">
              It loses {newest.realLost.length} settled as real:{' '}
              {newest.realLost.map(({ subject }) => subject).join('; ')}.
            </p>
          )}
          <label className="form-label sm mb-0" htmlFor="keep-why">
            Why
          </label>
          <textarea
            id="keep-why"
            className="form-control form-control-sm"
            rows={3}
            maxLength={1000}
            required
            autoFocus
            value={why}
            onChange={(event) => put({ why: event.target.value })}
          />
          {keep.error !== null && <p className="sm bad mb-0">{keep.error.message}</p>}
        </Dialog>
      )}
      {own && id !== null && (
        <WriteOwn
          rule={id}
          begin={own.begin}
          window={window}
          zone={beam.zone}
          search={search}
          mayChange={mayChange}
          onKeep={(text, reason) => keep.mutate({ text, why: reason })}
          keeping={keep.isPending}
          failure={keep.error}
          onClose={() => setOwn(null)}
        />
      )}
    </main>
  );
}
