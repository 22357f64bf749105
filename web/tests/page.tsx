import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { configure, fireEvent, render, screen, within, type RenderResult } from '@testing-library/react';
import type { JSX } from 'react';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import type { Role } from '../../core/wire/people.js';
import { SessionContext } from '../api/session.js';
import { AskedProvider } from '../beam/asked.js';

// A busy machine is no failure: a second is soon over.
configure({ asyncUtilTimeout: 15_000 });

/** A request that a page made. */
interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

/** What the server refuses, and why. */
class Refusal {
  constructor(
    readonly status: number,
    readonly detail: string,
  ) {}
}
export const refuse = (status: number, detail: string): Refusal => new Refusal(status, detail);

/** An answer that comes in lines of JSON, as long as nobody stops it. */
class Lines {
  constructor(readonly pieces: readonly unknown[]) {}

  body(): ReadableStream<Uint8Array> {
    return new ReadableStream<Uint8Array>({
      start: (controller) => {
        for (const piece of this.pieces)
          controller.enqueue(new TextEncoder().encode(`${JSON.stringify(piece)}\n`));
        controller.close();
      },
    });
  }
}
export const lines = (...pieces: readonly unknown[]): Lines => new Lines(pieces);

type Answer = unknown;

/**
 * Stands in for the server: answers by method and path, such as `GET /lists`. An answer that is a function is given the
 * body. Whatever else is asked for is refused, so that a test shows it.
 */
export function fakeApi(answers: Record<string, Answer>): {
  readonly asked: readonly Asked[];
  /** Requests that change something. */
  changes(): readonly Asked[];
  answer(request: string, answer: Answer): void;
} {
  const asked: Asked[] = [];
  const known = new Map(Object.entries(answers));
  const answerTo = (address: string, init: { method?: string; body?: unknown } = {}): Promise<unknown> => {
    const method = init.method ?? 'GET';
    const path = address.replace('/api/v1', '');
    const body = typeof init.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined;
    asked.push({ method, path, body });
    const found = known.get(`${method} ${path}`) ?? known.get(`${method} ${path.split('?')[0]}`);
    const answer: unknown =
      found === undefined
        ? refuse(404, `${method} ${path} was not expected`)
        : typeof found === 'function'
          ? (found as (body: unknown) => unknown)(body)
          : found;
    return Promise.resolve(answer).then((value) => {
      const refused = value instanceof Refusal;
      return {
        ok: !refused,
        status: refused ? value.status : 200,
        ...(value instanceof Lines && { body: value.body() }),
        json: () =>
          Promise.resolve(
            refused
              ? { type: '', title: 'Refused', status: value.status, code: 'refused', detail: value.detail }
              : value,
          ),
      };
    });
  };
  Object.assign(globalThis, { fetch: answerTo });
  return {
    asked,
    changes: () => asked.filter(({ method }) => method !== 'GET'),
    answer: (request, answer) => void known.set(request, answer),
  };
}

function Address(): JSX.Element {
  const { pathname, search } = useLocation();
  return <output data-testid="address">{pathname + search}</output>;
}

/**
 * Shows a part of a page as someone with a role sees it.
 * @param at the address it is at; `pattern` is the route it stands for
 */
export function show(
  part: JSX.Element,
  { role = 'admin', at = '/', pattern = '*' }: { role?: Role; at?: string; pattern?: string } = {},
): RenderResult {
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false }, mutations: { retry: false } },
  });
  return render(
    <QueryClientProvider client={client}>
      <SessionContext value={{ name: role, displayName: `The ${role}`, role }}>
        <AskedProvider>
          <MemoryRouter initialEntries={[at]}>
            <Routes>
              <Route path={pattern} element={part} />
              <Route path="*" element={null} />
            </Routes>
            <Address />
          </MemoryRouter>
        </AskedProvider>
      </SessionContext>
    </QueryClientProvider>,
  );
}

/** Types a word into a box to find by, and presses Enter. */
export function findBy(label: string, word: string): void {
  const box = screen.getByLabelText(label);
  fireEvent.change(box, { target: { value: word } });
  fireEvent.keyDown(box, { key: 'Enter' });
}

/**
 * Removes something as a person does: asks for it, and says so again when asked.
 * @param name what the button is called
 * @param meanwhile looks at how things stand while it asks
 */
export function removeAsked(name: string | RegExp, meanwhile: () => void = () => undefined): void {
  fireEvent.click(screen.getByRole('button', { name }));
  meanwhile();
  const buttons = within(screen.getAllByRole('dialog').at(-1) ?? document.body).getAllByRole('button');
  fireEvent.click(buttons.at(-1) ?? document.body);
}

/** A file as a field for files gives it; jsdom's cannot be read. */
export const textFile = (name: string, text: string): File =>
  Object.assign(new File([text], name), {
    text: () => Promise.resolve(text),
    slice: () => ({ arrayBuffer: () => Promise.resolve(new TextEncoder().encode(text).buffer) }),
  });

/** The address the page is at. */
export const whereAmI = (): string => screen.getByTestId('address').textContent ?? '';
