/** Calls the API of a workbench as somebody who is signed in there. */
export type ApiCall = (method: string, path: string, body?: object) => Promise<Response>;

/** Signs somebody of the demo in. @returns how to call the API as they */
export async function signedInCall(base: string, name = 'ottilie.brandt'): Promise<ApiCall> {
  const begun = await fetch(`${base}/api/v1/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name, password: 'skerry-line' }),
  });
  const cookie = begun.headers.get('set-cookie')?.split(';')[0] ?? '';
  return (method, path, body) =>
    fetch(`${base}/api/v1${path}`, {
      method,
      headers: { Cookie: cookie, ...(body !== undefined && { 'Content-Type': 'application/json' }) },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
}
