// Tests wait for other programs (database, browser, the command line); a slow machine is no failure.
jest.setTimeout(480_000);
