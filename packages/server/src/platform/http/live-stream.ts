import { PassThrough } from 'node:stream';
import type { Context } from 'koa';
import type { LiveEvent } from '../live.js';
import type { Platform } from '../platform.js';
import { roleIn, type SignedIn } from './route.js';

const BEAT_MS = 20_000;

/**
 * Server-sent events: which topics changed, only of businesses the person has a part in. It ends with the session, and
 * says nothing more of a business once the role in it has ended.
 * @param find looks the session up again.
 */
export function liveStream(p: Platform, find: () => Promise<SignedIn | undefined>, first: SignedIn) {
  return (ctx: Context): void => {
    let who = first;
    const stream = new PassThrough();
    ctx.set({ 'content-type': 'text/event-stream', 'x-accel-buffering': 'no' });
    ctx.status = 200;
    ctx.body = stream;
    stream.write(': connected\n\n');
    const leave = p.live.listen((event) => {
      if (mayHear(who, event)) stream.write(`data: ${JSON.stringify(event)}\n\n`);
    });
    const look = async (): Promise<void> => {
      const found = await find().catch(() => undefined);
      if (found) who = found;
      else end();
    };
    const leaveLooking = p.live.onLookAgain(() => void look());
    const beat = setInterval(() => {
      void look().then(() => {
        if (!stream.writableEnded) stream.write(': beat\n\n');
      });
    }, BEAT_MS);
    const end = (): void => {
      leave();
      leaveLooking();
      clearInterval(beat);
      stream.end();
    };
    ctx.req.on('close', end);
    stream.on('error', end);
  };
}

function mayHear({ person }: SignedIn, event: LiveEvent): boolean {
  return event.businessId === '' || roleIn(person, event.businessId) !== undefined;
}
