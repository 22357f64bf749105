import { lazy, Suspense, useState, type JSX } from 'react';

const CurlDialog = lazy(async () => ({ default: (await import('./CurlDialog.js')).CurlDialog }));

const shellQuote = (text: string): string => `'${text.replaceAll("'", `'\\''`)}'`;

/** The request behind what is shown, as a command that runs. */
export function curlOf(path: string, body?: unknown): string {
  const lines = [`curl -sS -H "Authorization: Bearer $UNDER_LAMP_TOKEN"`];
  if (body !== undefined)
    lines.push(`-H 'Content-Type: application/json' --data ${shellQuote(JSON.stringify(body))}`);
  lines.push(shellQuote(`${window.location.origin}/api/v1${path}`));
  return lines.join(' \\\n  ');
}

/** Opens the command for what is on screen. */
export function CurlLink({ path, body }: { path: string; body?: unknown }): JSX.Element {
  const [open, setOpen] = useState(false);
  const text = curlOf(path, body);
  return (
    <>
      <button type="button" className="link" onClick={() => setOpen(true)}>
        As curl
      </button>
      {open && (
        <Suspense fallback={null}>
          <CurlDialog text={text} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
