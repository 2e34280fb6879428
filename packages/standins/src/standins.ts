import { mkdir } from 'node:fs/promises';
import type { Server } from 'node:http';
import path from 'node:path';
import { bodyParser } from '@koa/bodyparser';
import Router from '@koa/router';
import { SimulatedPast } from '@long-gate/gateways';
import Koa from 'koa';
import { z } from 'zod';
import { addAddresses } from './addresses/addresses.js';
import { addBureau } from './bureau/bureau.js';
import { addExchange } from './exchange/exchange.js';
import { addHosting } from './hosting/hosting.js';
import { addHandset } from './handset/handset.js';
import { addLines } from './lines/lines.js';
import { addMail } from './mail/mail.js';
import { addNetwork } from './network/network.js';
import { Outside, Refusal } from './outside/outside.js';
import { rememberPast } from './outside/past.js';
import { OutsideStore } from './outside/store.js';
import { addRegistrar } from './registrar/registrar.js';
import { addSite } from './site/site.js';

export interface StandinOptions {
  dataDir: string;
  /** 0 for any free port. */
  port: number;
  seed: string;
  /** Segments a second the network takes from one number; its own default where none is given. */
  queueLimit?: number;
  /** After so many people's STOP in a day a campaign may be suspended; 0 for never, the registrar's own number where none is given. */
  suspendAfter?: number;
  /** Of so many questions about lines, from 0 to 1, one is answered late, fails, or is answered into nowhere; 0 for none. */
  lineFaults?: number;
  /** Where the application is. */
  app?: string;
}

export interface Standins {
  url: string;
  port: number;
  store: OutsideStore;
  stop(): Promise<void>;
}

/** What has fallen due is looked for when something was written or is due, and this often in any case. */
const LOOK_AGAIN_MS = 60_000;
/** What is due in a moment is worked off together with what is due a moment later. */
const LEAST_MS = 20;

/** Starts the simulated outside world; it listens on this machine only. */
export async function startStandins(options: StandinOptions): Promise<Standins> {
  await mkdir(options.dataDir, { recursive: true });
  const store = await OutsideStore.open(path.join(options.dataDir, 'outside.sqlite'));
  const kept = await store.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'offset'`);
  const outside = new Outside(store, options.seed, Number(kept?.value ?? 0), options.queueLimit, options.suspendAfter);
  let stopped = false;
  const router = new Router();
  addExchange(router, outside);
  addRegistrar(router, outside);
  addAddresses(router);
  addBureau(router, outside);
  addHosting(router, outside);
  addLines(router, outside, options.lineFaults);
  addNetwork(router, outside);
  addHandset(router, outside, options.app ?? 'http://127.0.0.1:4300');
  addMail(router, outside, path.join(options.dataDir, 'mail'));
  addSite(router);

  router.get('/events', async (ctx) => {
    const q = z
      .object({
        after: z.coerce.number().int().min(0),
        limit: z.coerce.number().int().min(1).max(1000),
        // So long the answer may wait for something to tell, milliseconds.
        wait: z.coerce.number().int().min(0).max(30_000).default(0),
      })
      .parse(ctx.query);
    const until = Date.now() + q.wait;
    let gone = false;
    ctx.res.once('close', () => (gone = true));
    let events = await store.eventsAfter(q.after, q.limit);
    while (events.length === 0 && !gone && !stopped && Date.now() < until) {
      await store.written(until - Date.now());
      events = await store.eventsAfter(q.after, q.limit);
    }
    ctx.body = { events, more: events.length === q.limit };
  });
  router.put('/clock', async (ctx) => {
    const b = z.object({ now: z.number() }).parse(ctx.request.body);
    await outside.setClock(b.now);
    const next = await outside.next();
    ctx.body = { now: outside.now(), nextDue: next?.at ?? null, nextWhat: next?.what ?? '' };
  });
  router.put('/past', async (ctx) => {
    const past = SimulatedPast.parse(ctx.request.body);
    await store.write(() => rememberPast(store, past));
    ctx.body = { accepted: true };
  });
  router.get('/health', (ctx) => {
    ctx.body = { ok: true, simulated: true };
  });

  const app = new Koa();
  app.use(async (ctx, next) => {
    try {
      await next();
    } catch (error) {
      ctx.type = 'application/problem+json';
      if (error instanceof Refusal) {
        ctx.status = error.status;
        if (error.retryAfter) ctx.set('retry-after', String(error.retryAfter));
        ctx.body = { title: 'Refused', status: error.status, code: error.code, detail: error.message };
      } else if (error instanceof z.ZodError) {
        ctx.status = 400;
        ctx.body = { title: 'Bad request', status: 400, code: 'bad-request', detail: z.prettifyError(error) };
      } else {
        ctx.status = 500;
        ctx.body = { title: 'Fault', status: 500, code: 'fault', detail: 'The simulated outside failed.' };
        console.error(error);
      }
    }
  });
  app.use(bodyParser({ jsonLimit: '32mb' }));
  app.use(router.routes());

  const server = await new Promise<Server>((resolve, reject) => {
    const s = app.listen(options.port, '127.0.0.1', () => resolve(s));
    s.once('error', reject);
  });
  const working = (async () => {
    while (!stopped) {
      try {
        await outside.work();
        const next = (await outside.nextDue()) ?? Infinity;
        if (!stopped) await store.written(Math.min(LOOK_AGAIN_MS, Math.max(LEAST_MS, next - outside.now())));
      } catch (error) {
        console.error(error);
        if (!stopped) await store.written(LOOK_AGAIN_MS);
      }
    }
  })();
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : options.port;
  return {
    url: `http://127.0.0.1:${port}`,
    port,
    store,
    async stop() {
      stopped = true;
      store.wake();
      await working;
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await store.close();
    },
  };
}
