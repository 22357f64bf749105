import type { Pool, PoolClient } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { saysOf } from '../../core/cases/evidence.js';
import { thawed } from '../../core/cases/report/model.js';
import type { CaseRole, Marking, PinKind } from '../../core/cases/words.js';
import { techniques } from '../../core/sigma/techniques.js';
import type {
  CaseChange,
  CaseDetail,
  CaseList,
  CaseSuggestion,
  CaseSummary,
  CaseVerified,
  NewPin,
  PinContent,
} from '../../core/wire/cases.js';
import type { PageAsk } from '../../core/wire/paging.js';
import { addChange, requirePerson, type Alerts } from '../alerts/service.js';
import { readPage, toPage } from '../db/pages.js';
import { transaction } from '../db/transaction.js';
import { Failure, notFound } from '../failure.js';
import { briefOf, holdsHash, type Freezer, type Frozen, type PinSays } from './freeze.js';
import {
  ADD_CASE,
  ADD_NOTE,
  ADD_PIN,
  ADD_TASK,
  CASE_SUMMARIES,
  CHANGE_CASE,
  CHANGE_PIN,
  CLOSE_MERGED,
  DRAFTS_OF_CASE,
  DROP_DRAFT,
  DROP_SUBJECT,
  FIND_ALERT,
  HEAD_OF_CASE,
  HOLD_BACK_NOTES,
  KEEP_DRAFT,
  LOCK_NUMBERS,
  MOVE_PARTS,
  NOTES_OF_CASE,
  OPEN_ALERTS_OF_CASE,
  PINS_OF_CASE,
  PUT_SUBJECT,
  READ_CASES,
  READ_PIN,
  REMOVE_PIN,
  SIZE_OF_CASE,
  SUBJECTS_OF_CASE,
  SUGGEST_ALERTS,
  SUGGEST_CASES,
  TASKS_OF_CASE,
  TELL_CASE,
  TICK_TASK,
  TOUCH_CASE,
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
/** A pin as it is kept. */
export interface PinRow {
  readonly id: number;
  readonly kind: PinKind;
  readonly ref: string;
  readonly title: string;
  readonly time: Instant | null;
  readonly who: string;
  readonly at: Instant;
  readonly why: string;
  readonly key: boolean;
  readonly marking: Marking | null;
  readonly sha256: string | null;
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

/** Things of one sort that a case shows. */
export const MAX_PARTS = 1000;
const MAX_SUGGESTED = 12;
/** Names that suggestions are looked for by. */
const MAX_NAMES = 60;
/** Somebody is writing while their draft was kept within so long. */
const WRITING = '2 minutes';
/** A case may hold so many pins, and its evidence so many characters: a report reads all of it. */
const MAX_PINS = 1000;
const MAX_EVIDENCE = 40_000_000;

const moment = (time: Instant | null): string | null => (time === null ? null : formatInstant(time));

const toSummary = (row: CaseRow): CaseSummary => ({
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
});

/** Cases: what belongs together, who works on it, and what was made of it. */
export class Cases {
  constructor(
    private readonly pool: Pool,
    private readonly freezer: Freezer,
    private readonly alerts: Alerts,
  ) {}

  /** Open ones first, then the newest. */
  async all(asked: PageAsk = {}): Promise<CaseList> {
    const page = readPage(asked, 3);
    const { rows } = await this.pool.query<CaseRow & { place: [string, string, string] }>(READ_CASES, [
      ...page.after,
      page.rows,
    ]);
    const { shown, next } = toPage(rows, asked);
    return { cases: shown.map(toSummary), next };
  }

  /** @param who reads it: their draft is shown to them @throws Failure 404 */
  async one(id: number, who: string): Promise<CaseDetail> {
    const { pool } = this;
    const [found, head, pins, notes, tasks, subjects, drafts] = await Promise.all([
      pool.query<CaseRow>(`${CASE_SUMMARIES} WHERE c.id = $1`, [id]),
      pool.query<HeadRow>(HEAD_OF_CASE, [id]),
      pool.query<PinRow & { says: PinSays | null }>(PINS_OF_CASE, [id, MAX_PARTS]),
      pool.query<NoteRow>(NOTES_OF_CASE, [id, MAX_PARTS]),
      pool.query<TaskRow>(TASKS_OF_CASE, [id, MAX_PARTS]),
      pool.query<{ kind: string; name: string; role: CaseRole }>(SUBJECTS_OF_CASE, [id, MAX_PARTS]),
      pool.query<DraftRow>(DRAFTS_OF_CASE, [id, WRITING]),
    ]);
    const row = found.rows[0];
    const top = head.rows[0];
    if (row === undefined || top === undefined) throw notFound(`case ${id}`);
    const said = pins.rows.map(({ says, ...pin }) => ({ pin, says: says ?? briefOf(null) }));
    const known = new Set(subjects.rows.map(({ kind, name }) => `${kind} ${name}`));
    const named = new Map(
      said.flatMap(({ says }) => says.subjects.map((one) => [`${one.kind} ${one.name}`, one] as const)),
    );
    const own = drafts.rows.find((draft) => draft.who === who);
    const ids = [...new Set(said.flatMap(({ says }) => says.techniques))].sort();
    return {
      ...toSummary(row),
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
      writing: drafts.rows.flatMap((draft) => (draft.fresh && draft.who !== who ? [draft.who] : [])),
    };
  }

  /** Opens a case with what is pinned to it. @throws Failure 404, 422 */
  async add(title: string, pins: readonly NewPin[], who: string, signal: AbortSignal): Promise<CaseDetail> {
    const frozen: Frozen[] = [];
    for (const pin of pins) frozen.push(await this.freezer.freeze(pin, signal));
    const id = await transaction(this.pool, async (client) => {
      await client.query(LOCK_NUMBERS);
      const { rows } = await client.query<{ id: number }>(ADD_CASE, [title, who]);
      const made = rows[0]?.id ?? 0;
      for (const [i, pin] of pins.entries()) await this.pinIn(client, made, pin, frozen[i], who);
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
      if (said.length > 0) await this.line(client, id, who, said.join(', '));
      await tell(client, id);
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
    await this.work(id, async (client) => {
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
      await tell(client, id);
      await client.query(
        text === '' ? DROP_DRAFT : KEEP_DRAFT,
        text === '' ? [id, who] : [id, who, text, pin],
      );
    });
  }

  /** Pins something as it is now; what is pinned already stays as it was. @throws Failure 404, 422 */
  async pin(id: number, pin: NewPin, who: string, signal: AbortSignal): Promise<CaseDetail> {
    const frozen = await this.freezer.freeze(pin, signal);
    await this.work(id, (client) => this.pinIn(client, id, pin, frozen, who));
    return this.one(id, who);
  }

  private async pinIn(
    client: PoolClient,
    id: number,
    pin: NewPin,
    frozen: Frozen | undefined,
    who: string,
  ): Promise<void> {
    const { rows } = await client.query<{ pins: number; characters: number }>(SIZE_OF_CASE, [id]);
    const { pins = 0, characters = 0 } = rows[0] ?? {};
    if (pins >= MAX_PINS)
      throw new Failure(
        'case-full',
        `A case holds at most ${MAX_PINS.toLocaleString('en')} pinned things. Pin a snapshot that shows several.`,
      );
    if (characters + (frozen?.text.length ?? 0) > MAX_EVIDENCE)
      throw new Failure(
        'case-full',
        `The evidence of a case holds at most ${MAX_EVIDENCE.toLocaleString('en')} characters. Take something off, or pin a snapshot of fewer rows.`,
      );
    const { rowCount } = await client.query(ADD_PIN, [
      id,
      pin.kind,
      pin.ref,
      pin.title,
      pin.time ?? null,
      who,
      pin.why ?? '',
      pin.key ?? false,
      frozen?.text ?? null,
      frozen?.sha256 ?? null,
      frozen === undefined ? null : JSON.stringify(frozen.says),
    ]);
    if (pin.kind !== 'alert' || rowCount === 0) return;
    const { rowCount: known } = await client.query(FIND_ALERT, [pin.ref]);
    if (known === 0) throw notFound(`alert ${pin.ref}`);
    await addChange(client, Number(pin.ref), who, `pinned to case ${id}`);
  }

  /** @throws Failure 404 */
  async changePin(
    id: number,
    pin: number,
    { why, key, marking }: { why?: string; key?: boolean; marking?: Marking | null },
    who: string,
  ): Promise<CaseDetail> {
    await this.work(id, async (client) => {
      const { rows } = await client.query<{ title: string }>(CHANGE_PIN, [
        id,
        pin,
        why ?? null,
        key ?? null,
        marking === undefined ? null : (marking ?? ''),
      ]);
      if (rows[0] === undefined) throw notFound(`pin ${pin} of this case`);
    });
    return this.one(id, who);
  }

  /** Takes a pin off; a line says what it was. @throws Failure 404 */
  async unpin(id: number, pin: number, who: string): Promise<CaseDetail> {
    await this.work(id, async (client) => {
      await client.query(HOLD_BACK_NOTES, [pin, id]);
      const { rows } = await client.query<{ title: string; kind: string; sha256: string | null }>(
        REMOVE_PIN,
        [pin, id],
      );
      const [gone] = rows;
      if (gone === undefined) throw notFound(`pin ${pin} of this case`);
      const hash = gone.sha256 === null ? '' : `, SHA-256 ${gone.sha256}`;
      await this.line(client, id, who, `took off the ${gone.kind} “${gone.title}”${hash}`);
    });
    return this.one(id, who);
  }

  /** A pinned thing as it was. @throws Failure 404 */
  async content(id: number, pin: number): Promise<PinContent> {
    const { rows } = await this.pool.query<{ frozen: string | null; sha256: string | null }>(READ_PIN, [
      id,
      pin,
    ]);
    const [found] = rows;
    if (found === undefined) throw notFound(`pin ${pin} of this case`);
    const frozen = thawed(found);
    const { facts, table, subjects } = saysOf(frozen);
    return {
      frozen,
      sha256: found.sha256,
      holds: holdsHash(found.frozen, found.sha256),
      facts: [...facts],
      table:
        table === null
          ? null
          : { columns: [...table.columns], rows: table.rows.map((row) => [...row]), total: table.total },
      subjects: [...subjects],
    };
  }

  /** Whether everything that is pinned has the hash that it was pinned with. @throws Failure 404 */
  async verify(id: number): Promise<CaseVerified> {
    await this.requireCase(id);
    const { rows } = await this.pool.query<PinRow>(PINS_OF_CASE, [id, MAX_PARTS]);
    const pins: CaseVerified['pins'] = [];
    // One after another: together they may be large.
    for (const { id: pin, title, sha256 } of rows) {
      const read = await this.pool.query<{ frozen: string | null }>(READ_PIN, [id, pin]);
      pins.push({ id: pin, title, sha256, holds: holdsHash(read.rows[0]?.frozen ?? null, sha256) });
    }
    return { holds: pins.every(({ holds }) => holds !== false), pins };
  }

  /** @throws Failure 404; 422 where nobody of that name works here */
  async addTask(
    id: number,
    task: { readonly what: string; readonly owner: string; readonly due?: string | null },
    who: string,
  ): Promise<CaseDetail> {
    await this.work(id, async (client) => {
      await requirePerson(client, task.owner);
      await client.query(ADD_TASK, [id, task.what, task.owner, task.due ?? null]);
    });
    return this.one(id, who);
  }

  /** @throws Failure 404 */
  async tickTask(id: number, task: number, done: boolean, who: string): Promise<CaseDetail> {
    await this.work(id, async (client) => {
      const { rows } = await client.query<{ what: string }>(TICK_TASK, [id, task, done, who]);
      if (rows[0] === undefined) throw notFound(`task ${task} of this case`);
      await this.line(client, id, who, `${done ? 'done' : 'not done after all'}: ${rows[0].what}`);
    });
    return this.one(id, who);
  }

  /** @throws Failure 404 */
  async putSubject(
    id: number,
    { kind, name, role }: { readonly kind: string; readonly name: string; readonly role: CaseRole | null },
    who: string,
  ): Promise<CaseDetail> {
    await this.work(id, async (client) => {
      await (role === null
        ? client.query(DROP_SUBJECT, [id, kind, name])
        : client.query(PUT_SUBJECT, [id, kind, name, role, who]));
    });
    return this.one(id, who);
  }

  /** Takes what another case holds into this one. @throws Failure 404; 409 for one that was merged already; 422 into itself */
  async merge(id: number, from: number, who: string): Promise<CaseDetail> {
    if (id === from) throw new Failure('into-itself', 'A case cannot be merged into itself.');
    await this.work(id, async (client) => {
      const { rows } = await client.query<{ number: string }>(CLOSE_MERGED, [id, from]);
      if (rows[0] === undefined) throw notFound(`case ${from} that is not merged yet`);
      for (const part of MOVE_PARTS) await client.query(part, [id, from]);
      await this.line(client, id, who, `took in case ${rows[0].number}`);
      await this.line(client, from, who, `merged into case ${id}`);
      await tell(client, from);
    });
    return this.one(id, who);
  }

  /** Other alerts and cases that share a name with this one, the rarest first. @throws Failure 404 */
  async suggest(id: number, who: string): Promise<CaseSuggestion[]> {
    const { subjects } = await this.one(id, who);
    const names = subjects.slice(0, MAX_NAMES).map(({ name }) => name);
    const rows = await Promise.all(
      ([SUGGEST_ALERTS, SUGGEST_CASES] as const).map((sql, i) =>
        this.pool
          .query<Omit<CaseSuggestion, 'kind' | 'at'> & { last_event: Instant }>(sql, [
            id,
            names,
            MAX_SUGGESTED,
          ])
          .then(({ rows: found }) =>
            found.map(({ last_event, ...one }) => ({
              ...one,
              kind: i === 0 ? ('alert' as const) : ('case' as const),
              at: formatInstant(last_event),
            })),
          ),
      ),
    );
    return rows.flat();
  }

  private async requireCase(id: number): Promise<void> {
    const { rowCount } = await this.pool.query(HEAD_OF_CASE, [id]);
    if (rowCount === 0) throw notFound(`case ${id}`);
  }

  /** Work on a case in one transaction; pages that show it are told. @throws Failure 404 also for one that was merged */
  private async work(id: number, work: (client: PoolClient) => Promise<void>): Promise<void> {
    await transaction(this.pool, async (client) => {
      const { rowCount } = await client.query(TOUCH_CASE, [id]);
      if (rowCount === 0) throw notFound(`case ${id} that is still its own`);
      await work(client);
      await tell(client, id);
    });
  }

  private async line(client: PoolClient, id: number, who: string, text: string): Promise<void> {
    await client.query(ADD_NOTE, [id, who, text, null, false, true]);
  }
}

async function tell(client: PoolClient, id: number): Promise<void> {
  await client.query(TELL_CASE, [String(id)]);
}
