import { addRule, type Caller, send, signInRecord, type TestServer } from './server.js';

/** A rule about refused sign-ins, and the alert that it raises about Teo Marrash at 198.18.40.77. @returns its number */
export async function refusedAlert(server: TestServer, analyst: Caller): Promise<number> {
  await addRule(
    analyst,
    'title: Refused\nlevel: high\nlogsource: {product: harbour-id}\ndetection: {failed: {outcome: failure}, condition: failed}\nlamp: {subject: [user, src_ip]}\n',
  );
  await send(
    server,
    'harbour-id',
    signInRecord({
      at: '2026-11-14T08:00:00Z',
      user: 'teo.marrash',
      address: '198.18.40.77',
      denied: 'bad_secret',
    }),
  );
  return (await analyst.call('GET', '/alerts')).json.alerts[0].id as number;
}
