import express, { type Express } from 'express';
import type { SMTPServer } from 'smtp-server';
import type { Instant } from '../core/base/instant.js';
import { whoHasLeft } from '../demo/generate/index.js';
import type { DemoRecord } from '../demo/generate/record.js';
import { directoryAssets, directoryPeople } from '../demo/world/directory.js';
import { Feed } from './feed/feed.js';
import { fontsAndIcon } from './page/fonts.js';
import { renderPage } from './page/page.js';
import { Stage } from './scenes.js';
import { chatRoom } from './services/chat.js';
import { EndpointAgent } from './services/agent.js';
import { cloudRights } from './services/cloud.js';
import { Firewall } from './services/firewall.js';
import { identityDirectory } from './services/identity.js';
import { mailbox } from './services/mailbox.js';
import { webhookSink } from './services/sink.js';
import { Warnings } from './services/warnings.js';
import { Sender, type Destination } from './sender.js';
import { Tide, type World } from './tide/tide.js';

/** People of the directory given at once. */
const PAGE = 50;

/** All stand-ins of the demo world. */
export interface StandIns {
  readonly app: Express;
  /** Takes mail over SMTP. */
  readonly smtp: SMTPServer;
  /** Sends what has become due since the last round. */
  round(): Promise<void>;
}

/** @param now the present moment, microseconds */
export function makeStandIns(world: World, to: Destination, now: () => Instant): StandIns {
  const sender = new Sender(to);
  const firewall = new Firewall();
  const agent = new EndpointAgent();
  const keptAway = (record: DemoRecord): boolean => firewall.drops(record) || agent.drops(record);
  const tide = new Tide(world, sender, now, keptAway);
  const stage = new Stage(sender, now, keptAway);
  const feed = new Feed(world, now);
  const people = directoryPeople(whoHasLeft(world.end));
  const assets = directoryAssets();
  const app = express();
  app.disable('x-powered-by');
  const mail = mailbox();
  app.use(fontsAndIcon());
  app.use('/chat', chatRoom());
  app.use('/mail', mail.router);
  app.use('/sink', webhookSink());
  app.use('/identity', identityDirectory());
  app.use('/firewall', firewall.router);
  app.use('/agent', agent.router);
  app.use('/cloud', cloudRights());
  app.use('/warnings', new Warnings().router);
  app.get('/feed/bookings', (request, response) => {
    const { cursor } = request.query;
    response.json(feed.page(typeof cursor === 'string' ? cursor : undefined));
  });
  app.get('/directory/people', (request, response) => {
    const from = Number(request.query['cursor'] ?? 0) || 0;
    const next = from + PAGE;
    response.json({
      people: people.slice(from, next),
      next: next < people.length ? String(next) : null,
    });
  });
  // One answer is the whole: express gives it an ETag, and answers 304 to whoever has it.
  app.get('/directory/assets', (_request, response) => void response.json(assets));
  app.post('/scenes/:name/play', (request, response) => {
    stage.play(request.params.name);
    response.redirect(303, '/');
  });
  app.get('/', (_request, response) => {
    response.type('html').send(
      renderPage({
        workbench: to.server,
        tide,
        sent: sender.sent,
        playing: stage.playing,
        feed: feed.held().length,
        people: people.length,
        assets: assets.length,
      }),
    );
  });
  return {
    app,
    smtp: mail.smtp,
    async round() {
      await stage.round();
      await tide.round();
    },
  };
}
