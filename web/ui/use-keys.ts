import { useEffect, useLayoutEffect, useRef } from 'react';

/** Keys by name, such as `j`, `Escape`, `g h` (one after the other). */
export type KeyMap = Readonly<Record<string, () => void>>;

/** Two keys belong together when they follow each other so quickly. */
const CHORD_MILLISECONDS = 1200;

/** Fields that are clicked, not typed into. */
const CLICKED = new Set(['checkbox', 'radio', 'button', 'submit', 'file']);

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  !(target instanceof HTMLInputElement && CLICKED.has(target.type)) &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** What is on a button or a link when it is pressed there belongs to it. */
const isPress = ({ key, target }: KeyboardEvent): boolean =>
  (key === 'Enter' || key === ' ') &&
  target instanceof Element &&
  target.closest('a[href], button, summary, [role="button"], [role="tab"]') !== null;

/**
 * Single keys anywhere on the page; they are off while someone types, and while a dialogue is open. Packages for
 * shortcuts bind keys; most of this says when not to, and what belongs to the button under the hand.
 */
export function useKeys(keys: KeyMap): void {
  const latest = useRef(keys);
  // With the rows it belongs to: an effect that came later would let a quick key do what the row before asked for.
  useLayoutEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    let first: { key: string; at: number } | null = null;
    const listen = (event: KeyboardEvent): void => {
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        isTyping(event.target) ||
        isPress(event) ||
        document.querySelector('.modal.show') !== null
      )
        return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const chord =
        first !== null && event.timeStamp - first.at < CHORD_MILLISECONDS ? `${first.key} ${key}` : null;
      const action = (chord !== null ? latest.current[chord] : undefined) ?? latest.current[key];
      first =
        action === undefined && Object.keys(latest.current).some((name) => name.startsWith(`${key} `))
          ? { key, at: event.timeStamp }
          : null;
      if (action !== undefined) {
        event.preventDefault();
        action();
      }
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}

/** One key together with Ctrl or Command, anywhere, also while someone types; not over a dialogue. */
export function useControlKey(key: string, act: () => void): void {
  const latest = useRef(act);
  useLayoutEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent): void => {
      if (
        !(event.ctrlKey || event.metaKey) ||
        event.altKey ||
        event.shiftKey ||
        event.key.toLowerCase() !== key ||
        document.querySelector('.modal.show') !== null
      )
        return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [key]);
}
