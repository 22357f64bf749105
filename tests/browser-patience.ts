// A step of a browser test that hangs fails by itself within a minute (`e2e/support/browser.ts`); a whole walk has many.
jest.setTimeout(240_000);
