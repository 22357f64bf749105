import { Writable } from 'node:stream';
import { pino } from 'pino';
import { plainError } from './plain-error.js';

it('logs what an error says, and nothing that hangs on it', () => {
  let written = '';
  const out = new Writable({ write: (chunk, _encoding, done) => ((written += String(chunk)), done()) });
  const logger = pino({ serializers: { err: plainError } }, out);
  const cause = Object.assign(new Error('the socket closed'), {
    client: { secretKey: 4711, password: 'sesame' },
  });
  const error = Object.assign(new Error('a connection broke', { cause }), {
    code: '57P01',
    client: { secretKey: 4711, connectionParameters: { password: 'sesame' } },
  });
  logger.warn({ err: error }, 'an idle database connection broke');
  expect(written).not.toMatch(/4711|sesame|secretKey/);
  expect(JSON.parse(written).err).toMatchObject({
    message: 'a connection broke',
    code: '57P01',
    cause: { message: 'the socket closed' },
  });
});

it('has words for what is thrown and is no error', () => {
  expect(plainError('x')).toEqual({ type: 'string', message: 'x' });
});
