import { Caller, send, signInRecord, TEST_TIME, testServer, type TestServer } from '../tests/server.js';

// What a case holds besides events and alerts, and what of it goes into its file and its report.

let server: TestServer;
let analyst: Caller;
let reader: Caller;

const call = (method: string, path: string, body?: object) => analyst.call(method, `/cases${path}`, body);
const open = async (title: string): Promise<any> => (await call('POST', '', { title, pins: [] })).json;
const report = async (id: number, form: string): Promise<string> =>
  (await analyst.fetch('GET', `/cases/${id}/report?form=${form}`)).text();
const fileOf = async (id: number): Promise<any> => JSON.parse(await report(id, 'json'));

beforeAll(async () => {
  server = await testServer();
  analyst = await new Caller(server).signIn('analyst');
  reader = await new Caller(server).signIn('reader');
  const at = (minutes: number): string =>
    new Date(Date.parse('2026-11-14T08:00:00Z') + minutes * 60_000).toISOString();
  const records = [0, 1, 2, 61, 62, 130].map((minutes) =>
    signInRecord({ at: at(minutes), user: '<b>teo</b>', address: '198.18.40.77' }),
  );
  await send(server, 'harbour-id', records.join('\n'));
});
afterAll(() => server.stop());

describe('files of a case', () => {
  const put = (id: number, name: string, bytes: Uint8Array, who: Caller = analyst): Promise<Response> =>
    who.fetchRaw('POST', `/cases/${id}/files?name=${encodeURIComponent(name)}`, bytes);

  it('are hashed, kept as they came, and given out as nothing that runs', async () => {
    const { id } = await open('Files');
    const page = new TextEncoder().encode('<script>alert(1)</script>');
    const pinned = (await (await put(id, '../<b>page</b>.html', page)).json()) as any;
    const pin = pinned.pinned.find(({ kind }: any) => kind === 'file');
    expect(pin).toMatchObject({ title: '../<b>page</b>.html', ref: expect.stringMatching(/^[0-9a-f]{64}$/) });
    const given = await reader.fetch('GET', `/cases/${id}/files/${pin.ref}`);
    expect(new Uint8Array(await given.arrayBuffer())).toEqual(page);
    expect(given.headers.get('content-type')).toBe('application/octet-stream');
    expect(given.headers.get('content-disposition')).toMatch(/^attachment/);
    expect(given.headers.get('x-content-type-options')).toBe('nosniff');
    // The same again is there already; its evidence verifies, and says what it is.
    const again = (await (await put(id, 'other-name', page)).json()) as any;
    expect(again.pinned.filter(({ kind }: any) => kind === 'file')).toHaveLength(1);
    expect((await call('GET', `/${id}/verify`)).json.holds).toBe(true);
    expect((await call('GET', `/${id}/pins/${pin.id}`)).json.facts).toContainEqual({
      label: 'SHA-256',
      value: pin.ref,
    });
    const html = await (await reader.fetch('GET', `/cases/${id}/report?form=html`)).text();
    expect(html).not.toContain('<b>page</b>');
    await call('DELETE', `/${id}/pins/${pin.id}`);
    expect((await reader.fetch('GET', `/cases/${id}/files/${pin.ref}`)).status).toBe(404);
  });

  it('are bounded, and those of another case are not given out', async () => {
    const { id } = await open('Bounded');
    const other = await open('Elsewhere');
    expect((await put(id, 'large', new Uint8Array(10 * 1024 * 1024 + 1))).status).toBe(413);
    expect((await put(id, 'empty', new Uint8Array(0))).status).toBe(422);
    expect((await put(id, 'x', new Uint8Array(3), reader)).status).toBe(403);
    const { pinned } = (await (await put(id, 'small', new Uint8Array(3))).json()) as any;
    const { ref } = pinned.find(({ kind }: any) => kind === 'file');
    expect((await reader.fetch('GET', `/cases/${other.id}/files/${ref}`)).status).toBe(404);
    expect((await call('POST', `/${id}/pins`, { kind: 'file', ref, title: 'x' })).status).toBe(422);
  });

  it('go along in the file of the case, and are read with it; one that was changed is refused', async () => {
    const { id } = await open('Along');
    const bytes = new Uint8Array([0, 255, 10, 13, 60]);
    const { pinned } = (await (await put(id, 'mail.eml', bytes)).json()) as any;
    const { ref } = pinned.find(({ kind }: any) => kind === 'file');
    const file = await fileOf(id);
    expect(file.files).toEqual([{ sha256: ref, base64: Buffer.from(bytes).toString('base64') }]);
    expect(file.filesLeftOut).toEqual([]);
    const { json: read } = await call('POST', '/import', file);
    const given = await reader.fetch('GET', `/cases/${read.id}/files/${ref}`);
    expect(new Uint8Array(await given.arrayBuffer())).toEqual(bytes);
    expect((await call('GET', `/${read.id}/verify`)).json.holds).toBe(true);
    const forged = { ...file, files: [{ sha256: ref, base64: 'AAAA' }] };
    const refused = await call('POST', '/import', forged);
    expect([refused.status, refused.json.detail]).toEqual([422, expect.stringContaining(ref.slice(0, 12))]);
    // What is marked for fewer readers does not go along, nor do its bytes.
    await call('PATCH', `/${id}/pins/${pinned[0].id}`, { marking: 'red' });
    expect(await fileOf(id)).toMatchObject({ files: [], case: { pins: [] } });
    // What is too much is told by its name.
    const large = new Uint8Array(9 * 1024 * 1024);
    const { id: full } = await open('Much');
    for (const [i, name] of ['first', 'second', 'third'].entries()) {
      large[0] = i;
      await put(full, name, large);
    }
    const much = await fileOf(full);
    expect([much.files.length, much.filesLeftOut]).toEqual([2, ['third']]);
  });
});

describe('pictures of cards', () => {
  const keep = async (text: string, picture?: object): Promise<any> =>
    (
      await analyst.call('POST', '/snapshots', {
        name: 'By the hour',
        question: { text, window: TEST_TIME },
        ...(picture !== undefined && { picture }),
      })
    ).json;
  const pinned = async (snapshot: number): Promise<any> =>
    call('POST', '', {
      title: 'Pictures',
      pins: [{ kind: 'snapshot', ref: String(snapshot), title: 'By the <i>hour</i>' }],
    }).then(({ json }) => json);
  const byHour = 'from signin\nset hour = bucket(time, 1h)\ntally count() as n per hour, user';

  it('are drawn in the report as the card showed them when it was pinned', async () => {
    const { id: snapshot } = await keep(byHour, { kind: 'stacked' });
    expect((await analyst.call('GET', `/snapshots/${snapshot}`)).json.picture).toEqual({ kind: 'stacked' });
    const { id } = await pinned(snapshot);
    const html = await report(id, 'html');
    const figure = /<figure>.*?<\/figure>/s.exec(html)?.[0] ?? '';
    expect(figure).toContain('<figcaption>By the &lt;i&gt;hour&lt;/i&gt;</figcaption>');
    expect(figure.match(/<rect /g)).toHaveLength(3);
    expect(figure).toContain('&lt;b&gt;teo&lt;/b&gt; 6');
    expect(html).not.toContain('<b>teo</b>');
    expect((await call('GET', `/${id}/verify`)).json.holds).toBe(true);
  });

  it('what its card did not show is not shown; rows, and pictures that paper cannot bear, stay evidence', async () => {
    const hidden = await pinned((await keep(byHour, { kind: 'ranked', hide: ['user'] })).id);
    expect(/<figure>.*?<\/figure>/s.exec(await report(hidden.id, 'html'))?.[0]).not.toContain('teo');
    for (const picture of [undefined, { kind: 'rows' }, { kind: 'map' }]) {
      const one = await pinned((await keep(byHour, picture)).id);
      expect(await report(one.id, 'html')).not.toContain('<figure>');
    }
    expect((await keep(byHour, { kind: 'oil painting' })).status).toBe(400);
  });
});
