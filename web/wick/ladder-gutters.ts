import { RangeSet, StateEffect, StateField, type EditorState, type Extension } from '@codemirror/state';
import { Decoration, EditorView, gutter, GutterMarker, type DecorationSet } from '@codemirror/view';
import { count } from '../ui/format.js';

/** Rows that passed the step on a line, and those that came to it. */
export interface StepCount {
  readonly line: number;
  readonly rows: number;
  readonly before: number | null;
  /** Its share of the time, 0–1; null where it was not measured. */
  readonly share: number | null;
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
  override elementClass = 'drags';
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
      other.step.rows === this.step.rows &&
      other.most === this.most &&
      other.step.before === this.step.before &&
      other.step.share === this.step.share
    );
  }
  override toDOM(): Node {
    const { rows, before, share: time } = this.step;
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
    const percent = time === null ? null : `${Math.round(time * 100)} %`;
    if (percent !== null) {
      const took = document.createElement('span');
      took.className = 'step-share';
      took.textContent = percent;
      whole.append(took);
    }
    const words = percent === null ? '' : `, ${percent} of the time`;
    whole.setAttribute('aria-label', `${count(rows)} rows passed this step${words}`);
    whole.title = `${count(rows)} rows passed${words}. Press to show the rows as they stood here`;
    return whole;
  }
}

const stepLines = (state: EditorState): number[] =>
  Array.from({ length: state.doc.lines }, (_, i) => i + 1).filter((line) =>
    startsStep(state.doc.line(line).text),
  );

const setDropLine = StateEffect.define<number | null>();

/** The line a dragged step would be put at. */
const dropField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    for (const effect of transaction.effects)
      if (effect.is(setDropLine))
        return effect.value === null || effect.value > transaction.state.doc.lines
          ? Decoration.none
          : Decoration.set(
              Decoration.line({ class: 'drop-here' }).range(transaction.state.doc.line(effect.value).from),
            );
    return transaction.docChanged ? Decoration.none : marks;
  },
  provide: (field) => EditorView.decorations.from(field),
});

/** Follows the pointer from the number of a step to the line where it is let go. */
function dragStep(view: EditorView, from: number, onMoveTo: (from: number, to: number) => void): void {
  const lineAt = (event: MouseEvent): number =>
    view.state.doc.lineAt(view.lineBlockAtHeight(event.clientY - view.documentTop).from).number;
  const over = (event: MouseEvent): void => {
    event.preventDefault();
    const line = lineAt(event);
    view.dispatch({ effects: setDropLine.of(line === from ? null : line) });
  };
  const drop = (event: MouseEvent): void => {
    window.removeEventListener('mousemove', over);
    const to = lineAt(event);
    view.dispatch({ effects: setDropLine.of(null) });
    if (to !== from) onMoveTo(from, to);
  };
  window.addEventListener('mousemove', over);
  window.addEventListener('mouseup', drop, { once: true });
}

/**
 * The number of each step at the left, how many rows passed it at the right.
 * @param onPeek called with the line of a count that is clicked
 * @param onMoveTo called with the lines of a step that was dragged by its number, and of where it was let go
 */
export const ladderGutters = (
  onPeek: (line: number) => void,
  onMoveTo: (from: number, to: number) => void,
): Extension => [
  countsField,
  dropField,
  gutter({
    class: 'rung',
    domEventHandlers: {
      mousedown(view, block, event) {
        const { number } = view.state.doc.lineAt(block.from);
        if (!stepLines(view.state).includes(number)) return false;
        event.preventDefault();
        dragStep(view, number, onMoveTo);
        return true;
      },
    },
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
