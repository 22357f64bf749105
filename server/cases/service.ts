import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import type { CaseRole, Marking } from '../../core/cases/words.js';
import { techniques } from '../../core/sigma/techniques.js';
import type { CaseChange, CaseDetail, CaseList, CaseSummary, NewPin } from '../../core/wire/cases.js';
import type { PageAsk } from '../../core/wire/paging.js';
import { requirePerson, type Alerts } from '../alerts/service.js';
import { readPage, toPage } from '../db/pages.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { type CaseDesk, tellCase } from './desk.js';
import { briefOf, type Frozen, type PinSays } from './freeze.js';
import { type CasePins, MAX_PARTS, type PinRow } from './pins.js';
import {
  ADD_CASE,
  ADD_NOTE,
  ADD_TASK,
  CASE_SUMMARIES,
  CHANGE_CASE,
  DRAFTS_OF_CASE,
  DROP_DRAFT,
  DROP_SUBJECT,
  HAS_SEEN,
  HEAD_OF_CASE,
  KEEP_DRAFT,
  LINKS_OF_CASE,
  LOCK_NUMBERS,
  NOTES_OF_CASE,
  OPEN_ALERTS_OF_CASE,
  PINS_OF_CASE,
  PUT_SUBJECT,
  READ_CASES,
  SUBJECTS_OF_CASE,
  TASKS_OF_CASE,
  TICK_TASK,
  WATCHED,
  WATCHERS_OF_CASE,
} from './sql.js';

interface CaseRow {
  readonly id: number;
  readonly number: string;
  readonly title: string;
  readonly owner: string;
  readonly state: CaseSummary['state'];
  readonly severity: CaseSummary['severity'];
  readonly verdict: CaseSummary['verdict'];
  readonly waiting_on: string;
  readonly created: Instant;
  readonly updated: Instant;
  readonly pins: number;
}
interface HeadRow {
  readonly lede: string;
  readonly marking: Marking;
  readonly handed_by: string | null;
  readonly handed_line: string;
  readonly handed_at: Instant | null;
  readonly merged_into: number | null;
}
interface NoteRow {
  readonly id: number;
  readonly who: string;
  readonly at: Instant;
  readonly text: string;
  readonly pin: number | null;
  readonly in_report: boolean;
  readonly is_line: boolean;
}
interface TaskRow {
  readonly id: number;
  readonly what: string;
  readonly owner: string;
  readonly due: Instant | null;
  readonly done: Instant | null;
  readonly done_by: string | null;
}
interface DraftRow {
  readonly who: string;
  readonly text: string;
  readonly pin: number | null;
  readonly updated: Instant;
  readonly fresh: boolean;
}

/** Somebody is writing while their draft was kept within so long. */
const WRITING = '2 minutes';
const moment = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

const toSummary = (row: CaseRow, watched: CaseSummary['watched'] = null): CaseSummary => ({
  id: row.id,
  number: row.number,
  title: row.title,
  owner: row.owner,
  state: row.state,
  severity: row.severity,
  verdict: row.verdict,
  waitingOn: row.waiting_on,
  created: formatInstant(row.created),
  updated: formatInstant(row.updated),
  pins: row.pins,
  watched,
});

/** Cases: what belongs together, who works on it, and what was made of it. */
export class Cases {
  private readonly pool: Pool;

  constructor(
    private readonly desk: CaseDesk,
    private readonly pins: CasePins,
    private readonly alerts: Alerts,
  ) {
    this.pool = desk.pool;
  }

  /** Open ones first, then the newest. @param who asks: what they follow is told */
  async all(asked: PageAsk, who: string): Promise<CaseList> {
    const page = readPage(asked, 3);
    const { rows } = await this.pool.query<CaseRow & { place: [string, string, string] }>(READ_CASES, [
      ...page.after,
      page.rows,
    ]);
    const { shown, next } = toPage(rows, asked);
    const { rows: watched } = await this.pool.query<{ id: number; news: boolean }>(WATCHED, [
      shown.map(({ id }) => id),
      who,
    ]);
    const news = new Map(watched.map((one) => [one.id, one.news ? ('news' as const) : ('seen' as const)]));
    return { cases: shown.map((row) => toSummary(row, news.get(row.id))), next };
  }

  /** @param who reads it: their draft is shown to them @throws Failure 404 */
  async one(id: number, who: string): Promise<CaseDetail> {
    const { pool } = this;
    const [found, head, pins, notes, tasks, subjects, drafts, watchers, links] = await Promise.all([
      pool.query<CaseRow>(`${CASE_SUMMARIES} WHERE c.id = $1`, [id]),
      pool.query<HeadRow>(HEAD_OF_CASE, [id]),
      pool.query<PinRow & { says: PinSays | null }>(PINS_OF_CASE, [id, MAX_PARTS]),
      pool.query<NoteRow>(NOTES_OF_CASE, [id, MAX_PARTS]),
      pool.query<TaskRow>(TASKS_OF_CASE, [id, MAX_PARTS]),
      pool.query<{ kind: string; name: string; role: CaseRole }>(SUBJECTS_OF_CASE, [id, MAX_PARTS]),
      pool.query<DraftRow>(DRAFTS_OF_CASE, [id, WRITING]),
      pool.query<{ who: string }>(WATCHERS_OF_CASE, [id]),
      pool.query<CaseDetail['links'][number]>(LINKS_OF_CASE, [id]),
    ]);
    const row = found.rows[0];
    const top = head.rows[0];
    if (row === undefined || top === undefined) throw notFound(`case ${id}`);
    const said = pins.rows.map(({ says, ...pin }) => ({ pin, says: says ?? briefOf(null) }));
    const known = new Set(subjects.rows.map(({ kind, name }) => `${kind} ${name}`));
    const named = new Map(
      said.flatMap(({ says }) => says.subjects.map((one) => [`${one.kind} ${one.name}`, one] as const)),
    );
    const follows = watchers.rows.some((watcher) => watcher.who === who);
    if (follows) await pool.query(HAS_SEEN, [id, who]);
    const own = drafts.rows.find((draft) => draft.who === who);
    const ids = [...new Set(said.flatMap(({ says }) => says.techniques))].sort();
    return {
      ...toSummary(row, follows ? 'seen' : null),
      lede: top.lede,
      marking: top.marking,
      handed:
        top.handed_by === null || top.handed_at === null
          ? null
          : { by: top.handed_by, line: top.handed_line, at: formatInstant(top.handed_at) },
      mergedInto: top.merged_into,
      pinned: said.map(({ pin: { time, at, ...pin }, says }) => ({
        ...pin,
        time: moment(time),
        at: formatInstant(at),
        outcome: says.outcome,
        level: says.level,
        place: says.place,
      })),
      notes: notes.rows.map(({ at, in_report, is_line, ...note }) => ({
        ...note,
        at: formatInstant(at),
        inReport: in_report,
        isLine: is_line,
      })),
      tasks: tasks.rows.map(({ due, done, done_by, ...task }) => ({
        ...task,
        due: moment(due),
        done: moment(done),
        doneBy: done_by,
      })),
      subjects: [
        ...subjects.rows,
        ...[...named].flatMap(([key, one]) => (known.has(key) ? [] : [{ ...one, role: null }])),
      ].slice(0, MAX_PARTS),
      techniques: ids.map((one) => ({ id: one, name: techniques[one.toLowerCase()] ?? '' })),
      draft: own === undefined ? null : { text: own.text, pin: own.pin, at: formatInstant(own.updated) },
      watchers: watchers.rows.map((watcher) => watcher.who),
      links: links.rows,
      writing: drafts.rows.flatMap((draft) => (draft.fresh && draft.who !== who ? [draft.who] : [])),
    };
  }

  /** Opens a case with what is pinned to it. @throws Failure 404, 422 */
  async add(title: string, pins: readonly NewPin[], who: string, signal: AbortSignal): Promise<CaseDetail> {
    const frozen: Frozen[] = [];
    for (const pin of pins) frozen.push(await this.pins.freeze(pin, signal));
    const id = await transaction(this.pool, async (client) => {
      await client.query(LOCK_NUMBERS);
      const { rows } = await client.query<{ id: number }>(ADD_CASE, [title, who]);
      const made = rows[0]?.id ?? 0;
      for (const [i, pin] of pins.entries()) await this.pins.pinIn(client, made, pin, frozen[i], who);
      return made;
    });
    return this.one(id, who);
  }

  /**
   * Changes what stands at its head; what was done stands as a line in the notes.
   * @throws Failure 404; 422 where nobody of that name works here, or it is closed without a verdict
   */
  async change(id: number, change: CaseChange, who: string): Promise<CaseDetail> {
    const { title, owner, line = '', state, verdict, severity, waitingOn, lede, marking } = change;
    if (state === 'closed' && (verdict === undefined || verdict === null))
      throw new Failure('needs-verdict', 'A case is closed with a verdict: real, harmless, wrong or unsure.');
    const { rows: open } =
      state === 'closed' && change.settle === true
        ? await this.pool.query<{ id: number }>(OPEN_ALERTS_OF_CASE, [id])
        : { rows: [] };
    await transaction(this.pool, async (client) => {
      if (owner !== undefined) await requirePerson(client, owner);
      const { rowCount } = await client.query(CHANGE_CASE, [
        id,
        title ?? null,
        owner ?? null,
        state ?? null,
        verdict === undefined ? null : (verdict ?? ''),
        severity === undefined ? null : (severity ?? ''),
        waitingOn ?? null,
        lede ?? null,
        marking ?? null,
        who,
        line,
      ]);
      if (rowCount === 0) throw notFound(`case ${id}`);
      const said = [
        ...(title === undefined ? [] : [`renamed to “${title}”`]),
        ...(owner === undefined ? [] : [`handed to ${owner}${line === '' ? '' : `: ${line}`}`]),
        ...(state === undefined ? [] : [state === 'closed' ? `closed as ${verdict ?? ''}` : 'opened again']),
        ...(severity === undefined ? [] : [`severity ${severity ?? 'as its alerts say'}`]),
        ...(waitingOn === undefined ? [] : [waitingOn === '' ? 'waits no more' : `waits for ${waitingOn}`]),
        ...(marking === undefined ? [] : [`marked TLP:${marking.toUpperCase()}`]),
      ];
      if (said.length > 0) await this.desk.line(client, id, who, said.join(', '));
      await tellCase(client, id);
    });
    if (open.length > 0 && verdict !== undefined && verdict !== null)
      await this.alerts.changeMany(
        open.map((alert) => alert.id),
        { state: 'settled', verdict, reason: `with case ${id}` },
        who,
      );
    return this.one(id, who);
  }

  /** @throws Failure 404 */
  async note(
    id: number,
    note: { readonly text: string; readonly pin?: number | null; readonly inReport?: boolean },
    who: string,
  ): Promise<CaseDetail> {
    await this.desk.work(id, async (client) => {
      await client.query(ADD_NOTE, [id, who, note.text, note.pin ?? null, note.inReport ?? true, false]);
      await client.query(DROP_DRAFT, [id, who]);
    });
    return this.one(id, who);
  }

  /** Keeps a note of one's own while it is written. @throws Failure 404 */
  async draft(id: number, text: string, pin: number | null, who: string): Promise<void> {
    // It changes nothing of the case: lists stay as they were.
    await transaction(this.pool, async (client) => {
      const { rows } = await client.query<HeadRow>(HEAD_OF_CASE, [id]);
      if (rows[0]?.merged_into !== null) throw notFound(`case ${id} that is still its own`);
      await tellCase(client, id);
      await client.query(
        text === '' ? DROP_DRAFT : KEEP_DRAFT,
        text === '' ? [id, who] : [id, who, text, pin],
      );
    });
  }

  /** @throws Failure 404; 422 where nobody of that name works here */
  async addTask(
    id: number,
    task: { readonly what: string; readonly owner: string; readonly due?: string | null },
    who: string,
  ): Promise<CaseDetail> {
    await this.desk.work(id, async (client) => {
      await requirePerson(client, task.owner);
      await client.query(ADD_TASK, [id, task.what, task.owner, task.due ?? null]);
    });
    return this.one(id, who);
  }

  /** @throws Failure 404 */
  async tickTask(id: number, task: number, done: boolean, who: string): Promise<CaseDetail> {
    await this.desk.work(id, async (client) => {
      const { rows } = await client.query<{ what: string }>(TICK_TASK, [id, task, done, who]);
      if (rows[0] === undefined) throw notFound(`task ${task} of this case`);
      await this.desk.line(client, id, who, `${done ? 'done' : 'not done after all'}: ${rows[0].what}`);
    });
    return this.one(id, who);
  }

  /** @throws Failure 404 */
  async putSubject(
    id: number,
    { kind, name, role }: { readonly kind: string; readonly name: string; readonly role: CaseRole | null },
    who: string,
  ): Promise<CaseDetail> {
    await this.desk.work(id, async (client) => {
      await (role === null
        ? client.query(DROP_SUBJECT, [id, kind, name])
        : client.query(PUT_SUBJECT, [id, kind, name, role, who]));
    });
    return this.one(id, who);
  }
}
