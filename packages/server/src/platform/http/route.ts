import type Router from '@koa/router';
import type { Context } from 'koa';
import type { z } from 'zod';
import { faultWords, type Access, type Endpoint } from '@long-gate/contracts';
import type { Actor } from '../audit.js';
import { Problem } from '../problem.js';

export type Role = 'administrator' | 'coordinator' | 'viewer';

/** Who is asking. */
export interface Person extends Actor {
  email: string;
  /** By business id; read with {@link roleIn}. */
  roles: Record<string, Role>;
  /** Businesses that want a second factor of their administrators, which this one has not; nothing of them is shown. */
  factorMissing?: readonly string[];
}

/** A person with the session they came by. */
export interface SignedIn {
  person: Person;
  sessionId: string;
  csrf: string;
  mobile: string;
}

/** The role of a person in a business, if they have one there; a name that every object has is no business. */
export function roleIn(person: Person, businessId: string): Role | undefined {
  if (person.factorMissing?.includes(businessId)) return undefined;
  return Object.hasOwn(person.roles, businessId) ? person.roles[businessId] : undefined;
}

/** What a handler is given: everything already checked against the contract. */
export interface Request<P, Q, B> {
  params: P;
  query: Q;
  body: B;
  /** Throws a problem when nobody is signed in; public endpoints use `ctx` alone. */
  person: Person;
  signedIn: SignedIn;
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
    const signedIn = ctx.state['signedIn'] as SignedIn | undefined;
    const person = signedIn?.person;
    if (endpoint.access !== 'public') {
      if (!person) throw new Problem(401, 'signed-out', 'Sign in first; what you typed is kept in this window.');
      requireRole(person, endpoint.access, ctx.params['businessId']);
      if (endpoint.method !== 'GET') requireCsrf(ctx, signedIn);
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
    for (const [place, value] of [
      ['address', ctx.params],
      ['query', ctx.query],
      ['body', ctx.request.body],
    ] as const)
      refuseUnreadable(place, value);
    const body: z.output<B> = parse(endpoint.body, ctx.request.body ?? {});
    if (endpoint.stricter?.when(body)) {
      const { access, to } = endpoint.stricter;
      requireRole(person as Person, access, ctx.params['businessId'], ` to ${to}`);
    }
    const request = {
      params: parse(endpoint.params, ctx.params),
      query: parse(endpoint.query, ctx.query),
      body,
      person: person as Person,
      signedIn: signedIn as SignedIn,
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

/** C0 and C1 controls other than tab and line ends, and halves of surrogate pairs: no text a person writes holds them. */
const UNREADABLE =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;
/** How deep a body may be nested; no contract goes half as deep. */
const DEEPEST = 20;

/** @throws Problem 422 naming the field that holds a character which cannot be kept; 400 for a body nested too deep. */
function refuseUnreadable(place: string, value: unknown, field: readonly string[] = []): void {
  if (field.length > DEEPEST) throw new Problem(400, 'bad-request', 'This is nested deeper than any request here.');
  if (typeof value === 'string') {
    if (!UNREADABLE.test(value)) return;
    const name = field.join('.');
    throw new Problem(
      422,
      'unreadable',
      `${name ? `“${name}” in the ${place}` : `The ${place}`} holds a control character or half a character. Take it out and try again.`,
      [{ field: name, message: 'Holds a control character or half a character.' }],
    );
  }
  if (typeof value !== 'object' || value === null) return;
  for (const [key, inner] of Object.entries(value)) {
    refuseUnreadable(place, key, field);
    refuseUnreadable(place, inner, [...field, key]);
  }
}

/** Where a fault is, in words: `body.moreAddresses.0.postalCode` is “more addresses 1, postal code”. */
function wordsOf(path: string): string {
  return path
    .replace(/^body\./, '')
    .replace(/^q$/, 'search')
    .replace(/\.(\d+)/g, (_, at: string) => ` ${Number(at) + 1}`)
    .replaceAll('.', ', ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase();
}

function parse<T extends z.ZodType>(schema: T, value: unknown): z.output<T> {
  const result = schema.safeParse(value, { error: faultWords });
  if (result.success) return result.data;
  const fields = result.error.issues.map((i) => ({ field: i.path.join('.'), message: i.message }));
  throw new Problem(
    422,
    'invalid',
    fields.map((f) => (f.field ? `${wordsOf(f.field)}: ${f.message}` : f.message)).join('; '),
    fields,
  );
}

function requireRole(person: Person, access: Access, businessId: string | undefined, to = ''): void {
  const wanted = BUSINESS_ACCESS[access];
  if (wanted === undefined) return;
  if (businessId !== undefined && person.factorMissing?.includes(businessId))
    throw new Problem(
      403,
      'factor-missing',
      'This business wants a second factor of its administrators: set it up first.',
    );
  const role = businessId === undefined ? bestRole(person) : roleIn(person, businessId);
  if (!role) throw new Problem(404, 'not-found', 'There is no such business, or you have no part in it.');
  if (RANK[role] < wanted)
    throw new Problem(403, 'role', `This needs the role ${access}${to}; yours is ${role}. Ask an administrator.`);
}

function bestRole(person: Person): Role | undefined {
  return Object.keys(person.roles)
    .map((id) => roleIn(person, id))
    .filter((r) => r !== undefined)
    .sort((a, b) => RANK[b] - RANK[a])[0];
}

function requireCsrf(ctx: Context, signedIn: SignedIn | undefined): void {
  if (signedIn === undefined || ctx.get('x-csrf-token') !== signedIn.csrf)
    throw new Problem(403, 'csrf', 'The page is out of date; reload it and try again.');
}
