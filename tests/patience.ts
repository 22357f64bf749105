// Tests against a database or a browser wait for other programs; a slow machine is no failure.
jest.setTimeout(180_000);
