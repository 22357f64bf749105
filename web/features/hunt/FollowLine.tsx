import type { JSX } from 'react';
import { count } from '../../ui/format.js';
import { MAX_LIVE_ROWS, paceOf, type Followed } from './use-follow.js';

const rate = (perSecond: number): string =>
  perSecond === 0 ? '0' : perSecond < 10 ? perSecond.toFixed(1) : count(perSecond);

/** How a followed hunt goes: its pace, what waits, and a way to hold it. */
export function FollowLine({
  followed,
  onPause,
}: {
  followed: Followed;
  onPause: (paused: boolean) => void;
}): JSX.Element {
  const { status, paused, waiting, matched, passedOver } = followed;
  const pace = paceOf(followed);
  return (
    <div className="follow-line" role="region" aria-label="Follow live">
      <span className="grow">
        {status === 'opening' && 'Beginning to follow…'}
        {status === 'lost' && 'The connection was lost; it is being opened again.'}
        {status === 'refused' && 'This hunt cannot be followed as it stands.'}
        {status === 'following' && (
          <>
            {paused ? 'Held' : followed.pointedAt ? 'Standing still under the pointer' : 'Following'}:{' '}
            <b>{rate(pace.matched)}</b> of {rate(pace.read)} events a second, {count(matched)} since it began
            {waiting.rows.length > 0 &&
              ` · ${count(waiting.rows.length)}${waiting.rows.length >= MAX_LIVE_ROWS ? '+' : ''} new rows wait`}
            {passedOver > 0 && ` · ${count(passedOver)} came too fast and were passed over`}
          </>
        )}
      </span>
      {status === 'following' && (
        <button type="button" className="link" aria-keyshortcuts="P" onClick={() => onPause(!paused)}>
          {paused ? (waiting.rows.length > 0 ? 'Show them and go on' : 'Go on') : 'Hold'}
          <kbd aria-hidden>P</kbd>
        </button>
      )}
    </div>
  );
}
