import { RangeSet, StateEffect, StateField, type EditorState, type Extension } from '@codemirror/state';
import { gutter, GutterMarker } from '@codemirror/view';
import { count } from '../../ui/format.js';

/** Rows that passed the step on a line, and those that came to it. */
export interface StepCount {
  readonly line: number;
  readonly rows: number;
  readonly before: number | null;
}

export const setStepCounts = StateEffect.define<readonly StepCount[]>();

const countsField = StateField.define<readonly StepCount[]>({
  create: () => [],
  update(counts, transaction) {
    for (const effect of transaction.effects) if (effect.is(setStepCounts)) return effect.value;
    // Counts belong to the text that was run.
    return transaction.docChanged ? [] : counts;
  },
});

const startsStep = (text: string): boolean => /^[^\s)]/.test(text) && !text.startsWith('--');

class RungMarker extends GutterMarker {
  constructor(private readonly rung: number) {
    super();
  }
  override eq(other: RungMarker): boolean {
    return other.rung === this.rung;
  }
  override toDOM(): Node {
    return document.createTextNode(String(this.rung));
  }
}

class CountMarker extends GutterMarker {
  constructor(
    private readonly step: StepCount,
    private readonly most: number,
  ) {
    super();
  }
  override eq(other: CountMarker): boolean {
    return (
      other.step.rows === this.step.rows && other.most === this.most && other.step.before === this.step.before
    );
  }
  override toDOM(): Node {
    const { rows, before } = this.step;
    const whole = document.createElement('div');
    const block = document.createElement('div');
    block.className = 'funnel';
    // Logarithmic, so that one sees where rows fall away whatever their number.
    const share = rows === 0 || this.most === 0 ? 0 : Math.log10(rows + 1) / Math.log10(this.most + 1);
    block.style.width = `${Math.round(share * 100)}%`;
    const text = document.createElement('span');
    text.className = before === rows ? 'funnel-count same' : 'funnel-count';
    text.textContent = count(rows);
    whole.append(block, text);
    whole.setAttribute('aria-label', `${count(rows)} rows passed this step`);
    whole.title = 'Show the rows as they stood here';
    return whole;
  }
}

const stepLines = (state: EditorState): number[] =>
  Array.from({ length: state.doc.lines }, (_, i) => i + 1).filter((line) =>
    startsStep(state.doc.line(line).text),
  );

/**
 * The number of each step at the left, how many rows passed it at the right.
 * @param onPeek called with the line of a count that is clicked
 */
export const ladderGutters = (onPeek: (line: number) => void): Extension => [
  countsField,
  gutter({
    class: 'rung',
    markers: (view) =>
      RangeSet.of(
        stepLines(view.state).map((line, i) => new RungMarker(i + 1).range(view.state.doc.line(line).from)),
      ),
  }),
  gutter({
    class: 'count-gutter',
    side: 'after',
    domEventHandlers: {
      mousedown(view, block) {
        const { number } = view.state.doc.lineAt(block.from);
        // Beside lines without a count there is nothing to look at.
        if (!view.state.field(countsField).some(({ line }) => line === number)) return false;
        onPeek(number);
        return true;
      },
    },
    markers(view) {
      const counts = view.state.field(countsField);
      const most = Math.max(0, ...counts.map((step) => step.rows));
      const known = counts.filter((step) => step.line <= view.state.doc.lines);
      return RangeSet.of(
        known.map((step) => new CountMarker(step, most).range(view.state.doc.line(step.line).from)),
        true,
      );
    },
    lineMarkerChange: (update) => update.startState.field(countsField) !== update.state.field(countsField),
  }),
];
