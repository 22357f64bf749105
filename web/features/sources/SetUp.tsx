import { useQuery } from '@tanstack/react-query';
import { type JSX, useState } from 'react';
import { readIntakeWays } from '../../../core/wire/endpoints/intake.js';
import type { Source } from '../../../core/wire/sources.js';
import { answerTo } from '../../api/call.js';
import { count, counted } from '../../ui/format.js';
import { TextMark } from '../../ui/Glyphs.js';
import { Failed } from '../../ui/State.js';

/** What a sender needs, step by step, with commands that work as they stand. */
export function SetUp({ source }: { source: Source }): JSX.Element {
  const ways = useQuery(answerTo(readIntakeWays));
  const heard = source.state !== 'waiting';
  const { syslog } = ways.data ?? { syslog: null };
  return (
    <>
      <div className="sub-head">
        <h3 className="section-head">Checklist</h3>
      </div>
      <Step done>
        a recipe reads it: <span className="mono">{source.recipe}</span>
      </Step>
      <Step done>
        a key opens it: <span className="mono">…{source.keyEnding}</span> (a lost key is rotated under
        Settings)
      </Step>
      <Step done={heard}>
        {heard
          ? `the first record came in; ${counted(source.stored, 'event')} stored`
          : 'no record has come in yet'}
      </Step>
      <Step done={heard && source.setAside === 0}>
        {source.setAside === 0
          ? 'nothing had to be set aside'
          : `${counted(source.setAside, 'record')} could not be read; see Set aside`}
      </Step>
      {ways.isError && <Failed title="The ways in cannot be shown">{ways.error.message}</Failed>}
      <div className="sub-head ruled">
        <h3 className="section-head">Over HTTP</h3>
        {ways.data !== undefined && (
          <span className="xs faint">
            at most {count(ways.data.records)} records and {count(ways.data.bytes / 1_048_576)} MiB a request,
            gzip allowed
          </span>
        )}
      </div>
      <Command
        text={`curl -sS -H "Authorization: Bearer $KEY" --data-binary @records.txt \\\n  '${window.location.origin}/api/v1/intake/${source.name}'`}
      />
      {source.format === 'json' && (
        <>
          <div className="sub-head ruled">
            <h3 className="section-head">Over OTLP</h3>
            <span className="xs faint">
              log records of the OpenTelemetry protocol, for the recipe{' '}
              <span className="mono">otlp-logs</span>
            </span>
          </div>
          <Command
            text={`OTEL_EXPORTER_OTLP_LOGS_ENDPOINT=${window.location.origin}/api/v1/otlp/${source.name}/v1/logs\nOTEL_EXPORTER_OTLP_LOGS_HEADERS="Authorization=Bearer $KEY"`}
          />
        </>
      )}
      {syslog?.port != null && source.format === 'syslog' && (
        <>
          <div className="sub-head ruled">
            <h3 className="section-head">Over syslog</h3>
            <span className="xs faint">
              {source.syslog === null
                ? 'say under Settings whose messages are its own'
                : 'messages it claims come here, all others go to the source "syslog"'}
            </span>
          </div>
          <Command
            text={`logger --tcp --octet-count --server ${syslog.host} --port ${syslog.port} --tag ${source.syslog?.programs?.[0] ?? 'test'} 'hello from the quay'`}
          />
          <Command
            text={`*.* action(type="omfwd" target="${syslog.host}" port="${syslog.port}" protocol="tcp"\n  TCP_Framing="octet-counted" template="RSYSLOG_SyslogProtocol23Format")`}
          />
        </>
      )}
    </>
  );
}

function Step({ done, children }: { done: boolean; children: React.ReactNode }): JSX.Element {
  return (
    <p className="inset sm py-1 d-flex gap-2 align-items-center">
      {done ? <TextMark mark="fine" /> : <span className="glyph-blank" aria-hidden="true" />}
      <span>
        <span className="visually-hidden">{done ? 'done: ' : 'to do: '}</span>
        {children}
      </span>
    </p>
  );
}

/** A command to copy. */
function Command({ text }: { text: string }): JSX.Element {
  const [copied, setCopied] = useState(false);
  return (
    <div className="inset py-1">
      <pre className="curl-text mb-1">{text}</pre>
      <button
        type="button"
        className="link sm"
        onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}
      >
        {copied ? 'Copied' : 'Copy'}
      </button>
    </div>
  );
}
