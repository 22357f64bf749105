/**
 * Characters that steer how text is shown, or are not seen: controls (C0, C1), marks of direction, and what is invisible
 * or takes no room. A name that holds them looks like another. Sources: Unicode 16.0, properties Bidi_Control and
 * Default_Ignorable_Code_Point; UTS 39, section 3; UTS 55.
 */
const MISLEADING =
  // eslint-disable-next-line no-control-regex, no-misleading-character-class -- they are what is looked for
  /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u00ad\u034f\u061c\u115f\u1160\u17b4\u17b5\u180b-\u180f\u200b-\u200f\u2028-\u202e\u2060-\u206f\u3164\ufe00-\ufe0f\ufeff\uffa0\ufff0-\ufffb\u{1bca0}-\u{1bca3}\u{1d173}-\u{1d17a}\u{e0000}-\u{e0fff}]/gu;

/** A joiner or a form of an emoji stands within what is drawn as one; it misleads nobody there. */
const WITHIN_EMOJI =
  /(?<=\p{Extended_Pictographic}\u{fe0f}?)(?:\u{fe0f}|\u{200d}(?=\p{Extended_Pictographic}))/gu;

const mark = (character: string): string =>
  `⟨U+${(character.codePointAt(0) ?? 0).toString(16).toUpperCase().padStart(4, '0')}⟩`;

/** True for a text that holds a character that misleads. Tabs and line feeds do not. */
export function isMisleading(text: string): boolean {
  MISLEADING.lastIndex = 0;
  return MISLEADING.test(text);
}

/** A text with the characters that mislead shown as visible marks, such as ⟨U+202E⟩. Tabs and line feeds stay. */
export function visibleText(text: string): string {
  if (!isMisleading(text)) return text;
  const kept = new Set(Array.from(text.matchAll(WITHIN_EMOJI), ({ index }) => index));
  return text.replace(MISLEADING, (character, at: number) => (kept.has(at) ? character : mark(character)));
}

/**
 * The text of a JSON document with the characters that mislead written as escapes: it reads back the same, and does no harm
 * on a terminal.
 */
export const visibleJson = (json: string): string =>
  json.replace(MISLEADING, (character) =>
    Array.from(
      { length: character.length },
      (_, i) => `\\u${character.charCodeAt(i).toString(16).padStart(4, '0')}`,
    ).join(''),
  );
