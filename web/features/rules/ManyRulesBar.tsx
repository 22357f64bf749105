import { type JSX, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { changeRule, readRule } from '../../../core/wire/endpoints/rules.js';
import type { ReplayPicture } from '../../../core/wire/replays.js';
import type { RuleSummary } from '../../../core/wire/rules.js';
import { call } from '../../api/call.js';
import { jsonLines } from '../../api/json-lines.js';
import { count, counted } from '../../ui/format.js';
import type { ManyRules, RuleWork } from './use-many-rules.js';

const DAY_MILLISECONDS = 86_400_000;
/** Spans that rules are replayed over, days. */
const SPANS = [1, 7, 30] as const;

/** Replays the newest text of a rule over some days. */
const replayOver =
  (days: number): RuleWork =>
  async ({ id }, signal, report) => {
    const { text } = await call(readRule, { params: { id }, signal });
    const to = Date.now();
    const window = {
      from: new Date(to - days * DAY_MILLISECONDS).toISOString(),
      to: new Date(to).toISOString(),
    };
    let last: ReplayPicture | null = null;
    for await (const picture of jsonLines<ReplayPicture>('/rules/replay', { id, text, window }, signal)) {
      last = picture;
      report(picture.done);
    }
    if (last?.complete !== true) throw new Error('the replay broke off');
    return `${counted(last.matches, 'match', 'matches')}, ${counted(last.alerts, 'alert')}`;
  };

const switchTo =
  (state: 'on' | 'off'): RuleWork =>
  async ({ id, version }, signal) => {
    await call(changeRule, { params: { id }, body: { state, version }, signal });
    return `switched ${state}`;
  };

/** What can be done with the rules that are chosen, and how far it has come. */
export function ManyRulesBar({
  chosen,
  many,
  onNone,
}: {
  chosen: readonly RuleSummary[];
  many: ManyRules;
  onNone: () => void;
}): JSX.Element | null {
  const [days, setDays] = useState<number>(7);
  const all = [...many.ran.values()];
  const over = all.filter(({ how }) => how === 'done' || how === 'failed').length;
  const failed = all.filter(({ how }) => how === 'failed').length;
  if (many.busy)
    return (
      <div className="inset work-bar sm" role="status">
        <span className="grow">
          {many.doing}: {count(over)} of {counted(all.length, 'rule')}
          {failed > 0 && `, ${count(failed)} could not be`}
        </span>
        <div className="reading-bar short-field">
          <i style={{ width: `${Math.round((100 * over) / Math.max(1, all.length))}%` }} />
        </div>
        <button type="button" className="link" onClick={many.stop}>
          Stop
        </button>
      </div>
    );
  if (chosen.length === 0 && many.doing === null) return null;
  // A filter never runs by itself; what is on already needs no switching.
  const off = chosen.filter(({ state, liveVersion, version }) => state !== 'on' || liveVersion !== version);
  const on = chosen.filter(({ state }) => state === 'on');
  return (
    <div className="inset work-bar sm">
      <b className="fw-medium">{counted(chosen.length, 'rule')} chosen</b>
      {chosen.length > 0 && (
        <>
          <Button
            size="sm"
            variant="primary"
            onClick={() => many.start('Replaying', chosen, replayOver(days))}
          >
            Replay
          </Button>
          <Form.Select
            className="short-field"
            size="sm"
            aria-label="How far back"
            value={days}
            onChange={(event) => setDays(Number(event.target.value))}
          >
            {SPANS.map((span) => (
              <option key={span} value={span}>
                {span === 1 ? 'the last day' : `the last ${span} days`}
              </option>
            ))}
          </Form.Select>
          {off.length > 0 && (
            <button
              type="button"
              className="link"
              title="Those whose newest version was replayed and passes its tests"
              onClick={() => many.start('Switching on', off, switchTo('on'))}
            >
              Switch {counted(off.length, 'rule')} on
            </button>
          )}
          {on.length > 0 && (
            <button
              type="button"
              className="link"
              onClick={() => many.start('Switching off', on, switchTo('off'))}
            >
              Switch {counted(on.length, 'rule')} off
            </button>
          )}
        </>
      )}
      <span className="grow">
        {many.doing !== null &&
          `${many.doing} is over: ${count(over - failed)} done${failed === 0 ? '' : `, ${count(failed)} could not be; the list says why`}`}
      </span>
      <button
        type="button"
        className="link"
        onClick={() => {
          many.clear();
          onNone();
        }}
      >
        None
      </button>
    </div>
  );
}
