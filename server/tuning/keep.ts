import { formatInstant, parseInstant } from '../../core/base/instant.js';
import type { CutForm } from '../../core/tuning/apply-cuts.js';
import { type Cut, listFieldOf } from '../../core/tuning/cut.js';
import type { WireWindow } from '../../core/wire/common.js';
import type { RuleWire } from '../../core/wire/rules.js';
import type { CutWire } from '../../core/wire/tuning.js';
import type { ProofWire } from '../../core/wire/tuning-proof.js';
import { Failure, invalid } from '../failure.js';
import type { Lists } from '../lists/service.js';
import { hashOfText } from '../rules/check-rule.js';
import type { Tuning, TuningParts } from './service.js';
import { READ_PROOF } from './sql.js';

/** What keeping a change asks. */
export interface KeepAsk {
  readonly version: number;
  readonly why: string;
  readonly window: WireWindow;
  readonly text?: string;
  readonly cuts?: readonly CutWire[];
  readonly form?: CutForm;
  readonly list?: { readonly name: string; readonly expires?: string };
  readonly lose?: boolean;
}

/** Keeps what was proved. */
export class KeepCuts {
  constructor(
    private readonly parts: Pick<TuningParts, 'pool' | 'rules' | 'lists'>,
    private readonly tuning: Tuning,
  ) {}

  /**
   * Keeps a proved change as a version, and switches it on.
   * @throws Failure 404, 409 where it was changed meanwhile or would lose a real one unasked, 422
   */
  async keep(id: string, asked: KeepAsk, person: string, signal: AbortSignal): Promise<RuleWire> {
    const { pool, rules, lists } = this.parts;
    const { cuts = [], form = 'condition', list, window } = asked;
    if (asked.text === undefined && cuts.length === 0) throw invalid('Give cuts, or a changed text.');
    const { version } = await this.tuning.ruleOf(id);
    if (version !== asked.version)
      throw new Failure(
        'changed-meanwhile',
        `This rule is at version ${version} by now, and your change was made from another. Open it again and repeat the change.`,
      );
    const proveAs = async (as: CutForm): Promise<ProofWire> => {
      const text = asked.text === undefined ? {} : { text: asked.text };
      for await (const piece of this.tuning.prove(
        id,
        { window, cuts, form: as, ...text },
        person,
        signal,
        list?.name,
      ))
        if (piece.piece === 'proof') return piece;
      throw new Failure('busy', 'The proof was stopped. Try again.');
    };
    // A row of a list counts at once, for every rule that asks it: what it would lose is known before it is written.
    let proof = await proveAs(form === 'list' ? 'condition' : form);
    const { rows } = await pool.query<{ real_lost: number }>(READ_PROOF, [id, hashOfText(proof.text)]);
    const lost = rows[0]?.real_lost ?? 0;
    if (lost > 0 && asked.lose !== true)
      throw new Failure(
        'loses-real',
        `It would lose ${lost} that ${lost === 1 ? 'was' : 'were'} settled as real: ${proof.realLost.map(({ subject, time }) => `${subject}, ${time}`).join('; ')}. Take that cut away, or say that it is meant.`,
      );
    if (form === 'list') {
      await this.addToList(list, cuts, lists);
      proof = await proveAs('list');
    }
    return rules.change(
      id,
      { text: proof.text, why: asked.why, state: 'on', version: asked.version },
      person,
    );
  }

  /** Writes the values of cuts down as rows of a list, which is made where it is not there. */
  private async addToList(list: KeepAsk['list'], cuts: readonly Cut[], lists: Lists): Promise<void> {
    if (list === undefined) throw invalid('Name the list that is to hold the values.');
    const expires = list.expires === undefined ? null : parseInstant(list.expires);
    if (list.expires !== undefined && expires === null) throw invalid('"expires" is a time, ISO 8601.');
    const values = cuts.map((cut) => (listFieldOf(cut) === null ? null : cut.all[0]?.value));
    if (values.some((value) => value === null || value === undefined))
      throw new Failure('bad-cut', 'Only a cut that is one value can be a row of a list.');
    const key = await lists.ensure(list.name, {
      match: 'exact',
      key: 'value',
      description: 'what rules leave out',
    });
    await lists.changeRows(list.name, {
      add: values.map((value) => ({
        [key]: value ?? '',
        ...(expires !== null && { expires: formatInstant(expires) }),
      })),
    });
  }
}
