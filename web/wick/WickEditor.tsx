import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { Compartment, EditorState, Prec } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightSpecialChars,
  keymap,
  placeholder,
} from '@codemirror/view';
import { useEffect, useLayoutEffect, useRef, type JSX } from 'react';
import { ladderGutters, setStepCounts, type StepCount } from './ladder-gutters.js';
import type { HuntHelp } from './wick-help.js';
import { wick } from './wick-language.js';

interface WickEditorProps {
  readonly text: string;
  readonly counts: readonly StepCount[];
  /** Where the cursor goes when the text is changed from outside: the end of a line; null for the end of all. */
  readonly cursorLine: number | null;
  readonly help: HuntHelp;
  /** The steps could not be run: the mistake is marked, whether somebody writes or not. */
  readonly faulty: boolean;
  readonly onChange: (text: string) => void;
  readonly onRun: () => void;
  /** The line the cursor stands on, and its offset in the text. */
  readonly onCursor: (line: number, offset: number) => void;
  /** The rows after the step of a line are asked for. */
  readonly onPeek: (line: number) => void;
  readonly onMove: (way: 'up' | 'down') => void;
  /** A step was dragged from its line to another. */
  readonly onMoveTo: (from: number, to: number) => void;
  readonly onSwitch: () => void;
  /** The value at the cursor is to become a blank. */
  readonly onBlank: () => void;
}

const lineOf = (state: EditorState): number => state.doc.lineAt(state.selection.main.head).number;

/** The steps of a hunt, written as text. */
export function WickEditor(props: WickEditorProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef(props);
  const fetchHelp = useRef<() => void>(() => undefined);
  useLayoutEffect(() => {
    latest.current = props;
  });

  useEffect(() => {
    if (place.current === null) return undefined;
    const helping = new Compartment();
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: latest.current.text,
        extensions: [
          Prec.highest(
            keymap.of([
              ...(
                [
                  ['Alt-ArrowUp', () => latest.current.onMove('up')],
                  ['Alt-ArrowDown', () => latest.current.onMove('down')],
                  ['Ctrl-/', () => latest.current.onSwitch()],
                  ['Alt-b', () => latest.current.onBlank()],
                  ['Alt-p', (editor: EditorView) => latest.current.onPeek(lineOf(editor.state))],
                ] as const
              ).map(([key, act]) => ({
                key,
                run: (editor: EditorView) => {
                  act(editor);
                  return true;
                },
              })),
              {
                key: 'Ctrl-Enter',
                mac: 'Cmd-Enter',
                run: () => {
                  latest.current.onRun();
                  return true;
                },
              },
            ]),
          ),
          history(),
          drawSelection(),
          highlightSpecialChars(),
          highlightActiveLine(),
          EditorView.lineWrapping,
          placeholder('from signin'),
          ladderGutters(
            (line) => latest.current.onPeek(line),
            (from, to) => latest.current.onMoveTo(from, to),
          ),
          wick,
          helping.of([]),
          // Tab leaves the editor, as it leaves every other field; indentation is by blanks.
          keymap.of([...defaultKeymap, ...historyKeymap]),
          EditorView.contentAttributes.of({ 'aria-label': 'Steps of the hunt', spellcheck: 'false' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged || update.selectionSet)
              latest.current.onCursor(lineOf(update.state), update.state.selection.main.head);
            if (update.docChanged) latest.current.onChange(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    // Completion and marks are fetched when somebody comes to write, or when there is something to mark.
    let fetched = false;
    const help = (): void => {
      if (fetched) return;
      fetched = true;
      void import('./wick-help.js').then(({ wickHelp }) =>
        editor.dispatch({ effects: helping.reconfigure(wickHelp(() => latest.current.help)) }),
      );
    };
    fetchHelp.current = help;
    editor.dom.addEventListener('focusin', help);
    return () => editor.destroy();
  }, []);

  useEffect(() => {
    const editor = view.current;
    if (editor === null || editor.state.doc.toString() === props.text) return;
    const lines = props.text.split('\n');
    const upTo = latest.current.cursorLine ?? lines.length;
    editor.dispatch({
      changes: { from: 0, to: editor.state.doc.length, insert: props.text },
      selection: { anchor: lines.slice(0, upTo).join('\n').length },
    });
  }, [props.text]);

  useEffect(() => {
    view.current?.dispatch({ effects: setStepCounts.of(props.counts) });
    // The counts take room from the text: lines may break elsewhere, and are measured again once that is drawn.
    const drawn = requestAnimationFrame(() => view.current?.requestMeasure());
    return () => cancelAnimationFrame(drawn);
  }, [props.counts, props.text]);

  useEffect(() => {
    if (props.faulty) fetchHelp.current();
  }, [props.faulty]);

  return <div ref={place} className="ladder" />;
}
