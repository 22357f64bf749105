import type { JSX } from 'react';
import { Link } from 'react-router';
import type { UserDossier } from '../../../core/wire/dossiers.js';
import { quoteText } from '../../../core/wick/spell.js';
import { counted } from '../../ui/format.js';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** 0 to 5: steps of the heat scale by the square root, so that a lone event is seen beside hundreds. */
const heatOf = (value: number, most: number): number =>
  value === 0 ? 0 : Math.max(1, Math.ceil(Math.sqrt(value / most) * 5));

/** The hours someone is active, by weekday. */
export function HourHeat({
  hours,
  zone,
  huntFor,
}: {
  hours: UserDossier['hours'];
  zone: string;
  huntFor: (condition: string) => string;
}): JSX.Element {
  const byHour = new Map(hours.map(({ weekday, hour, count: events }) => [`${weekday} ${hour}`, events]));
  const most = Math.max(1, ...hours.map((one) => one.count));
  return (
    <div className="inset pb-2">
      <div className="heat-hours" role="group" aria-label="Events by weekday and hour">
        {DAYS.map((day, i) => [
          <span key={day}>{day}</span>,
          ...Array.from({ length: 24 }, (_, hour) => {
            const events = byHour.get(`${i + 1} ${hour}`) ?? 0;
            const label = `${day} ${String(hour).padStart(2, '0')}:00, ${counted(events, 'event')}`;
            const condition = `weekday(time, ${quoteText(zone)}) = ${i + 1} and hour(time, ${quoteText(zone)}) = ${hour}`;
            return events === 0 ? (
              <span key={hour} className="heat-cell" title={label} />
            ) : (
              <Link
                key={hour}
                className="heat-cell"
                data-heat={heatOf(events, most)}
                title={label}
                aria-label={label}
                to={huntFor(condition)}
              />
            );
          }),
        ])}
        <span />
        {Array.from({ length: 24 }, (_, hour) => (
          <span key={hour}>{hour % 6 === 0 ? String(hour).padStart(2, '0') : ''}</span>
        ))}
      </div>
    </div>
  );
}
