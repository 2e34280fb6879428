import type { Middleware } from 'koa';
import type { Person } from './route.js';

export const SESSION_COOKIE = 'long_gate';

/** Puts the signed-in person, if any, where the routes look for them. */
export function sessions(
  find: (token: string) => Promise<{ person: Person; csrf: string; mobile: string } | undefined>,
): Middleware {
  return async (ctx, next) => {
    const token = ctx.cookies.get(SESSION_COOKIE);
    if (token && ctx.path.startsWith('/api/')) {
      const found = await find(token);
      ctx.state['person'] = found?.person;
      ctx.state['csrf'] = found?.csrf;
      ctx.state['mobile'] = found?.mobile;
    }
    await next();
  };
}
