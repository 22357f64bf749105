/** A part of a sentence: words as they are, or the value of a column. */
export interface SentencePart {
  readonly text: string;
  /** The column whose value stands here; null for words. */
  readonly column: string | null;
  /** Whether it stands out: written between asterisks. */
  readonly strong: boolean;
}

/** Cuts a template such as `{user} gave *{right}*` into words and columns. Braces that close nothing are words. */
export function readTemplate(template: string): SentencePart[] {
  const parts: SentencePart[] = [];
  const cut = /(\*?)\{([^{}]{1,300})\}(\*?)/g;
  let from = 0;
  for (const found of template.matchAll(cut)) {
    const strong = found[1] === '*' && found[3] === '*';
    const start = found.index + (strong ? 0 : (found[1] ?? '').length);
    const end = found.index + found[0].length - (strong ? 0 : (found[3] ?? '').length);
    if (start > from) parts.push({ text: template.slice(from, start), column: null, strong: false });
    parts.push({ text: '', column: (found[2] ?? '').trim(), strong });
    from = end;
  }
  if (from < template.length) parts.push({ text: template.slice(from), column: null, strong: false });
  return parts;
}
