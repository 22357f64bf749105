import type { JSX } from 'react';

/** A key in the only moment it is known, with a command that sends a record with it. */
export function ShownKey({ source, secret }: { source: string; secret: string }): JSX.Element {
  const command = `curl -sS -H "Authorization: Bearer ${secret}" --data-binary @records.txt \\\n  '${window.location.origin}/api/v1/intake/${source}'`;
  return (
    <>
      <p className="sm pb-2">Keep the key now; only its hash is stored, and it is not shown again.</p>
      <pre className="curl-text" data-testid="source-key">
        {secret}
      </pre>
      <p className="sm py-2">This sends a file of records:</p>
      <pre className="curl-text">{command}</pre>
    </>
  );
}
