import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { bodyParser } from '@koa/bodyparser';
import Router from '@koa/router';
import { getOpenApi, listenLive, openApiDocument } from '@long-gate/contracts';
import Koa from 'koa';
import compress from 'koa-compress';
import koaHelmet from 'koa-helmet';
import send from 'koa-send';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type { Platform } from '../platform.js';
import { Problem } from '../problem.js';
import { clientAddress } from './client-address.js';
import { problems } from './errors.js';
import { liveStream } from './live-stream.js';
import { serve, type SignedIn } from './route.js';
import { SESSION_COOKIE, sessions } from './session.js';

const PREFIX = '/api/v1';

export function apiRouter(): Router {
  return new Router({ prefix: PREFIX });
}

/** Addresses of pages for people who never sign in: drawn here, since they have to work without a script. */
export const OPEN_PAGES = /^\/(?:join|my-texts|t|better-number)\//;
export function openRouter(): Router {
  return new Router();
}

/** Its types describe an ES default export, while the package is CommonJS: what is imported is the function itself. */
const helmet = koaHelmet as unknown as typeof koaHelmet.default;

/** Only for the API: of its hundreds of ways none is looked through for a page. */
const ofApi =
  <S, C>(middleware: Koa.Middleware<S, C>): Koa.Middleware<S, C> =>
  (ctx, next): unknown =>
    ctx.path.startsWith(`${PREFIX}/`) ? middleware(ctx, next) : next();

/**
 * The HTTP side: security headers, limits, sessions, the API, live events, and the web application's files.
 * @param find whose session a token is.
 */
export function buildWeb(
  p: Platform,
  find: (token: string) => Promise<SignedIn | undefined>,
  api: Router,
  open: Router,
): Koa {
  const koa = new Koa();
  // Of what was forwarded only what our own proxies added is believed: so many addresses from the end of the line.
  koa.proxy = p.config.trustedHops > 0;
  koa.maxIpsCount = p.config.trustedHops;
  // What is still reported here is a visitor who left before the answer was out; faults are logged where they are met.
  koa.on('error', (error: Error) => p.log.debug({ name: error.name }, 'left early'));
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
  koa.use((ctx, next) => {
    // Whoever says to take nothing, not even what is unpacked, is answered unpacked (RFC 9110, 12.5.3).
    const takes = ctx.acceptsEncodings('gzip', 'deflate', 'identity') !== false;
    return ctx.path === `${PREFIX}/live` || !takes ? next() : (squeeze(ctx, next) as Promise<unknown>);
  });
  koa.use(async (ctx, next) => {
    if (ctx.path.startsWith('/api/')) {
      // What is told of people and businesses stays in no cache.
      ctx.set('cache-control', 'no-store');
      if (p.config.secureCookies && !ctx.secure)
        throw new Problem(
          400,
          'tls',
          'This server is set up for TLS (LONG_GATE_TLS=1), and the request came without: open it by https, and have the proxy say so in X-Forwarded-Proto.',
        );
    }
    await next();
  });
  koa.use(
    limit(30, (path_, method) => method === 'POST' && (path_ === `${PREFIX}/session` || path_ === `${PREFIX}/setup`)),
  );
  koa.use(limit(60, (path_) => path_.startsWith(`${PREFIX}/public/`)));
  koa.use(limit(60, (path_, method) => method === 'POST' && OPEN_PAGES.test(path_)));
  const parser = (jsonLimit: string): Koa.Middleware =>
    bodyParser({ enableTypes: ['json'], jsonLimit, parsedMethods: ['POST', 'PUT', 'PATCH', 'DELETE'] });
  // A document of 10 MB, in base64, and room for a larger one to be refused in words.
  const [small, large] = [parser('4mb'), parser('24mb')];
  const form = bodyParser({ enableTypes: ['form'], formLimit: '32kb', parsedMethods: ['POST'] });
  koa.use(async (ctx, next) => {
    let read = false;
    const parse = OPEN_PAGES.test(ctx.path)
      ? form
      : /\/(?:documents|forms|intakes|opt-out-lists|picture)$/.test(ctx.path)
        ? large
        : small;
    try {
      await parse(ctx, async () => {
        read = true;
        await next();
      });
    } catch (error) {
      // What broke while the body was read (JSON, an encoding, a packing) is the sender's to mend.
      if (read || error instanceof Problem) throw error;
      throw unreadableBody(error as Error & { status?: number });
    }
  });
  koa.use(sessions(find));
  serve(api, listenLive, ({ ctx, signedIn }) => {
    const token = ctx.cookies.get(SESSION_COOKIE) ?? '';
    liveStream(p, () => find(token), signedIn)(ctx);
    return Promise.resolve('');
  });
  serve(api, getOpenApi, () => Promise.resolve(openApiDocument()));
  koa.use(ofApi(api.routes()));
  koa.use(ofApi(api.allowedMethods()));
  koa.use(open.routes());
  koa.use(files(p.config.webDir));
  return koa;
}

function unreadableBody(error: Error & { status?: number }): Problem {
  if (error.status === 413) return new Problem(413, 'too-large', 'This is larger than the server takes.');
  if (error.status === 415)
    return new Problem(415, 'content-type', 'Send JSON in UTF-8, unpacked or as gzip, deflate or br.');
  return new Problem(400, 'bad-request', 'The request could not be read: is it valid JSON, and packed as it says?');
}

function nonceOf(res: unknown): string {
  return (res as { nonce?: string }).nonce ?? '';
}

/** At most `max` requests a minute (wall time) from one address; what was counted is forgotten after the minute. */
function limit(max: number, applies: (path: string, method: string) => boolean): Koa.Middleware {
  const limiter = new RateLimiterMemory({ points: max, duration: 60 });
  return async (ctx, next) => {
    if (applies(ctx.path, ctx.method)) {
      await limiter.consume(clientAddress(ctx)).catch((full: unknown) => {
        throw new Problem(429, 'too-many', 'Too many tries; wait a minute and try again.', [], {
          'retry-after': String(Math.ceil(((full as { msBeforeNext?: number }).msBeforeNext ?? 60_000) / 1000)),
        });
      });
    }
    await next();
  };
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
