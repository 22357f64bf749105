import { createHash } from 'node:crypto';
import type { Pool } from 'pg';
import { formatInstant, type Instant } from '../../core/base/instant.js';
import { unreachable } from '../../core/base/unreachable.js';
import { caseFile, type CaseFileBytes } from '../../core/cases/report/case-file.js';
import { reportHtml } from '../../core/cases/report/html.js';
import { reportMarkdown } from '../../core/cases/report/markdown.js';
import { reportOf, thawed, type CaseRecord, type Report } from '../../core/cases/report/model.js';
import { reportStix } from '../../core/cases/report/stix.js';
import { ELSEWHERE, type Marking, type PinKind, type ReportForm } from '../../core/cases/words.js';
import { severities } from '../../core/events/kinds.js';
import { labelOf } from '../../core/responses/shipped.js';
import type { CaseFileWire } from '../../core/wire/case-file.js';
import type { CaseDetail } from '../../core/wire/cases.js';
import { transaction } from '../db/transaction.js';
import { Failure } from '../failure.js';
import { briefOf, holdsHash, sha256Of } from './freeze.js';
import { MAX_PARTS, type PinRow } from './pins.js';
import type { Cases } from './service.js';
import {
  ADD_CASE,
  ADD_NOTE,
  CHANGE_CASE,
  LOCK_NUMBERS,
  EVIDENCE_OF_CASE,
  PUT_FILE,
  PUT_SUBJECT,
  READ_FILE,
  RESPONSES_OF_CASE,
  TAKE_OVER_PIN,
} from './sql.js';

/** A report written down. */
export interface WrittenReport {
  readonly type: string;
  readonly name: string;
  readonly text: string;
}

/** Bytes of files that a case file takes along: another installation reads files of 64 MB. */
const MAX_FILE_BYTES = 20 * 1024 * 1024;

/** UUIDs of this product's own names (RFC 9562, 5.5), made once. */
const NAMESPACE = Buffer.from('7f2d7b1e5c3a5d0c9b6a3f0e1d2c4b5a', 'hex');

/** A UUID of version 5 of a name (RFC 9562, 5.5). */
export function uuid5(name: string): string {
  const hash = createHash('sha1').update(NAMESPACE).update(name, 'utf8').digest();
  hash[6] = ((hash[6] ?? 0) & 0x0f) | 0x50;
  hash[8] = ((hash[8] ?? 0) & 0x3f) | 0x80;
  const hex = hash.toString('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20, 32)}`;
}

/** The gravest level of what is pinned. */
const gravestOf = ({ pinned }: CaseDetail): string | null =>
  [...severities].reverse().find((level) => pinned.some((pin) => pin.level === level)) ?? null;

/** What a pin of a file refers to; a hunt is an address that means the same here. */
const refOfElsewhere = (kind: PinKind, ref: string, number: string): string =>
  kind === 'hunt' || ref.startsWith(ELSEWHERE) ? ref : `${ELSEWHERE}${number}:${ref}`;

/** Reports of cases, and cases out of the files of others. */
export class CaseReports {
  constructor(
    private readonly pool: Pool,
    private readonly cases: Cases,
    private readonly now: () => Instant,
  ) {}

  /** @param marking of those it is for; without it, the case's own @throws Failure 404 */
  async write(
    id: number,
    form: ReportForm,
    marking: Marking | undefined,
    who: string,
  ): Promise<WrittenReport> {
    const record = await this.record(id, who);
    const report = reportOf(record, marking ?? record.marking, this.now());
    const name = `case-${record.number}`;
    switch (form) {
      case 'html':
        return { type: 'text/html', name: `${name}.html`, text: reportHtml(report) };
      case 'markdown':
        return { type: 'text/markdown', name: `${name}.md`, text: reportMarkdown(report) };
      case 'json':
        return {
          type: 'application/json',
          name: `${name}.json`,
          text: caseFile(report, await this.filesOf(id, report)),
        };
      case 'stix':
        return { type: 'application/json', name: `${name}-stix.json`, text: reportStix(report, uuid5) };
      default:
        return unreachable(form);
    }
  }

  /** The bytes of the files that a report shows, as long as they fit; each is as it was when it was pinned. */
  private async filesOf(id: number, { steps }: Report): Promise<CaseFileBytes> {
    const files: { sha256: string; base64: string }[] = [];
    const leftOut: string[] = [];
    let total = 0;
    for (const { pin } of steps) {
      if (pin.kind !== 'file') continue;
      const { rows } = await this.pool.query<{ bytes: Buffer }>(READ_FILE, [id, pin.ref]);
      const bytes = rows[0]?.bytes;
      if (bytes === undefined || total + bytes.length > MAX_FILE_BYTES || sha256Of(bytes) !== pin.ref) {
        leftOut.push(pin.title);
        continue;
      }
      total += bytes.length;
      files.push({ sha256: pin.ref, base64: bytes.toString('base64') });
    }
    return { files, leftOut };
  }

  private async record(id: number, who: string): Promise<CaseRecord> {
    const detail = await this.cases.one(id, who);
    const [pins, responses] = await Promise.all([
      this.pool.query<PinRow & { frozen: string | null }>(EVIDENCE_OF_CASE, [id, MAX_PARTS]),
      this.pool.query<{
        does: string;
        label: string | null;
        subject: string;
        state: string;
        asked_by: string;
        decided_by: string | null;
        at: Instant;
      }>(RESPONSES_OF_CASE, [id, MAX_PARTS]),
    ]);
    const titles = new Map(detail.pinned.map((pin) => [pin.id, pin.title]));
    const { number, title, state, severity, verdict, owner, created, lede, marking, tasks } = detail;
    return {
      number,
      title,
      state,
      severity: severity ?? gravestOf(detail),
      verdict,
      owner,
      created,
      lede,
      marking,
      pins: pins.rows.map(({ id: _, time, at, ...pin }) => ({
        ...pin,
        time: time === null ? null : formatInstant(time),
        at: formatInstant(at),
      })),
      notes: detail.notes
        .filter(({ isLine }) => !isLine)
        .map(({ who: author, at, text, inReport, pin }) => ({
          who: author,
          at,
          text,
          inReport,
          about: pin === null ? null : (titles.get(pin) ?? null),
        })),
      tasks: tasks.map(({ what, owner: whose, due, done }) => ({ what, owner: whose, due, done })),
      subjects: detail.subjects.flatMap(({ kind, name, role }) =>
        role === null ? [] : [{ kind, name, role }],
      ),
      done: responses.rows.map((row) => ({
        what: `${row.label ?? labelOf(row.does)} of ${row.subject}`,
        state: row.state,
        askedBy: row.asked_by,
        decidedBy: row.decided_by,
        at: formatInstant(row.at),
      })),
    };
  }

  /**
   * Makes a new case of a file. Evidence keeps its hashes, and who pinned it when; tasks become a note, since those who had
   * them may not work here.
   * @throws Failure 422 where a hash does not hold, of what was pinned or of a file
   */
  async read({ case: given, files: sent = [] }: CaseFileWire, who: string): Promise<CaseDetail> {
    const broken = given.pins.filter(
      ({ frozen, sha256 }) => (frozen === null) !== (sha256 === null) || holdsHash(frozen, sha256) === false,
    );
    if (broken.length > 0)
      throw new Failure(
        'bad-case-file',
        `The evidence was changed after it was pinned: ${broken.map(({ title }) => `“${title}”`).join(', ')}. Nothing was read; ask for the file again.`,
      );
    const files = new Map(sent.map(({ sha256, base64 }) => [sha256, Buffer.from(base64, 'base64')]));
    const changed = [...files].find(([sha256, bytes]) => sha256Of(bytes) !== sha256);
    if (changed !== undefined)
      throw new Failure(
        'bad-case-file',
        `The file ${changed[0].slice(0, 12)}… was changed after it was pinned. Nothing was read; ask for the file again.`,
      );
    const id = await transaction(this.pool, async (client) => {
      await client.query(LOCK_NUMBERS);
      const { rows } = await client.query<{ id: number }>(ADD_CASE, [given.title, who]);
      const made = rows[0]?.id ?? 0;
      await client.query(CHANGE_CASE, [
        made,
        null,
        null,
        null,
        null,
        given.severity ?? '',
        null,
        given.lede,
        given.marking,
        who,
        '',
      ]);
      for (const pin of given.pins) {
        const bytes = pin.kind === 'file' ? files.get(pin.ref) : undefined;
        if (bytes !== undefined) await client.query(PUT_FILE, [made, pin.ref, bytes]);
        await client.query(TAKE_OVER_PIN, [
          made,
          pin.kind,
          bytes === undefined ? refOfElsewhere(pin.kind, pin.ref, given.number) : pin.ref,
          pin.title,
          pin.time,
          pin.who,
          pin.at,
          pin.why,
          pin.key,
          pin.marking,
          pin.frozen,
          pin.sha256,
          pin.frozen === null ? null : JSON.stringify(briefOf(thawed(pin))),
        ]);
      }
      for (const { who: author, at, text } of given.notes)
        await client.query(ADD_NOTE, [made, who, `${author}, ${at}:\n${text}`, null, true, false]);
      for (const { kind, name, role } of given.subjects)
        await client.query(PUT_SUBJECT, [made, kind, name, role, who]);
      const open = given.tasks.filter(({ done }) => done === null);
      if (open.length > 0)
        await client.query(ADD_NOTE, [
          made,
          who,
          `Open there:\n${open.map(({ what, owner }) => `${what} (${owner})`).join('\n')}`,
          null,
          false,
          false,
        ]);
      await client.query(ADD_NOTE, [
        made,
        who,
        `read from a file, there case ${given.number}`,
        null,
        false,
        true,
      ]);
      return made;
    });
    return this.cases.one(id, who);
  }
}
