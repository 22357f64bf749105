import { fontFaces } from './fonts.js';

/** Text as it may stand in a page. */
export const escape = (text: string): string =>
  text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

const STYLE = `
  ${fontFaces}
  body { margin: 0; background: #211912; color: #281d13; font: 14px/1.4 'Atkinson Hyperlegible Next Variable', system-ui, sans-serif; }
  main { max-width: 860px; margin: 24px auto; background: #f4ead3; border-radius: 3px; padding: 16px 24px 24px; }
  nav { max-width: 860px; margin: 16px auto 0; padding: 0 24px; display: flex; gap: 16px; }
  nav a { color: #f1e5cd; }
  h1 { font: 500 28px/1.15 'Newsreader Variable', Georgia, serif; margin: 8px 0 4px; }
  h2 { font-size: 14px; margin: 24px 0 4px; }
  p { margin: 4px 0; }
  .soft { color: #55442f; }
  table { width: 100%; border-collapse: collapse; }
  td, th { text-align: left; padding: 8px 12px 8px 0; border-top: 1px solid #d9c8a5; vertical-align: top; font-weight: 400; overflow-wrap: anywhere; }
  td.number { text-align: right; font-variant-numeric: tabular-nums; }
  code, pre { font: 13px/19px 'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace; white-space: pre-wrap; overflow-wrap: anywhere; margin: 0; }
  button { background: #f4ead3; border: 1px solid #8a7450; border-radius: 3px; padding: 4px 12px; font: inherit; cursor: pointer; }
  button:hover { background: #fffaec; }
  :focus-visible { outline: 2px solid #1d4274; outline-offset: 2px; }
  a { color: #1d4274; }
  .trouble, .message { border-left: 3px solid #832f33; padding-left: 8px; }
  .message { border-color: #8a7450; margin: 16px 0; }`;

const places = [
  ['/', 'Scenes'],
  ['/chat', 'Chat room'],
  ['/mail', 'Mailbox'],
  ['/sink', 'Webhook sink'],
  ['/identity', 'Identity directory'],
  ['/firewall', 'Firewall'],
] as const;

/** A page of the stand-ins. @param refresh seconds after which it is loaded again; 0 for never */
export const renderFrame = (title: string, content: string, refresh = 0): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escape(title)}</title>
<meta name="viewport" content="width=device-width"><link rel="icon" href="/mark.svg">${refresh > 0 ? `<meta http-equiv="refresh" content="${refresh}">` : ''}
<style>${STYLE}</style></head><body>
<nav>${places.map(([path, name]) => `<a href="${path}">${name}</a>`).join('')}</nav>
<main><h1>${escape(title)}</h1>
${content}
</main></body></html>`;
