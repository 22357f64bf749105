// A step of a browser test that hangs fails by itself within a minute (`e2e/support/browser.ts`); a whole walk has many,
// and on a machine that others share each may take several times as long as here.
jest.setTimeout(600_000);
