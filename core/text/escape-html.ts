import { visibleText } from './visible.js';

const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};

/** A text as HTML shows it, in elements and in quoted attributes, with characters that mislead made visible. */
export const escapeHtml = (text: string): string =>
  visibleText(text).replace(/[&<>"']/g, (sign) => ENTITIES[sign] ?? sign);
