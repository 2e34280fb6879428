import type { Middleware } from 'koa';
import type { Logger } from 'pino';
import { GatewayBusy, GatewayDown, GatewayRefused } from '@long-gate/gateways';
import { Problem } from '../problem.js';

/** Every error leaves as problem details (RFC 9457); the log keeps no personal data. */
export function problems(log: Logger): Middleware {
  return async (ctx, next) => {
    try {
      await next();
      if (!ctx.path.startsWith('/api/')) return;
      if (ctx.status === 404 && ctx.body === undefined)
        throw new Problem(404, 'not-found', 'There is no such address in the API.');
      if (ctx.status === 405 || ctx.status === 501)
        throw new Problem(405, 'method', 'This address does not take that method.', [], {
          allow: ctx.response.get('allow'),
        });
    } catch (error) {
      const problem = asProblem(error);
      if (problem.status >= 500)
        log.error(
          {
            path: ctx.path,
            name: (error as Error).name,
            message: (error as Error).message,
            stack: (error as Error).stack,
          },
          'fault',
        );
      ctx.status = problem.status;
      ctx.type = 'application/problem+json';
      for (const [k, v] of Object.entries(problem.headers)) ctx.set(k, v);
      ctx.body = JSON.stringify({
        type: `https://long-gate.example/problems/${problem.code}`,
        title: problem.code.replaceAll('-', ' '),
        status: problem.status,
        detail: problem.message,
        code: problem.code,
        fields: problem.fields,
      });
    }
  };
}

function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof GatewayDown)
    return new Problem(
      503,
      'outside-down',
      'A service outside that this needs does not answer. Try again in a while: nothing is done twice.',
    );
  if (error instanceof GatewayBusy) {
    const seconds = Math.max(1, Math.ceil(error.retryAfterMs / 1000));
    return new Problem(
      503,
      'outside-busy',
      `A service outside that this needs is busy. Try again in ${seconds} ${seconds === 1 ? 'second' : 'seconds'}.`,
      [],
      { 'retry-after': String(seconds) },
    );
  }
  if (error instanceof GatewayRefused)
    return new Problem(422, 'outside-refused', `A service outside refused this: ${error.message}`);
  const e = error as { status?: number; message?: string; type?: string };
  if (e.status === 413) return new Problem(413, 'too-large', 'This is larger than the server takes.');
  if (e.status === 429) return new Problem(429, 'too-many', 'Too many tries; wait a minute and try again.');
  if (e.status !== undefined && e.status >= 400 && e.status < 500)
    return new Problem(e.status, 'bad-request', 'The request could not be read: is it valid JSON?');
  return new Problem(500, 'fault', 'Something failed here. Nothing was half-done; try again.');
}
