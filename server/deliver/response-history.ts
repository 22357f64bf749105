import { DAY, formatInstant, type Instant } from '../../core/base/instant.js';
import { placesOf, type ResponseDocument } from '../../core/responses/document.js';
import { historyByDay, historyHunt, judgeHistory, type HitDay } from '../../core/responses/history.js';
import { subjectFor } from '../../core/responses/subjects.js';
import type { AlertDetail, ResponseTried } from '../../core/wire/alerts.js';
import type { Alerts } from '../alerts/service.js';
import type { HuntPlanner } from '../hunts/planner.js';
import type { HuntRunner } from '../hunts/runner.js';
import { requestOf } from './respond.js';
import type { Responses } from './responses.js';

/** So far back a response is tried. */
const DAYS_TRIED = 30;

/** Tries responses on the past: what one would have hit, and what it would ask of whom. */
export class ResponseHistory {
  constructor(
    private readonly planner: HuntPlanner,
    private readonly runner: HuntRunner,
    private readonly alerts: Alerts,
    private readonly responses: Responses,
    private readonly now: () => Instant,
  ) {}

  /** @throws Failure 404, 422; HuntError where the history cannot be asked */
  async tryOn(alert: number, does: string, subject: string, signal: AbortSignal): Promise<ResponseTried> {
    const response = await this.responses.requireAskable(alert, does, subject);
    const detail = await this.alerts.one(alert, signal);
    const hunt = historyHunt(response, subject) ?? '';
    const to = this.now();
    const window = { from: formatInstant(to - DAYS_TRIED * DAY), to: formatInstant(to) };
    const plan = await this.planner.plan({ text: historyByDay(hunt), window, parameters: {}, carried: [] });
    const { rows } = await this.runner.table(plan, DAYS_TRIED + 2, { purpose: 'screen', signal });
    const days = rows.map(([day, events, what, whence]): HitDay => ({
      day: formatInstant(Number(day)),
      events: Number(events),
      what: texts(what),
      whence: texts(whence),
    }));
    const own = new Set(
      detail.evidence.map((event) => String((event as { readonly time?: string }).time ?? '').slice(0, 10)),
    );
    const found = judgeHistory(days, DAYS_TRIED, own);
    const carrier = await this.responses.carrier(response.to);
    const request = requestOf(response, { subject }, carrier?.address ?? '', 'NUMBER');
    const narrower = await this.narrowerOf(response, subject, detail);
    return {
      label: response.title,
      hunt,
      window,
      events: found.events,
      days: found.days.map(({ day, events }) => ({ day, events })),
      what: [...found.what],
      whence: [...found.whence],
      everyday: found.everyday,
      says: found.says,
      carrier: carrier?.name ?? null,
      request: request === null ? null : { ...request, body: { ...request.body } },
      hours: response.undo === null ? null : response.hours,
      undo: response.undo?.title ?? null,
      narrower,
    };
  }

  /** The narrower response for the same alert, with the subject that it takes. */
  private async narrowerOf(
    { narrower }: ResponseDocument,
    subject: string,
    alert: AlertDetail,
  ): Promise<ResponseTried['narrower']> {
    const response = narrower === null ? null : await this.responses.book.find(narrower);
    if (narrower === null || response === null) return null;
    const other = response.on === 'flow' ? subjectFor('flow', alert) : subject;
    return other === null || placesOf(response.on, other) === null
      ? null
      : { does: narrower, label: response.title, subject: other };
  }
}

const texts = (value: unknown): string[] =>
  Array.isArray(value) ? (value as readonly unknown[]).filter((one) => typeof one === 'string') : [];
