import { Router, json } from 'express';
import { people } from '../../demo/world/people.js';
import { escape, renderFrame } from '../page/frame.js';

interface Account {
  readonly title: string;
  sessions: number;
  mustChangePassword: boolean;
  disabled: boolean;
  /** What was done to it, the newest first. */
  readonly done: string[];
}

const does: Readonly<Record<string, { readonly said: string; readonly change: (account: Account) => void }>> =
  {
    'force-password-change': {
      said: 'must choose a new password',
      change: (account) => (account.mustChangePassword = true),
    },
    'revoke-sessions': { said: 'all sessions ended', change: (account) => (account.sessions = 0) },
    'enable-account': { said: 'may be used again', change: (account) => (account.disabled = false) },
    'disable-account': {
      said: 'disabled',
      change: (account) => {
        account.disabled = true;
        account.sessions = 0;
      },
    },
  };

/** A directory of accounts that can be told to end sessions, force a new password, or disable an account. */
export function identityDirectory(): Router {
  const accounts = new Map<string, Account>(
    people.map(({ login, title }, i) => [
      login,
      { title, sessions: 1 + (i % 3), mustChangePassword: false, disabled: false, done: [] },
    ]),
  );
  const keys = new Set<string>();
  const router = Router();
  router.post('/users/:login/:does', json({ limit: '16kb' }), (request, response) => {
    const account = accounts.get(request.params.login);
    const order = does[request.params.does];
    if (account === undefined || order === undefined) {
      response.status(404).json({ said: 'Nobody is called so, or nothing is done so.' });
      return;
    }
    const key = request.get('idempotency-key') ?? '';
    // An order that comes a second time was carried out already.
    if (key === '' || !keys.has(key)) {
      order.change(account);
      account.done.unshift(`${new Date().toISOString().slice(11, 19)} UTC: ${order.said}`);
      keys.add(key);
    }
    response.json({ said: order.said });
  });
  router.get('/users/:login', (request, response) => {
    const account = accounts.get(request.params.login);
    if (account === undefined) response.status(404).json({});
    else response.json(account);
  });
  router.get('/', (_request, response) => {
    const rows = [...accounts]
      .sort(([a, one], [b, two]) => two.done.length - one.done.length || (a < b ? -1 : 1))
      .map(
        ([login, account]) =>
          `<tr><td><code>${escape(login)}</code><br><span class="soft">${escape(account.title)}</span></td><td class="number">${account.sessions} sessions</td><td>${
            [
              account.mustChangePassword ? 'must choose a new password' : '',
              account.disabled ? 'disabled' : '',
            ]
              .filter((state) => state !== '')
              .join(', ') || '<span class="soft">as usual</span>'
          }<br><span class="soft">${account.done.map(escape).join('<br>')}</span></td></tr>`,
      );
    response.type('html').send(renderFrame('Identity directory', `<table>${rows.join('')}</table>`, 5));
  });
  return router;
}
