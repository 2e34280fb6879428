import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { bodyParser } from '@koa/bodyparser';
import Router from '@koa/router';
import { openApiDocument } from '@long-gate/contracts';
import Koa from 'koa';
import compress from 'koa-compress';
import koaHelmet from 'koa-helmet';
import ratelimit from 'koa-ratelimit';
import send from 'koa-send';
import type { People } from '../../areas/settings/index.js';
import type { Platform } from '../platform.js';
import { problems } from './errors.js';
import { liveStream } from './live-stream.js';
import { sessions } from './session.js';

const PREFIX = '/api/v1';

export function apiRouter(): Router {
  return new Router({ prefix: PREFIX });
}

/** Its types describe an ES default export, while the package is CommonJS: what is imported is the function itself. */
const helmet = koaHelmet as unknown as typeof koaHelmet.default;

/** The HTTP side: security headers, limits, sessions, the API, live events, and the web application's files. */
export function buildWeb(p: Platform, people: People, api: Router): Koa {
  const koa = new Koa();
  // Behind TLS somebody else ends it; what they forward is believed then.
  koa.proxy = p.config.secureCookies;
  koa.use(problems(p.log));
  koa.use(async (ctx, next) => {
    const nonce = randomBytes(16).toString('base64');
    ctx.state['nonce'] = nonce;
    (ctx.res as { nonce?: string }).nonce = nonce;
    await next();
  });
  koa.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          baseUri: ["'self'"],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          workerSrc: ["'self'"],
          scriptSrc: ["'self'", (_req: unknown, res: unknown) => `'nonce-${nonceOf(res)}'`],
          styleSrc: ["'self'", (_req: unknown, res: unknown) => `'nonce-${nonceOf(res)}'`],
        },
      },
      crossOriginEmbedderPolicy: false,
      strictTransportSecurity: p.config.secureCookies,
    }),
  );
  // The live stream stays out of compression, which holds events back.
  const squeeze = compress({ threshold: 1024, br: false });
  koa.use((ctx, next) => (ctx.path === `${PREFIX}/live` ? next() : (squeeze(ctx, next) as Promise<unknown>)));
  koa.use(
    limit(
      'sign-in',
      30,
      (path_, method) => method === 'POST' && (path_ === `${PREFIX}/session` || path_ === `${PREFIX}/setup`),
    ),
  );
  koa.use(limit('public', 60, (path_) => path_.startsWith(`${PREFIX}/public/`)));
  const parser = (jsonLimit: string): Koa.Middleware =>
    bodyParser({ enableTypes: ['json'], jsonLimit, parsedMethods: ['POST', 'PUT', 'PATCH', 'DELETE'] });
  // A document of 10 MB, in base64, and room for a larger one to be refused in words.
  const [small, large] = [parser('4mb'), parser('24mb')];
  koa.use((ctx, next) => (ctx.path.endsWith('/documents') ? large : small)(ctx, next) as Promise<unknown>);
  koa.use(sessions((token) => people.bySession(token)));
  api.get('/live', liveStream(p));
  api.get('/openapi.json', (ctx) => {
    ctx.body = openApiDocument();
  });
  koa.use(api.routes());
  koa.use(api.allowedMethods());
  koa.use(files(p.config.webDir));
  return koa;
}

function nonceOf(res: unknown): string {
  return (res as { nonce?: string }).nonce ?? '';
}

/** At most `max` requests a minute (wall time) from one address. */
function limit(name: string, max: number, applies: (path: string, method: string) => boolean): Koa.Middleware {
  const limiter = ratelimit({
    driver: 'memory',
    db: new Map(),
    duration: 60_000,
    max,
    id: (ctx) => `${name}:${ctx.ip}`,
    disableHeader: true,
    throw: true,
    errorMessage: 'Too many tries; wait a minute and try again.',
  });
  return (ctx, next) => (applies(ctx.path, ctx.method) ? (limiter(ctx, next) as Promise<unknown>) : next());
}

/** The built application. Unknown addresses get its index page, with the nonce its styles need. */
function files(dir: string): Koa.Middleware {
  return async (ctx) => {
    if (ctx.path.startsWith('/api/') || (ctx.method !== 'GET' && ctx.method !== 'HEAD')) return;
    if (/\.[a-z0-9]{2,8}$/i.test(ctx.path)) {
      const hashed = /-[A-Z0-9]{8}\.[a-z0-9]+$/.test(ctx.path);
      await send(ctx, ctx.path, { root: dir, maxage: hashed ? 31_536_000_000 : 0, immutable: hashed }).catch(
        (error: unknown) => {
          if ((error as { status?: number }).status !== 404) throw error as Error;
          ctx.status = 404;
          ctx.body = 'There is no such file.';
        },
      );
      return;
    }
    ctx.type = 'html';
    ctx.set('cache-control', 'no-store');
    ctx.body = (await readFile(path.join(dir, 'index.html'), 'utf8')).replaceAll('%NONCE%', String(ctx.state['nonce']));
  };
}
