declare module 'unicode-confusables' {
  /** The text with every confusable character replaced by the one it is taken for: the skeleton of UTS #39. */
  export function rectifyConfusion(text: string): string;
}
