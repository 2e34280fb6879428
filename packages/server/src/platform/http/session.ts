import type { Middleware } from 'koa';
import type { SignedIn } from './route.js';

export const SESSION_COOKIE = 'long_gate';

/** Puts the signed-in person, if any, where the routes look for them. */
export function sessions(find: (token: string) => Promise<SignedIn | undefined>): Middleware {
  return async (ctx, next) => {
    const token = ctx.cookies.get(SESSION_COOKIE);
    if (token && ctx.path.startsWith('/api/')) ctx.state['signedIn'] = await find(token);
    await next();
  };
}
