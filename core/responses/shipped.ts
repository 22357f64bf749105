import { type ResponseDocument, responseIn } from './document.js';

/** The responses that come with the product. */
export const responses = {
  'force-password-change': {
    title: 'Force a password change',
    on: 'user',
    to: 'identity',
    path: '/users/{subject}/force-password-change',
    body: { subject: '{subject}' },
    undo: null,
    hours: null,
    history: "from signin\nwhere user = {subject} and operation = 'session.start' and outcome = 'success'",
    narrower: 'revoke-sessions',
  },
  'revoke-sessions': {
    title: 'Revoke all sessions',
    on: 'user',
    to: 'identity',
    path: '/users/{subject}/revoke-sessions',
    body: { subject: '{subject}' },
    undo: null,
    hours: null,
    history: 'from all\nwhere user = {subject} and session is not null',
    narrower: null,
  },
  'disable-account': {
    title: 'Disable the account',
    on: 'user',
    to: 'identity',
    path: '/users/{subject}/disable-account',
    body: { subject: '{subject}' },
    undo: { title: 'Let the account be used again', path: '/users/{subject}/enable-account' },
    hours: null,
    history: 'from all\nwhere user = {subject} or acting_as = {subject}',
    narrower: 'revoke-sessions',
  },
  'block-flow': {
    title: 'Block this flow',
    on: 'flow',
    to: 'firewall',
    path: '/rules',
    body: {
      id: '{id}',
      source: '{source}',
      destination: '{destination}',
      port: '{port}',
      protocol: '{protocol}',
    },
    undo: { title: 'Let it through again', path: '/rules/{id}/end' },
    hours: 24,
    history:
      "from network\nwhere src_ip = {source} and dst_ip = {destination} and text(dst_port) = {port} and lower(protocol) = {protocol} and outcome != 'blocked'",
    narrower: null,
  },
  'drop-address': {
    title: 'Drop everything to and from the address',
    on: 'address',
    to: 'firewall',
    path: '/rules',
    body: { id: '{id}', address: '{address}' },
    undo: { title: 'Let it through again', path: '/rules/{id}/end' },
    hours: 24,
    history:
      "from network, web, signin\nwhere (src_ip = {address} or dst_ip = {address}) and outcome != 'blocked'",
    narrower: 'block-flow',
  },
  'quarantine-host': {
    title: 'Quarantine the host',
    on: 'host',
    to: 'agent',
    path: '/hosts/{subject}/quarantine',
    body: { subject: '{subject}' },
    undo: { title: 'Let the host back', path: '/hosts/{subject}/release' },
    hours: 24,
    history: 'from all\nwhere host = {subject} or src_host = {subject}',
    narrower: 'block-flow',
  },
  'remove-right': {
    title: 'Remove the right',
    on: 'right',
    to: 'cloud',
    path: '/accounts/{account}/rights/remove',
    body: { user: '{user}', right: '{right}' },
    undo: { title: 'Give the right back', path: '/accounts/{account}/rights/give' },
    hours: null,
    history: 'from all\nwhere user = {user} and account = {account}',
    narrower: null,
  },
  'watch-address': {
    title: 'Put the address on the watched list',
    on: 'address',
    to: 'lists',
    path: '/lists/watched-addresses',
    body: { address: '{address}' },
    undo: { title: 'Take it off the list', path: '/lists/watched-addresses' },
    hours: 720,
    history: 'from all\nwhere src_ip = {address} or dst_ip = {address}',
    narrower: null,
  },
  'watch-user': {
    title: 'Put the user on the watched list',
    on: 'user',
    to: 'lists',
    path: '/lists/watched-users',
    body: { user: '{subject}' },
    undo: { title: 'Take them off the list', path: '/lists/watched-users' },
    hours: 720,
    history: 'from all\nwhere user = {subject} or acting_as = {subject}',
    narrower: null,
  },
} as const satisfies Readonly<Record<string, ResponseDocument>>;
export type ResponseName = keyof typeof responses;

/** Those that a message may offer as buttons: on whom an alert is about, whatever else it knows. */
export const offered = Object.keys(responses).filter(
  (name) => responses[name as ResponseName].on === 'user',
) as ResponseName[];

/** One of those that ship, by its name; null for what is none. */
export const responseOf = (name: string): ResponseDocument | null => responseIn(responses, name);

/** The words of a response's button. */
export const labelOf = (name: string): string => responseOf(name)?.title ?? name;
