import { useQuery } from '@tanstack/react-query';
import type { JSX } from 'react';
import { useWatch } from 'react-hook-form';
import type { Board, BoardSchedule } from '../../../core/boards/board.js';
import type { BoardSheets } from '../../../core/wire/boards.js';
import { listBoardSheets, readBoardSheet } from '../../../core/wire/endpoints/boards.js';
import { listDestinations } from '../../../core/wire/endpoints/destinations.js';
import { reaches } from '../../../core/wire/people.js';
import { addressOf, answerTo } from '../../api/call.js';
import { ownWindowWords } from '../../boards/window-words.js';
import { Dialog } from '../../kit/Dialog.js';
import { ChoiceField, FieldsForm, TextField } from '../../kit/form.js';
import { showTime } from '../../ui/format.js';
import { Empty, Failed, Reading } from '../../ui/State.js';
import { cronOf, cronWords, readCron, type ScheduleDays, scheduleDays } from './schedule-words.js';
import type { BoardPage } from './use-board-page.js';

interface Values {
  days: ScheduleDays;
  time: string;
  cron: string;
  zone: string;
  last: string;
  mail: string;
}

const lastWords = (last: string): string => `the ${ownWindowWords({ last }).replace(/^the /, '')}`;
const WINDOWS = ['24h', '7d', '30d', '90d'] as const;

/** What a board showed at the times of its schedule, and when those are. */
export function SheetsOfBoard({ page, onClose }: { page: BoardPage; onClose: () => void }): JSX.Element {
  const { id, board, beam, mine } = page;
  const asked = useQuery({ ...answerTo(listBoardSheets, { params: { id } }), refetchInterval: 5000 });
  const schedule = board?.schedule;
  return (
    <Dialog title="Sheets of this board" size="lg" onClose={onClose}>
      <p className="sm mb-2">
        {schedule === undefined
          ? 'A board with a schedule is answered at its times by itself, and what it showed is kept as a sheet.'
          : `Answered ${cronWords(schedule.cron)} ${schedule.zone ?? 'UTC'}, each time over ${lastWords(schedule.last)}.`}
        {asked.data?.next != null && ` Next: ${showTime(asked.data.next, beam.zone, 'minute')} ${beam.zone}.`}
      </p>
      {mine && board !== null && <ScheduleForm page={page} board={board} />}
      <h3 className="sheet-title mt-3 mb-1">Kept</h3>
      {asked.isError && <Failed title="The sheets cannot be shown">{asked.error.message}</Failed>}
      {asked.isPending && <Reading title="Fetching the sheets" />}
      {asked.data?.sheets.length === 0 && (
        <Empty title="No sheet yet">The first is made at the first time of the schedule.</Empty>
      )}
      <ul className="entries scroll-box" aria-label="Sheets">
        {asked.data?.sheets.map((sheet) => (
          <SheetEntry key={sheet.id} board={id} sheet={sheet} zone={beam.zone} />
        ))}
      </ul>
      {(asked.data?.sheets.length ?? 0) > 0 && (
        <p className="xs soft mb-0">Times are {beam.zone}. The newest 30 are kept.</p>
      )}
    </Dialog>
  );
}

function SheetEntry({
  board,
  sheet,
  zone,
}: {
  readonly board: string;
  readonly sheet: BoardSheets['sheets'][number];
  readonly zone: string;
}): JSX.Element {
  const at = showTime(sheet.due, zone, 'minute');
  return (
    <li className="py-1">
      {sheet.page ? (
        <a
          className="mono"
          href={`/api/v1${addressOf(readBoardSheet, { params: { id: board, sheet: String(sheet.id) } })}`}
          target="_blank"
          rel="noreferrer"
        >
          {at}
        </a>
      ) : (
        <span className="mono">{at}</span>
      )}{' '}
      <span className="sm">
        {sheet.made === null
          ? 'is being made'
          : `${sheet.cards} cards${sheet.failed > 0 ? `, ${sheet.failed} could not be counted` : ''} · version ${sheet.version}`}
      </span>
      {sheet.problem !== null && <span className="sm problem d-block">{sheet.problem}</span>}
      {sheet.mailed.map(({ to, state, said }, i) => (
        <span key={i} className={`xs d-block ${state === 'dead' ? 'problem' : 'soft'}`}>
          {state === 'sent'
            ? (said ?? `mailed to ${to}`)
            : `mail to ${to} ${state === 'dead' ? 'was given up' : 'waits'}${said === null ? '' : `: ${said}`}`}
        </span>
      ))}
    </li>
  );
}

function ScheduleForm({ page, board }: { readonly page: BoardPage; readonly board: Board }): JSX.Element {
  const { keep, person, blanks, beam } = page;
  const { schedule } = board;
  const mails = reaches(person.role, 'analyst');
  const begin: Values = {
    ...readCron(schedule?.cron ?? '0 7 * * *'),
    cron: schedule?.cron ?? '0 7 * * 1-5',
    zone: schedule?.zone ?? beam.zone,
    last: schedule?.last ?? '24h',
    mail: schedule?.mail?.join(', ') ?? '',
  };
  const { schedule: _before, ...without } = board;
  const send = ({ days, time, cron, zone, last, mail }: Values): void => {
    const to = mail
      .split(/[\s,;]+/)
      .map((name) => name.trim())
      .filter((name) => name !== '');
    const next: BoardSchedule = {
      cron: days === 'cron' ? cron.trim() : cronOf(days, time),
      zone: zone.trim(),
      last,
      ...(Object.keys(blanks).length > 0
        ? { inputs: { ...blanks } }
        : schedule?.inputs !== undefined && { inputs: schedule.inputs }),
      ...(to.length > 0 && { mail: [...new Set(to)] }),
    };
    keep.mutate({ next: { ...without, schedule: next } });
  };
  return (
    <FieldsForm<Values>
      key={JSON.stringify(schedule ?? null)}
      label="Schedule"
      className="d-grid gap-2"
      begin={begin}
      onSend={send}
      send={schedule === undefined ? 'Put it on this schedule' : 'Change the schedule'}
      isSending={keep.isPending}
      failure={keep.error}
      also={
        schedule !== undefined && (
          <button type="button" className="link" onClick={() => keep.mutate({ next: without })}>
            Take it off its schedule
          </button>
        )
      }
    >
      <div className="field-columns">
        <ChoiceField<Values> name="days" label="On" choices={Object.entries(scheduleDays)} />
        <TimeField />
        <TextField<Values> name="zone" label="Time zone" required maxLength={60} />
        <ChoiceField<Values>
          name="last"
          label="Over"
          choices={[...new Set<string>([...WINDOWS, begin.last])].map((last) => [last, lastWords(last)])}
        />
      </div>
      {mails && <MailField />}
      {Object.keys(blanks).length > 0 && (
        <p className="xs soft mb-0">
          With the inputs as they stand:{' '}
          {Object.entries(blanks)
            .map(([name, value]) => `${name} = ${value}`)
            .join(', ')}
        </p>
      )}
    </FieldsForm>
  );
}

/** A time of day, or a whole cron expression where no words say which days. */
function TimeField(): JSX.Element {
  const days = useWatch<Values, 'days'>({ name: 'days' });
  return days === 'cron' ? (
    <TextField<Values>
      name="cron"
      label="Cron"
      title="minute, hour, day, month, weekday"
      required
      maxLength={200}
      className="mono"
    />
  ) : (
    <TextField<Values> name="time" label="At" type="time" required />
  );
}

function MailField(): JSX.Element {
  const found = useQuery(answerTo(listDestinations));
  const boxes = found.data?.destinations.filter(({ kind }) => kind === 'mail').map(({ name }) => name) ?? [];
  return (
    <TextField<Values>
      name="mail"
      label="Mailed to"
      className="mono"
      maxLength={700}
      hint={
        boxes.length === 0
          ? 'There is no destination for mail yet: make one under Rules, Destinations.'
          : `Destinations for mail, with commas between them: ${boxes.join(', ')}.`
      }
    />
  );
}
