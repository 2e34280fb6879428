import { PassThrough } from 'node:stream';
import type { Context } from 'koa';
import type { Platform } from '../platform.js';
import { Problem } from '../problem.js';
import type { Person } from './route.js';

const BEAT_MS = 20_000;

/** Server-sent events: which topics changed, only of businesses the person has a part in. */
export function liveStream(p: Platform): (ctx: Context) => void {
  return (ctx) => {
    const person = ctx.state['person'] as Person | undefined;
    if (!person) throw new Problem(401, 'signed-out', 'Sign in first.');
    const stream = new PassThrough();
    ctx.set({ 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
    ctx.status = 200;
    ctx.body = stream;
    stream.write(': connected\n\n');
    const leave = p.live.listen((event) => {
      if (event.businessId === '' || person.roles[event.businessId]) stream.write(`data: ${JSON.stringify(event)}\n\n`);
    });
    const beat = setInterval(() => stream.write(': beat\n\n'), BEAT_MS);
    const end = (): void => {
      leave();
      clearInterval(beat);
      stream.end();
    };
    ctx.req.on('close', end);
    stream.on('error', end);
  };
}
