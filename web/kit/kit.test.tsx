import { act, fireEvent, screen } from '@testing-library/react';
import { type JSX, useState } from 'react';
import { findBy, show } from '../tests/page.js';
import { useKeys } from '../ui/use-keys.js';
import { oneOf, useAddressState } from './address-state.js';
import { useChosenRows } from './chosen-rows.js';
import { Dialog } from './Dialog.js';
import { FieldsDialog } from './FieldsDialog.js';
import { FindBox } from './FindBox.js';
import { LineForm } from './LineForm.js';
import { AreaField, ChecksField, ChoiceField, FieldsForm, SwitchField, TextField } from './form.js';
import { rowKeys } from './row-keys.js';

const address = (): string => screen.getByTestId('address').textContent;

describe('state in the address', () => {
  const USUAL = { state: 'open', find: '' } as const;
  function Page(): JSX.Element {
    const { values, put, clear, differs } = useAddressState(USUAL);
    return (
      <>
        <p>
          {values.state}/{values.find}/{String(differs('find'))}
        </p>
        <button type="button" onClick={() => put({ state: 'closed', find: 'x y' })}>
          both
        </button>
        <button type="button" onClick={() => put({ state: 'open' })}>
          usual
        </button>
        <button type="button" onClick={clear}>
          clear
        </button>
      </>
    );
  }

  test('what is usual stays out of it, and what others put there stays', () => {
    show(<Page />, { at: '/page?zone=UTC' });
    expect(screen.getByText('open//false')).toBeTruthy();
    fireEvent.click(screen.getByText('both'));
    expect(address()).toBe('/page?zone=UTC&state=closed&find=x+y');
    expect(screen.getByText('closed/x y/true')).toBeTruthy();
    fireEvent.click(screen.getByText('usual'));
    expect(address()).toBe('/page?zone=UTC&find=x+y');
    fireEvent.click(screen.getByText('clear'));
    expect(address()).toBe('/page?zone=UTC');
  });

  test('a word that means nothing there is none', () => {
    expect(oneOf(['a', 'b'], 'b')).toBe('b');
    expect(oneOf(['a', 'b'], 'c')).toBeUndefined();
  });
});

describe('the box to find by', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  test('tells a word once the hand rests, by Enter at once, and follows the address', () => {
    const found: string[] = [];
    const { rerender } = show(
      <FindBox label="Find" hint="Title" value="" onFind={(word) => found.push(word)} />,
    );
    const box = screen.getByLabelText<HTMLInputElement>('Find');
    fireEvent.change(box, { target: { value: 'ab' } });
    fireEvent.change(box, { target: { value: 'abc' } });
    expect(found).toEqual([]);
    act(() => void jest.advanceTimersByTime(1000));
    expect(found).toEqual(['abc']);
    findBy('Find', 'abcd');
    expect(found).toEqual(['abc', 'abcd']);
    rerender(<FindBox label="Find" hint="Title" value="elsewhere" onFind={() => undefined} />);
    expect(screen.getByLabelText<HTMLInputElement>('Find').value).toBe('elsewhere');
  });

  test('what was typed just before the page is left takes nobody back to it', () => {
    const found: string[] = [];
    const { unmount } = show(
      <FindBox label="Find" hint="Title" value="" onFind={(word) => found.push(word)} />,
    );
    fireEvent.change(screen.getByLabelText('Find'), { target: { value: 'ab' } });
    unmount();
    act(() => void jest.advanceTimersByTime(1000));
    expect(found).toEqual([]);
  });
});

describe('rows by keys', () => {
  const rows = [
    { id: 1, name: 'one' },
    { id: 2, name: 'two' },
  ];
  function Page({ onOpen }: { onOpen: (name: string) => void }): JSX.Element {
    const [at, setAt] = useState(0);
    const chosen = useChosenRows(
      rows,
      ({ id }) => id,
      ({ name }) => name,
    );
    useKeys({
      ...rowKeys({
        rows,
        at,
        onGo: (row) => setAt(rows.indexOf(row)),
        onOpen: ({ name }) => onOpen(name),
        onChoose: chosen.toggle,
      }),
      Escape: chosen.none,
    });
    return (
      <p>
        {rows[at]?.name}: {chosen.rows.map(({ name }) => name).join(' ')}
      </p>
    );
  }

  test('J and K walk and stop at the ends, X chooses, Enter opens, Escape lets go', () => {
    const opened: string[] = [];
    show(<Page onOpen={(name) => opened.push(name)} />);
    const press = (key: string): void => void fireEvent.keyDown(document.body, { key });
    press('k');
    press('x');
    // Two keys so quick that nothing lies between them: the second belongs to the row that the first lit.
    act(() => {
      press('j');
    });
    press('x');
    expect(screen.getByText('two: one two')).toBeTruthy();
    press('j');
    press('x');
    press('Enter');
    expect(screen.getByText('two: one')).toBeTruthy();
    expect(opened).toEqual(['two']);
    press('Escape');
    expect(screen.getByText('two:')).toBeTruthy();
  });
});

interface Values {
  readonly name: string;
  readonly kind: string;
  readonly on: boolean;
}

test('a form gives what was typed, and says what went wrong without losing it', () => {
  const sent: Values[] = [];
  const form = (failure: Error | null): JSX.Element => (
    <FieldsForm<Values>
      label="Thing"
      begin={{ name: 'first', kind: 'b', on: true }}
      onSend={(values) => sent.push(values)}
      send="Keep it"
      isSending={false}
      failure={failure}
    >
      <TextField<Values> name="name" label="Name" hint="As it is called" required />
      <ChoiceField<Values>
        name="kind"
        label="Kind"
        choices={[
          ['a', 'A thing'],
          ['b', 'B thing'],
        ]}
      />
      <SwitchField<Values> name="on" label="In use" />
    </FieldsForm>
  );
  const { rerender } = show(form(null));
  fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'second' } });
  fireEvent.change(screen.getByLabelText('Kind'), { target: { value: 'a' } });
  fireEvent.click(screen.getByLabelText('In use'));
  fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  expect(sent).toEqual([{ name: 'second', kind: 'a', on: false }]);
  rerender(form(new Error('There is one already.')));
  expect(screen.getByRole('alert').textContent).toContain('There is one already.');
});

test('a choice that begins with none of its words stands on the first, whenever they are known', () => {
  const sent: string[] = [];
  const form = (choices: readonly (readonly [string, string])[]): JSX.Element => (
    <FieldsForm<{ readonly kind: string }>
      label="Thing"
      begin={{ kind: '' }}
      onSend={({ kind }) => sent.push(kind)}
      send="Keep it"
      isSending={false}
      failure={null}
    >
      <ChoiceField<{ readonly kind: string }> name="kind" label="Kind" choices={choices} />
    </FieldsForm>
  );
  const words = [
    ['a', 'A thing'],
    ['b', 'B thing'],
  ] as const;
  const field = (): HTMLSelectElement => screen.getByLabelText<HTMLSelectElement>('Kind');
  const keep = (): void => void fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  const { unmount } = show(form(words));
  expect(field().value).toBe('a');
  keep();
  fireEvent.change(field(), { target: { value: 'b' } });
  keep();
  unmount();
  // Where none is a choice of its own, it stays.
  show(form([['', 'Choose one'], ...words]));
  expect(field().value).toBe('');
  keep();
  expect(sent).toEqual(['a', 'b', '']);
});

test('several words are chosen by their boxes, and where nothing may be changed the form says why', () => {
  interface Chosen {
    readonly words: readonly string[];
  }
  const sent: Chosen[] = [];
  const form = (fixed?: string): JSX.Element => (
    <FieldsForm<Chosen>
      label="Words"
      begin={{ words: ['second'] }}
      onSend={(values) => sent.push(values)}
      send="Keep it"
      isSending={false}
      failure={null}
      fixed={fixed}
    >
      <ChecksField<Chosen>
        name="words"
        label="Which"
        choices={[['first', 'the one before'], ['second']]}
        none="None: any."
      />
    </FieldsForm>
  );
  const { rerender } = show(form());
  fireEvent.click(screen.getByRole('checkbox', { name: 'first' }));
  fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  for (const name of ['first', 'second']) fireEvent.click(screen.getByRole('checkbox', { name }));
  expect(screen.getByText('None: any.')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Keep it' }));
  expect(sent.map(({ words }) => [...words].sort())).toEqual([['first', 'second'], []]);
  rerender(form('Only an admin may change this.'));
  expect(screen.queryByRole('button', { name: 'Keep it' })).toBeNull();
  expect(screen.getByRole('group', { name: 'Which' }).closest('fieldset')?.disabled).toBe(true);
  expect(screen.getByText('Only an admin may change this.')).toBeTruthy();
});

test('a dialogue is named by its title, sends by Enter, and closes by Escape', () => {
  const done: string[] = [];
  show(
    <Dialog title="Rename it" onClose={() => done.push('closed')} onSend={() => done.push('sent')}>
      <input aria-label="Name" />
      <button type="submit">Rename</button>
    </Dialog>,
  );
  const dialog = screen.getByRole('dialog', { name: 'Rename it' });
  fireEvent.click(screen.getByRole('button', { name: 'Rename' }));
  fireEvent.keyDown(dialog, { key: 'Escape', code: 'Escape' });
  expect(done).toEqual(['sent', 'closed']);
});

test('a dialogue with fields is sent once it may be, says what went wrong, and keeps what was typed', () => {
  interface Asked {
    readonly why: string;
    readonly more: string;
  }
  const done: unknown[] = [];
  function Page(): JSX.Element {
    const [failure, setFailure] = useState<Error | null>(null);
    return (
      <FieldsDialog<Asked>
        title="Stop it?"
        begin={{ why: '', more: '' }}
        onSend={(values) => {
          done.push(values);
          setFailure(new Error('It has ended.'));
        }}
        send="Stop"
        leave="Let it go on"
        maySend={({ why }) => why !== ''}
        isSending={false}
        failure={failure}
        failed="It goes on"
        onClose={() => done.push('closed')}
      >
        {({ why }) => (
          <>
            <TextField<Asked> name="why" label="Why" />
            {why !== '' && <AreaField<Asked> name="more" label="More" className="" maxLength={10} />}
          </>
        )}
      </FieldsDialog>
    );
  }
  show(<Page />);
  const send = screen.getByRole<HTMLButtonElement>('button', { name: 'Stop' });
  expect(send.disabled).toBe(true);
  expect(screen.queryByLabelText('More')).toBeNull();
  fireEvent.change(screen.getByLabelText('Why'), { target: { value: 'a mistake' } });
  fireEvent.change(screen.getByLabelText('More'), { target: { value: 'of mine' } });
  fireEvent.click(send);
  expect(done).toEqual([{ why: 'a mistake', more: 'of mine' }]);
  expect(screen.getByRole('alert').textContent).toContain('It has ended.');
  expect(screen.getByLabelText<HTMLInputElement>('Why').value).toBe('a mistake');
  fireEvent.click(screen.getByRole('button', { name: 'Let it go on' }));
  expect(done.at(-1)).toBe('closed');
});

test('a dialogue shows what came of it in place of its fields', () => {
  const closed: string[] = [];
  const dialogue = (done?: string): JSX.Element => (
    <FieldsDialog<{ readonly why: string }>
      title="Stop it?"
      begin={{ why: '' }}
      onSend={() => undefined}
      send="Stop"
      isSending={false}
      failure={null}
      done={done}
      onClose={() => closed.push('closed')}
    >
      <TextField<{ readonly why: string }> name="why" label="Why" mistake="Say why." />
    </FieldsDialog>
  );
  const { rerender } = show(dialogue());
  expect(screen.getByText('Say why.')).toBeTruthy();
  rerender(dialogue('It has stopped.'));
  expect(screen.getByRole('status').textContent).toBe('It has stopped.');
  expect(screen.queryByLabelText('Why')).toBeNull();
  fireEvent.click(screen.getByRole('button', { name: 'Done' }));
  expect(closed).toEqual(['closed']);
});

test('Escape leaves a form as long as nothing would be lost', () => {
  let left = 0;
  show(
    <FieldsForm<{ readonly name: string }>
      label="Thing"
      begin={{ name: '' }}
      onSend={() => undefined}
      send="Keep it"
      isSending={false}
      onCancel={() => left++}
      failure={null}
    >
      <TextField<{ readonly name: string }> name="name" label="Name" />
    </FieldsForm>,
  );
  const field = screen.getByLabelText('Name');
  fireEvent.keyDown(field, { key: 'Escape' });
  expect(left).toBe(1);
  fireEvent.change(field, { target: { value: 'typed' } });
  fireEvent.keyDown(field, { key: 'Escape' });
  expect(left).toBe(1);
});

test('a line is sent without the blanks around it, and not before it is long enough', () => {
  const told: string[] = [];
  show(
    <LineForm
      label="Discard"
      field="Why"
      minLength={3}
      maxLength={20}
      proposals={['a test sender']}
      send="Discard it"
      onSend={(line) => told.push(line)}
      onCancel={() => told.push('left')}
      failure={new Error('They are gone already.')}
      failed="They were not thrown away"
    />,
  );
  const field = screen.getByRole('combobox', { name: 'Why' });
  expect(document.activeElement).toBe(field);
  const form = screen.getByRole('form', { name: 'Discard' });
  fireEvent.change(field, { target: { value: ' no ' } });
  fireEvent.submit(form);
  expect(told).toEqual([]);
  fireEvent.change(field, { target: { value: ' a test ' } });
  fireEvent.submit(form);
  expect(told).toEqual(['a test']);
  expect(screen.getByRole('alert').textContent).toContain('They are gone already.');
  fireEvent.keyDown(field, { key: 'Escape' });
  expect(told).toEqual(['a test', 'left']);
});
