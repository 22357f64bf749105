import {
  autocompletion,
  closeBrackets,
  closeBracketsKeymap,
  type Completion,
  type CompletionContext,
  completionKeymap,
  type CompletionResult,
} from '@codemirror/autocomplete';
import { type Diagnostic, linter, lintKeymap } from '@codemirror/lint';
import { type Extension, Prec } from '@codemirror/state';
import { type EditorView, keymap } from '@codemirror/view';
import { compileHunt, type CompileOptions } from '../../core/wick/compile.js';
import { type Catalogue, completeAt } from '../../core/wick/complete.js';
import { HuntError } from '../../core/wick/hunt-error.js';
import { listFieldValues } from '../../core/wire/endpoints/hunts.js';
import { call } from '../api/call.js';

/** What the editor knows besides the text. */
export interface HuntHelp {
  readonly options: CompileOptions;
  readonly catalogue: Catalogue;
}

async function seenValues(field: string, prefix: string, signal: AbortSignal): Promise<Completion[]> {
  try {
    const { values } = await call(listFieldValues, { query: { field, prefix }, signal });
    return values.map(({ value, count }) => ({
      label: value,
      detail: count.toLocaleString('en-GB'),
      type: 'text',
      apply: value.replaceAll("'", "''"),
    }));
  } catch {
    // Suggestions that do not come are no reason to disturb whoever is typing.
    return [];
  }
}

async function complete(context: CompletionContext, help: () => HuntHelp): Promise<CompletionResult | null> {
  const { catalogue, options } = help();
  const found = completeAt(context.state.sliceDoc(0, context.pos), catalogue, options);
  if (found === null || (!context.explicit && found.from === context.pos && !('valuesOf' in found)))
    return null;
  const fixed = found.suggestions.map(({ label, meaning, write, kind }): Completion => ({
    label,
    detail: meaning,
    type: kind,
    apply: write ?? label,
  }));
  if (!('valuesOf' in found)) return { from: found.from, options: fixed, validFor: /^[\p{L}\p{N}_.]*$/u };
  const controller = new AbortController();
  context.addEventListener('abort', () => controller.abort());
  const seen = fixed.length > 0 ? [] : await seenValues(found.valuesOf, found.prefix, controller.signal);
  return { from: found.from, options: [...fixed, ...seen] };
}

function lint(text: string, options: CompileOptions): Diagnostic[] {
  if (text.trim() === '') return [];
  try {
    compileHunt(text, { ...options, writing: true });
    return [];
  } catch (error) {
    if (!(error instanceof HuntError)) throw error;
    const from = Math.min(error.span.offset, text.length);
    const to = Math.min(text.length, from + Math.max(1, error.span.end - error.span.column));
    const { suggestion } = error;
    return [
      {
        from: Math.min(from, Math.max(0, to - 1)),
        to,
        severity: 'error',
        message: error.message,
        ...(suggestion !== undefined && {
          actions: [
            {
              name: `Write ${suggestion}`,
              apply: (view: EditorView, start: number, end: number) =>
                view.dispatch({ changes: { from: start, to: end, insert: suggestion } }),
            },
          ],
        }),
      },
    ];
  }
}

/** Completion and error marks, both from the very code that the server checks hunts with. */
export function wickHelp(help: () => HuntHelp): Extension {
  return [
    closeBrackets(),
    Prec.high(keymap.of([...closeBracketsKeymap, ...completionKeymap, ...lintKeymap])),
    autocompletion({
      override: [(context) => complete(context, help)],
      icons: false,
      activateOnTyping: true,
    }),
    linter((view) => lint(view.state.doc.toString(), help().options), { delay: 300 }),
  ];
}
