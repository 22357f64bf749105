import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import express, { Router } from 'express';

// The letters and the sign of the product, so that its companions look like family.

const FONTS = [
  ['Atkinson Hyperlegible Next Variable', 'atkinson-hyperlegible-next'],
  ['Atkinson Hyperlegible Mono Variable', 'atkinson-hyperlegible-mono'],
  ['Newsreader Variable', 'newsreader'],
] as const;

const MARK =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 26"><rect width="24" height="26" rx="4" fill="#17110c"/><path d="M12 0v5" stroke="#cbb999" stroke-width="1.5"/><path d="M7.5 13h9L22.5 26h-21z" fill="#e6a42e" opacity=".34"/><path d="M4 13c0-5 3.2-8.5 8-8.5s8 3.5 8 8.5z" fill="#e6a42e"/><path d="M9 13a3 3 0 0 0 6 0z" fill="#fff1cc"/></svg>';

/** The faces that pages of the stand-ins are set in. */
export const fontFaces = FONTS.map(
  ([family, name]) =>
    `@font-face { font-family: '${family}'; font-weight: 200 800; src: url('/fonts/${name}/${name}-latin-wght-normal.woff2') format('woff2'); }`,
).join('\n  ');

/** Serves the faces and the icon of the pages. */
export function fontsAndIcon(): Router {
  const router = Router();
  const packages = createRequire(import.meta.url);
  for (const [, name] of FONTS) {
    const folder = join(dirname(packages.resolve(`@fontsource-variable/${name}/package.json`)), 'files');
    router.use(`/fonts/${name}`, express.static(folder, { maxAge: '1d', index: false }));
  }
  router.get('/mark.svg', (_request, response) => void response.type('svg').send(MARK));
  return router;
}
