import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type JSX, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { CaseChange, CaseDetail } from '../../../core/wire/cases.js';
import {
  addCaseFile,
  addCaseTask,
  changeCase,
  changeCasePin,
  changeCaseTask,
  linkCase,
  listCases,
  mergeCase,
  pinToCase,
  putCaseSubject,
  readCase,
  splitCase,
  suggestForCase,
  unlinkCase,
  unpinFromCase,
  verifyCase,
  watchCase,
} from '../../../core/wire/endpoints/cases.js';
import { about, answerTo, call, keyOf, send } from '../../api/call.js';
import { usePerson } from '../../api/session.js';
import { useAsked } from '../../beam/asked.js';
import { beamSearch, useBeam } from '../../beam/beam.js';
import { oneOf, useAddressState } from '../../kit/address-state.js';
import { Dialog } from '../../kit/Dialog.js';
import { rowKeys } from '../../kit/row-keys.js';
import { Key } from '../../ui/Key.js';
import { Failed, Reading } from '../../ui/State.js';
import { Tabs } from '../../ui/Tabs.js';
import { useKeys } from '../../ui/use-keys.js';
import { LinkCase, SplitCase } from './BelongsPart.js';
import { CaseWords, CloseCase, HandOver, MergeCase } from './case-dialogs.js';
import { PinSheet } from './PinSheet.js';
import { reportAddress } from './ReportBar.js';
import { StandsSheet } from './StandsSheet.js';
import { keyOfThing, StoryList, type StoryThing, thingsOf } from './StoryList.js';

const USUAL = { show: 'story', at: '' } as const;
const SHOWN = ['story', 'key', 'notes'] as const;

/** One case: its story, the thing looked at, and where it stands. */
export function CasePage(): JSX.Element {
  const id = Number(useParams()['id']);
  const found = useQuery(answerTo(readCase, { params: { id } }));
  if (found.isError || found.data === undefined)
    return (
      <main className="bench">
        <section className="sheet" aria-label="Case">
          {found.isError ? (
            <Failed title="The case cannot be shown">{found.error.message}</Failed>
          ) : (
            <Reading title="Fetching the case" />
          )}
        </section>
      </main>
    );
  return <OneCase key={id} one={found.data} />;
}

function OneCase({ one }: { one: CaseDetail }): JSX.Element {
  const client = useQueryClient();
  const [parameters] = useSearchParams();
  const search = beamSearch(parameters);
  const navigate = useNavigate();
  const state = useAddressState(USUAL);
  const { at } = useAsked();
  const { beam } = useBeam(at);
  const zone = beam.zone;
  const mayChange = usePerson().role !== 'reader' && one.mergedInto === null;
  const params = { id: one.id };
  const field = useRef<HTMLTextAreaElement>(null);
  const [dialog, setDialog] = useState<
    'close' | 'hand over' | 'words' | 'merge' | 'take off' | 'split' | 'link' | null
  >(null);
  const [adding, setAdding] = useState(false);
  const show = oneOf(SHOWN, state.values.show) ?? 'story';
  const things = thingsOf(one, show);
  const first = things.find((thing) => thing.what === 'pin' && thing.pin.key) ?? things[0] ?? null;
  const thing = things.find((other) => keyOfThing(other) === state.values.at) ?? first;
  const learn = async (detail: CaseDetail): Promise<void> => {
    client.setQueryData(answerTo(readCase, { params }).queryKey, detail);
    await Promise.all([
      client.invalidateQueries({ queryKey: keyOf(listCases) }),
      client.invalidateQueries({ queryKey: keyOf(suggestForCase, { params }) }),
      client.invalidateQueries({ queryKey: keyOf(verifyCase, { params }) }),
    ]);
  };
  const work = useMutation({
    mutationFn: (act: () => Promise<CaseDetail>) => act(),
    onSuccess: learn,
  });
  // What is split off is another case: one goes there, and this one is read anew when one comes back.
  const split = useMutation({
    mutationFn: (body: { title: string; pins: readonly number[] }) =>
      call(splitCase, { params, body: { ...body, pins: [...body.pins] } }),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries(about('cases'));
      void navigate(`/cases/${id}${search}`);
    },
  });
  const pin = thing?.what === 'pin' ? thing.pin : null;
  const open = (other: StoryThing): void => state.put({ at: keyOfThing(other) });
  const ask = (name: NonNullable<typeof dialog>): void => {
    work.reset();
    setDialog(name);
  };
  const changePin = (
    number: number,
    change: Parameters<Parameters<typeof PinSheet>[0]['onChangePin']>[1],
  ): void => work.mutate(() => call(changeCasePin, { params: { id: one.id, pin: number }, body: change }));
  useKeys({
    ...rowKeys({
      rows: things,
      at: things.findIndex((other) => thing !== null && keyOfThing(other) === keyOfThing(thing)),
      onGo: open,
    }),
    p: () => void window.open(reportAddress(one.id, 'html'), '_blank', 'noreferrer'),
    ...(mayChange && {
      m: () => pin !== null && changePin(pin.id, { key: !pin.key }),
      n: () => field.current?.focus(),
      x: () => pin !== null && ask('take off'),
      t: () => setAdding(true),
      o: () => ask('hand over'),
      v: () => (one.state === 'open' ? ask('close') : undefined),
    }),
  });
  const close = (): void => setDialog(null);
  const onChange = (body: CaseChange): void => work.mutate(() => call(changeCase, { params, body }));
  const asked = {
    one,
    failure: work.error,
    busy: work.isPending,
    // What was begun before a dialogue was opened does not close it.
    onChange: (body: CaseChange) =>
      work.mutate(() => call(changeCase, { params, body }), { onSuccess: close }),
    onClose: close,
  };
  const counts = {
    story: thingsOf(one, 'story').length,
    key: thingsOf(one, 'key').length,
    notes: thingsOf(one, 'notes').length,
  };
  const names = { story: 'Story', key: 'Key', notes: 'Notes' } as const;
  return (
    <main className="bench bench-case">
      <section className="sheet" aria-label="Story of the case">
        <div className="sheet-head pb-0">
          <h1 className="sheet-title grow anywhere">
            <span className="number mono">{one.number}</span> {one.title}
          </h1>
        </div>
        <p className="inset sm soft pb-2 mb-0 cut" title={one.lede}>
          {one.mergedInto !== null ? (
            <>
              It was taken into <Link to={`/cases/${one.mergedInto}${search}`}>another case</Link>.
            </>
          ) : (
            one.lede || 'No opening words yet'
          )}
        </p>
        <div className="inset story-tabs">
          <Tabs
            label="What the story shows"
            names={SHOWN}
            chosen={show}
            onChoose={(name) => state.put({ show: name, at: '' })}
            show={(name) => `${names[name]} ${counts[name]}`}
          />
          <span className="xs soft">own window · {zone}</span>
        </div>
        {work.isError && dialog === null && (
          <Failed title="That could not be done">{work.error.message}</Failed>
        )}
        {things.length === 0 ? (
          <p className="inset sm soft pt-2">
            {show === 'key'
              ? 'Nothing is marked as key. M marks what matters most.'
              : show === 'notes'
                ? 'Nothing was written yet. N begins a note.'
                : 'Nothing is pinned. Pin an alert with C, or an event, a snapshot or a hunt where you read it.'}
          </p>
        ) : (
          <StoryList
            things={things}
            zone={zone}
            lit={thing === null ? null : keyOfThing(thing)}
            onOpen={open}
          />
        )}
        <div className="sheet-foot">
          <Key keys={['J', 'K']}>next, previous</Key>
          {mayChange && (
            <>
              <Key keys={['M']}>key</Key>
              <Key keys={['N']}>note</Key>
            </>
          )}
          <span className="grow" />
          <Link to={`/cases${search}`}>All cases</Link>
        </div>
      </section>
      <PinSheet
        one={one}
        thing={thing}
        zone={zone}
        search={search}
        mayChange={mayChange}
        field={field}
        onKept={(detail) => void learn(detail)}
        onChangePin={changePin}
        onTakeOff={() => ask('take off')}
      />
      <StandsSheet
        one={one}
        zone={zone}
        search={search}
        mayChange={mayChange}
        adding={adding}
        onAdding={setAdding}
        onChange={onChange}
        onDialog={ask}
        onTask={(body) => work.mutate(() => call(addCaseTask, { params, body }))}
        onTick={(task, done) =>
          work.mutate(() => call(changeCaseTask, { params: { id: one.id, task }, body: { done } }))
        }
        onRole={({ kind, name }, role) =>
          work.mutate(() => call(putCaseSubject, { params, body: { kind, name, role } }))
        }
        onPin={(body) => work.mutate(() => call(pinToCase, { params, body }))}
        belongs={{
          onWatch: (watching) => work.mutate(() => call(watchCase, { params, body: { watching } })),
          onFile: (file) =>
            work.mutate(() => send(addCaseFile, file, { params, query: { name: file.name.slice(0, 255) } })),
          onUnlink: (to) => work.mutate(() => call(unlinkCase, { params: { id: one.id, to } })),
          onDialog: ask,
        }}
      />
      {dialog === 'close' && <CloseCase {...asked} />}
      {dialog === 'hand over' && <HandOver {...asked} />}
      {dialog === 'words' && <CaseWords {...asked} />}
      {dialog === 'merge' && (
        <MergeCase
          one={one}
          failure={work.error}
          onMerge={(from) =>
            work.mutate(() => call(mergeCase, { params, body: { from } }), { onSuccess: close })
          }
          onClose={close}
        />
      )}
      {dialog === 'split' && (
        <SplitCase
          one={one}
          failure={split.error}
          busy={split.isPending}
          onSplit={(title, pins) => split.mutate({ title, pins })}
          onClose={close}
        />
      )}
      {dialog === 'link' && (
        <LinkCase
          one={one}
          failure={work.error}
          busy={work.isPending}
          onLink={(to, why) =>
            work.mutate(() => call(linkCase, { params, body: { to, why } }), { onSuccess: close })
          }
          onClose={close}
        />
      )}
      {dialog === 'take off' && pin !== null && (
        <Dialog
          title={<>Take off {pin.title}?</>}
          onClose={close}
          onSend={() =>
            work.mutate(() => call(unpinFromCase, { params: { id: one.id, pin: pin.id } }), {
              onSuccess: () => {
                close();
                state.put({ at: '' });
              },
            })
          }
          foot={
            <>
              <Button variant="outline-secondary" autoFocus onClick={close}>
                Keep it
              </Button>
              <Button type="submit" variant="primary">
                Take off
              </Button>
            </>
          }
        >
          <p className="sm mb-0">
            The case no longer shows it, nor does its report; a line says that you took it off. What it shows
            stays where it is.
          </p>
        </Dialog>
      )}
    </main>
  );
}
