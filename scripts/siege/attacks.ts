import { createSocket } from 'node:dgram';
import { connect, type Socket } from 'node:net';
import { Answers, type Besieged } from './besieged.js';

/** Nothing is waited for longer; a hunt is stopped by the server before that, and says so. */
const WAIT = 135_000;
/** A body that does not move is given up by then. */
const SLOW_MILLISECONDS = 25_000;
/** What was held is looked at so long. */
const LOOK_MILLISECONDS = 5000;

interface Source {
  readonly name: string;
  readonly key: string;
}

/** What the attacks may use. */
export interface Siege {
  readonly analyst: Besieged;
  readonly source: Source;
  /** One that others send to. */
  readonly beside: Source;
  readonly syslogPort: number;
}

export interface Attack {
  readonly name: string;
  run(siege: Siege): Promise<Answers>;
}

const window = {
  from: new Date(Date.now() - 30 * 86_400_000).toISOString(),
  to: new Date().toISOString(),
};
const times = (many: number): number[] => [...Array(many).keys()];

/** A line on which a pattern that backtracks would try every pair of places. */
const hardLine = (bytes: number): string =>
  `Nov 14 10:00:00 quay-gw sshd[1]: Failed password for ${'from '.repeat(bytes / 5)}`;

async function hunt({ analyst }: Siege, answers: Answers, text: string): Promise<void> {
  await analyst.try(answers, 'POST', '/hunts/run', { text, window }, WAIT);
}

/** A socket with the beginning of a request, that is held open. */
function held(siege: Siege, head: string): Socket {
  const { hostname, port } = siege.analyst.base;
  const socket = connect(Number(port), hostname);
  socket.on('error', () => undefined);
  socket.write(head);
  // What comes is left where it is.
  socket.pause();
  return socket;
}

/** How a connection stands that was held: its status, and whether it was ended in the middle. */
function fateOf(socket: Socket): Promise<string> {
  let status = '';
  let last = '';
  return new Promise((told) => {
    const tell = (fate: string): void => {
      clearTimeout(timer);
      socket.destroy();
      told(`${status === '' ? 'held without an answer' : status}, ${fate}`);
    };
    const timer = setTimeout(() => tell('going on'), LOOK_MILLISECONDS);
    socket.on('data', (piece: Buffer) => {
      if (status === '') status = piece.subarray(9, 12).toString();
      last = (last + piece.subarray(-5).toString()).slice(-5);
    });
    socket.on('close', () => tell(last === '0\r\n\r\n' ? 'whole' : 'cut'));
    if (socket.destroyed) tell('cut');
    socket.resume();
  });
}

/** Holds sockets open while something goes on, and tells what became of them. */
async function holding(
  sockets: readonly Socket[],
  answers: Answers,
  meanwhile: () => Promise<void>,
): Promise<void> {
  await meanwhile();
  for (const fate of await Promise.all(sockets.map(fateOf))) answers.add(fate);
}

export const attacks: readonly Attack[] = [
  {
    name: 'Datagrams of 16 KB that patterns are slow on',
    async run({ syslogPort }) {
      const answers = new Answers();
      const socket = createSocket('udp4');
      for (const i of times(30)) {
        const text = Buffer.from(`<38>${hardLine(16_000)}${i}`);
        await new Promise((sent) => socket.send(text, syslogPort, '127.0.0.1', sent));
        answers.add('sent');
      }
      socket.close();
      return answers;
    },
  },
  {
    name: 'Records of 200 KB that patterns are slow on',
    async run({ analyst, source }) {
      const answers = new Answers();
      const body = times(20)
        .map((i) => `${hardLine(200_000)}${i}`)
        .join('\n');
      const sent = await fetch(new URL(`/api/v1/intake/${source.name}`, analyst.base), {
        method: 'POST',
        headers: { Authorization: `Bearer ${source.key}` },
        body,
        signal: AbortSignal.timeout(WAIT),
      });
      answers.add(String(sent.status));
      await sent.text();
      return answers;
    },
  },
  {
    name: 'A recipe tried on such records',
    async run({ analyst }) {
      const answers = new Answers();
      const recipe = {
        name: 'siege',
        version: 1,
        title: 'Siege',
        format: 'syslog',
        time: { from: 'timestamp', as: 'syslog' },
        constants: { kind: 'system' },
        map: {},
        messages: times(8).map((i) => ({
          in: 'raw',
          read: `<user> from <host> from <message> from <process>x${i}`,
        })),
      };
      const sample = hardLine(200_000);
      await Promise.all(
        times(4).map(() => analyst.try(answers, 'POST', '/recipes/try', { sample, recipe }, WAIT)),
      );
      return answers;
    },
  },
  {
    name: 'Texts doubled twenty times',
    async run(siege) {
      const answers = new Answers();
      const text = `from all\nset b = message + message\n${times(20)
        .map(() => 'set b = b + b')
        .join('\n')}\nfirst 10`;
      await Promise.all(times(4).map(() => hunt(siege, answers, text)));
      return answers;
    },
  },
  {
    name: '4,000 steps',
    async run(siege) {
      const answers = new Answers();
      await hunt(
        siege,
        answers,
        `from all\n${times(4000)
          .map((i) => `where bytes_out > ${i}`)
          .join('\n')}`,
      );
      await hunt(
        siege,
        answers,
        `from all\nwhere ${times(3000)
          .map((i) => `user = 'u${i}'`)
          .join(' or ')}\nfirst 10`,
      );
      return answers;
    },
  },
  {
    name: 'Twelve heavy joins at once',
    async run(siege) {
      const answers = new Answers();
      const text = 'from all\njoin ( from all ) as b on kind\ntally count() as n per user';
      await Promise.all(times(12).map(() => hunt(siege, answers, text)));
      return answers;
    },
  },
  {
    name: 'Rules of 400 KB that are only checked',
    async run({ analyst }) {
      const answers = new Answers();
      const rule = (detection: string): string => `title: Siege\nlogsource: {}\ndetection:\n${detection}\n`;
      const texts = [
        rule(
          `  s: {a: [${times(400)
            .map((i) => `v${i}`)
            .join(', ')}]}\n  condition: ${times(40_000)
            .map(() => 's')
            .join(' or ')}`,
        ),
        rule(
          `  s: {${times(20_000)
            .map((i) => `k${i}: 1`)
            .join(', ')}}\n  condition: s`,
        ),
        rule(
          `${times(8000)
            .map((i) => `  s${i}: {a|contains|all: [x${i}, y${i}]}`)
            .join('\n')}\n  condition: 1 of s*`,
        ),
      ];
      await Promise.all(texts.map((text) => analyst.try(answers, 'POST', '/rules/check', { text }, WAIT)));
      return answers;
    },
  },
  {
    name: 'Twelve exports that nobody reads',
    async run(siege) {
      const answers = new Answers();
      const query = new URLSearchParams({ text: 'from all', ...window, format: 'jsonl' });
      const head = `GET /api/v1/hunts/export?${query.toString()} HTTP/1.1\r\nHost: x\r\nCookie: ${siege.analyst.headers['Cookie'] ?? ''}\r\n\r\n`;
      await holding(
        times(12).map(() => held(siege, head)),
        answers,
        () => new Promise((on) => setTimeout(on, 35_000)),
      );
      return answers;
    },
  },
  {
    name: 'Slow bodies on one source, while another is sent to',
    async run(siege) {
      const { analyst, source, beside } = siege;
      const answers = new Answers();
      const head = `POST /api/v1/intake/${source.name} HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer ${source.key}\r\nContent-Length: 1000000\r\n\r\na`;
      await holding(
        times(8).map(() => held(siege, head)),
        answers,
        async () => {
          for (const i of times(20)) {
            const sent = await fetch(new URL(`/api/v1/intake/${beside.name}`, analyst.base), {
              method: 'POST',
              headers: { Authorization: `Bearer ${beside.key}` },
              body: `Nov 14 10:00:00 quay-gw sshd[1]: a line ${i}`,
              signal: AbortSignal.timeout(WAIT),
            });
            answers.add(`${sent.status} beside them`);
            await sent.text();
          }
          await new Promise((on) => setTimeout(on, SLOW_MILLISECONDS));
        },
      );
      return answers;
    },
  },
  {
    name: 'Sixty hunts followed by one person',
    async run(siege) {
      const answers = new Answers();
      const query = new URLSearchParams({ text: 'from all' });
      const stop = new AbortController();
      await Promise.all(
        times(60).map(async () => {
          const answer = await fetch(
            new URL(`/api/v1/hunts/follow?${query.toString()}`, siege.analyst.base),
            {
              headers: siege.analyst.headers,
              signal: AbortSignal.any([stop.signal, AbortSignal.timeout(WAIT)]),
            },
          );
          answers.add(String(answer.status));
        }),
      );
      stop.abort();
      return answers;
    },
  },
];
