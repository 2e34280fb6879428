import type Router from '@koa/router';
import type { Context } from 'koa';
import type { z } from 'zod';
import type { Access, Endpoint } from '@long-gate/contracts';
import type { Actor } from '../audit.js';
import { Problem } from '../problem.js';

export type Role = 'administrator' | 'coordinator' | 'viewer';

/** Who is asking. */
export interface Person extends Actor {
  email: string;
  /** By business id. */
  roles: Record<string, Role>;
}

/** What a handler is given: everything already checked against the contract. */
export interface Request<P, Q, B> {
  params: P;
  query: Q;
  body: B;
  /** Throws a problem when nobody is signed in; public endpoints use `ctx` alone. */
  person: Person;
  /** The version the editor saw, from If-Match. */
  seenVersion: number | null;
  /** From Idempotency-Key; present on everything that costs or sends. */
  key: string;
  ctx: Context;
}

const RANK: Record<Role, number> = { viewer: 1, coordinator: 2, administrator: 3 };
const BUSINESS_ACCESS: Partial<Record<Access, number>> = { viewer: 1, coordinator: 2, administrator: 3 };

/** Binds an endpoint of the contract to its handler. Nothing unparsed reaches a handler; the answer is the schema's. */
export function serve<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
  router: Router,
  endpoint: Endpoint<P, Q, B, R>,
  handler: (request: Request<z.output<P>, z.output<Q>, z.output<B>>) => Promise<z.input<R>>,
): void {
  const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete';
  router[method](endpoint.path, async (ctx) => {
    const person = ctx.state['person'] as Person | undefined;
    if (endpoint.access !== 'public') {
      if (!person) throw new Problem(401, 'signed-out', 'Sign in first; what you typed is kept in this window.');
      requireRole(person, endpoint.access, ctx.params['businessId']);
      if (endpoint.method !== 'GET') requireCsrf(ctx);
    }
    const key = ctx.get('idempotency-key');
    if (endpoint.costs && !/^[\w-]{8,100}$/.test(key)) {
      throw new Problem(
        400,
        'idempotency-key',
        'This costs or sends: give an Idempotency-Key header of 8 to 100 letters, digits or dashes.',
      );
    }
    const match = /^(?:W\/)?"(\d+)"$/.exec(ctx.get('if-match'));
    if (endpoint.versioned && !match)
      throw new Problem(428, 'if-match', 'Give the version you edited in an If-Match header.');
    const request = {
      params: parse(endpoint.params, ctx.params),
      query: parse(endpoint.query, ctx.query),
      body: parse(endpoint.body, ctx.request.body ?? {}),
      person: person as Person,
      seenVersion: match ? Number(match[1]) : null,
      key,
      ctx,
    };
    const answer = await handler(request);
    if (ctx.body !== undefined) return;
    const version = (answer as { version?: unknown } | null)?.version;
    if (typeof version === 'number') ctx.set('etag', `"${version}"`);
    ctx.body = answer ?? {};
  });
}

function parse<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const fields = result.error.issues.map((i) => ({ field: i.path.join('.'), message: i.message }));
  throw new Problem(
    422,
    'invalid',
    fields.map((f) => (f.field ? `${f.field}: ${f.message}` : f.message)).join('; '),
    fields,
  );
}

function requireRole(person: Person, access: Access, businessId: string | undefined): void {
  const wanted = BUSINESS_ACCESS[access];
  if (wanted === undefined) return;
  const role = businessId === undefined ? bestRole(person) : person.roles[businessId];
  if (!role) throw new Problem(404, 'not-found', 'There is no such business, or you have no part in it.');
  if (RANK[role] < wanted)
    throw new Problem(403, 'role', `This needs the role ${access}; yours is ${role}. Ask an administrator.`);
}

function bestRole(person: Person): Role | undefined {
  return Object.values(person.roles).sort((a, b) => RANK[b] - RANK[a])[0];
}

function requireCsrf(ctx: Context): void {
  if (ctx.get('x-csrf-token') !== ctx.state['csrf'])
    throw new Problem(403, 'csrf', 'The page is out of date; reload it and try again.');
}
