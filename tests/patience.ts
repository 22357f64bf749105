// Tests wait for other programs (database, browser, the command line). What takes longer than this hangs; a file whose
// own work is longer, such as loading the demo world, says so where it does it.
jest.setTimeout(60_000);
