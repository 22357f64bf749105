import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { JSX } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import type { SetAsideList, Source } from '../../../core/wire/sources.js';
import { askJson } from '../../api/client.js';
import { keys } from '../../api/keys.js';
import { usePerson } from '../../api/session.js';
import { CurlLink } from '../../ui/Curl.js';
import { count, showTime } from '../../ui/format.js';
import { SourceGlyph } from '../../ui/Glyphs.js';
import { Failed } from '../../ui/State.js';
import { ShownKey } from './ShownKey.js';
import { Upload } from './Upload.js';

/** One source: how it stands, how to send to it, and what could not be read. */
export function SourceSheet({
  source,
  zone,
  search,
}: {
  source: Source;
  zone: string;
  search: string;
}): JSX.Element {
  const person = usePerson();
  const client = useQueryClient();
  const rotate = useMutation({
    mutationFn: () => askJson<{ key: string }>(`/sources/${source.name}/key`, { method: 'POST' }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.sources }),
  });
  const hunt = new URLSearchParams(search);
  hunt.set('q', `from source ${source.name}`);
  return (
    <section className="sheet" aria-label="Source">
      <div className="sheet-head pb-1">
        <h2 className="sheet-title grow">{source.title}</h2>
        <Link className="sm" to={`/hunt?${hunt}`}>
          Hunt its events
        </Link>
      </div>
      <p className="inset sm soft">{source.description}</p>
      <div className="scrolls">
        <div className="sub-head">
          <h3 className="section-head">How it stands</h3>
        </div>
        <Line name="state">
          <SourceGlyph state={source.state} /> {source.state}
        </Line>
        <Line name="last event">
          {source.lastEvent === null ? 'never' : `${showTime(source.lastEvent, zone, 'log')} ${zone}`}
        </Line>
        <Line name="came in last">
          {source.lastReceived === null ? 'never' : `${showTime(source.lastReceived, zone, 'log')} ${zone}`}
        </Line>
        <Line name="events stored">{count(source.stored)}</Line>
        <Line name="sent again, already known">{count(source.known)}</Line>
        <Line name="recipe">
          <span className="mono">{source.recipe}</span>
        </Line>
        <Line name="key">
          <span className="mono">…{source.keyEnding}</span>
          {person.role === 'admin' && (
            <button type="button" className="link ms-3" onClick={() => rotate.mutate()}>
              Rotate
            </button>
          )}
        </Line>
        {rotate.isError && <Failed title="The key was not rotated">{rotate.error.message}</Failed>}
        {person.role !== 'reader' && <Upload source={source.name} />}
        <SetAside source={source.name} waiting={source.setAside} zone={zone} />
      </div>
      <div className="sheet-foot">
        <span className="grow">Records go to /api/v1/intake/{source.name}</span>
        <CurlLink path={`/sources/${source.name}/set-aside`} />
      </div>
      <Modal show={rotate.data !== undefined} onHide={() => rotate.reset()} aria-label="A new key">
        <Modal.Header closeButton>
          <Modal.Title>A new key</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {rotate.data !== undefined && <ShownKey source={source.name} secret={rotate.data.key} />}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="primary" onClick={() => rotate.reset()}>
            I have kept it
          </Button>
        </Modal.Footer>
      </Modal>
    </section>
  );
}

function Line({ name, children }: { name: string; children: React.ReactNode }): JSX.Element {
  return (
    <div className="row-line">
      <span className="soft">{name}</span>
      <span>{children}</span>
    </div>
  );
}

/** What could not be read: the record as it came, and the reason. */
function SetAside({ source, waiting, zone }: { source: string; waiting: number; zone: string }): JSX.Element {
  const list = useQuery({
    queryKey: [...keys.setAside(source), waiting],
    queryFn: () => askJson<SetAsideList>(`/sources/${source}/set-aside`),
    enabled: waiting > 0,
  });
  return (
    <>
      <div className="sub-head ruled">
        <h3 className="section-head">Set aside</h3>
        <span className="xs faint">
          {waiting === 0
            ? 'every record could be read'
            : `${count(waiting)} records could not be read; they are kept as they came`}
        </span>
      </div>
      {list.isError && <Failed title="They cannot be shown">{list.error.message}</Failed>}
      {list.data?.records.map((record) => (
        <div key={record.id} className="haired inset py-1">
          <p className="sm">
            {record.reason} <span className="faint xs">{showTime(record.received, zone, 'minute')}</span>
          </p>
          <p className="mono xs soft" style={{ overflowWrap: 'anywhere' }}>
            {record.raw.slice(0, 400)}
          </p>
        </div>
      ))}
    </>
  );
}
