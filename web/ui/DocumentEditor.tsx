import { autocompletion, type CompletionSource } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { json } from '@codemirror/legacy-modes/mode/javascript';
import { yaml } from '@codemirror/legacy-modes/mode/yaml';
import { setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { EditorState, Prec } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  highlightSpecialChars,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { useEffect, useLayoutEffect, useRef, type JSX } from 'react';

const colours = HighlightStyle.define([
  { tag: tags.atom, class: 'wick-word' },
  { tag: tags.keyword, class: 'wick-number' },
  { tag: tags.number, class: 'wick-number' },
  { tag: tags.string, class: 'wick-text' },
  { tag: tags.comment, class: 'wick-comment' },
  { tag: tags.meta, class: 'yaml-sign' },
]);

const languages = { yaml: StreamLanguage.define(yaml), json: StreamLanguage.define(json) } as const;

interface DocumentEditorProps {
  readonly language: keyof typeof languages;
  /** What the text is, for those who cannot see it. */
  readonly label: string;
  readonly text: string;
  readonly mistake: { readonly line: number; readonly message: string } | null;
  readonly readOnly: boolean;
  readonly onChange: (text: string) => void;
  readonly onKeep: () => void;
  /** Ctrl Enter, where it does anything. */
  readonly onRun?: () => void;
  /** Offers words while one types. */
  readonly complete?: CompletionSource;
}

/** A document as text, its mistake underlined on its line. */
export function DocumentEditor(props: DocumentEditorProps): JSX.Element {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef(props);
  useLayoutEffect(() => {
    latest.current = props;
  });
  const { readOnly, language, label } = props;
  useEffect(() => {
    if (place.current === null) return undefined;
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: latest.current.text,
        extensions: [
          Prec.highest(
            keymap.of([
              {
                key: 'Mod-s',
                preventDefault: true,
                run: () => {
                  latest.current.onKeep();
                  return true;
                },
              },
              {
                key: 'Mod-Enter',
                preventDefault: true,
                run: () => {
                  latest.current.onRun?.();
                  return true;
                },
              },
            ]),
          ),
          lineNumbers(),
          history(),
          drawSelection(),
          highlightSpecialChars(),
          highlightActiveLine(),
          languages[language],
          syntaxHighlighting(colours),
          autocompletion({
            icons: false,
            override: [(context) => latest.current.complete?.(context) ?? null],
          }),
          EditorState.readOnly.of(readOnly),
          EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current.onChange(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, [readOnly, language, label]);

  useEffect(() => {
    const editor = view.current;
    if (editor === null || editor.state.doc.toString() === props.text) return;
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: props.text } });
  }, [props.text]);

  useEffect(() => {
    const editor = view.current;
    if (editor === null) return;
    const { mistake } = props;
    const found: Diagnostic[] = [];
    if (mistake !== null && mistake.line <= editor.state.doc.lines) {
      const line = editor.state.doc.line(mistake.line);
      const indent = line.text.length - line.text.trimStart().length;
      found.push({
        from: Math.min(line.from + indent, line.to),
        to: line.to,
        severity: 'error',
        message: mistake.message,
      });
    }
    editor.dispatch(setDiagnostics(editor.state, found));
  }, [props.mistake, props]);

  return <div ref={place} className="rule-editor" />;
}
