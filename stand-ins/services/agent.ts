import { Router, json } from 'express';
import type { DemoRecord } from '../../demo/generate/record.js';
import { bridges, desks, directoryServers, linuxServers, scanner } from '../../demo/world/hosts.js';
import { escape, renderFrame } from '../page/frame.js';

/** Sources that hosts themselves write: a host off the network sends nothing. */
const OF_HOSTS: ReadonlySet<string> = new Set(['mast-os', 'dock-auth']);

interface Host {
  quarantined: boolean;
  readonly done: string[];
}

/** An agent on every host, which takes it off the network and lets it back: meanwhile nothing of it comes in. */
export class EndpointAgent {
  private readonly hosts = new Map<string, Host>(
    [...desks, ...linuxServers, ...directoryServers, ...bridges, scanner].map((name) => [
      name,
      { quarantined: false, done: [] },
    ]),
  );
  readonly router = Router();

  constructor() {
    this.router.post('/hosts/:host/:does', json({ limit: '16kb' }), (request, response) => {
      const host = this.hosts.get(request.params.host);
      const { does } = request.params;
      if (host === undefined || (does !== 'quarantine' && does !== 'release')) {
        response.status(404).json({ said: 'No host is called so, or nothing is done so.' });
        return;
      }
      const quarantined = does === 'quarantine';
      if (host.quarantined !== quarantined) {
        host.quarantined = quarantined;
        host.done.unshift(
          `${new Date().toISOString().slice(11, 19)} UTC: ${quarantined ? 'off the network' : 'back'}`,
        );
      }
      response.json({ said: quarantined ? 'off the network' : 'back on the network' });
    });
    this.router.get('/hosts/:host', (request, response) => {
      const host = this.hosts.get(request.params.host);
      if (host === undefined) response.status(404).json({});
      else response.json(host);
    });
    this.router.get('/', (_request, response) => void response.type('html').send(this.page()));
  }

  /** Whether a record is of a host that is off the network. */
  drops({ source, raw }: Pick<DemoRecord, 'source' | 'raw'>): boolean {
    return (
      OF_HOSTS.has(source) &&
      [...this.hosts].some(([name, { quarantined }]) => quarantined && raw.includes(name))
    );
  }

  private page(): string {
    const rows = [...this.hosts]
      .sort(([, one], [, two]) => two.done.length - one.done.length)
      .map(
        ([name, { quarantined, done }]) =>
          `<tr><td><code>${escape(name)}</code></td><td>${quarantined ? 'off the network' : '<span class="soft">as usual</span>'}<br><span class="soft">${done.map(escape).join('<br>')}</span></td></tr>`,
      );
    return renderFrame('Endpoint agents', `<table>${rows.join('')}</table>`, 5);
  }
}
