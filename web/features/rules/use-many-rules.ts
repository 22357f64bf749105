import { useCallback, useEffect, useRef, useState } from 'react';
import type { RuleSummary } from '../../../core/wire/rules.js';

/** How it went with one of many rules. */
export type Ran =
  | { readonly how: 'waits' }
  | { readonly how: 'runs'; readonly done: number }
  | { readonly how: 'done'; readonly said: string }
  | { readonly how: 'failed'; readonly why: string };

/** What is done with one rule. @returns what came of it, in words; throws why it could not be done */
export type RuleWork = (
  rule: RuleSummary,
  signal: AbortSignal,
  report: (done: number) => void,
) => Promise<string>;

/** Something that is done with many rules, one after the other. */
export interface ManyRules {
  /** What is being done, or was done last; null before. */
  readonly doing: string | null;
  readonly busy: boolean;
  readonly ran: ReadonlyMap<string, Ran>;
  readonly start: (doing: string, rules: readonly RuleSummary[], work: RuleWork) => void;
  readonly stop: () => void;
  readonly clear: () => void;
}

const NONE: ReadonlyMap<string, Ran> = new Map();

/**
 * Does something with many rules, one after the other: what cannot be done with one is told and the next goes on.
 * Stopping ends the one that runs; those that waited are left as they are.
 * @param onOver is called after each run, also where it was stopped
 */
export function useManyRules(onOver: () => void): ManyRules {
  const [state, setState] = useState<Pick<ManyRules, 'doing' | 'busy' | 'ran'>>({
    doing: null,
    busy: false,
    ran: NONE,
  });
  const running = useRef<AbortController | null>(null);
  useEffect(() => () => running.current?.abort(), []);
  const put = (id: string, ran: Ran): void =>
    setState((before) => ({ ...before, ran: new Map(before.ran).set(id, ran) }));
  const start: ManyRules['start'] = (doing, rules, work) => {
    running.current?.abort();
    const controller = new AbortController();
    running.current = controller;
    const { signal } = controller;
    setState({ doing, busy: true, ran: new Map(rules.map(({ id }) => [id, { how: 'waits' }])) });
    const all = async (): Promise<void> => {
      for (const rule of rules) {
        if (signal.aborted) return;
        put(rule.id, { how: 'runs', done: 0 });
        try {
          const said = await work(rule, signal, (done) => {
            if (!signal.aborted) put(rule.id, { how: 'runs', done });
          });
          put(rule.id, { how: 'done', said });
        } catch (error) {
          // What was stopped did not fail, and what came after a newer run is none of its business.
          if (signal.aborted) return;
          put(rule.id, { how: 'failed', why: error instanceof Error ? error.message : String(error) });
        }
      }
    };
    void all().finally(() => {
      if (running.current !== controller) return;
      setState((before) => ({ ...before, busy: false, ran: ended(before.ran) }));
      onOver();
    });
  };
  const stop = useCallback(() => running.current?.abort(), []);
  const clear = useCallback(() => setState({ doing: null, busy: false, ran: NONE }), []);
  return { ...state, start, stop, clear };
}

/** What neither was done nor failed was not reached. */
const ended = (ran: ReadonlyMap<string, Ran>): ReadonlyMap<string, Ran> =>
  new Map([...ran].filter(([, { how }]) => how === 'done' || how === 'failed'));
