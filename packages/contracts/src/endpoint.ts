import { FINDING_SEVERITY, isDay, type FindingCode } from '@long-gate/core';
import * as z from 'zod';

/** Who may call: anyone; anyone signed in; or a role in the business of the path (coordinator includes viewer, …). */
export type Access = 'public' | 'signed in' | 'viewer' | 'coordinator' | 'administrator';

/** One address of the API: what goes in, what comes out, who may. Server and web both read it. */
export interface Endpoint<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
> {
  id: string;
  summary: string;
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** Below `/api/v1`, with `:name` for path parameters. */
  path: string;
  access: Access;
  /** Some wishes at this address need a higher role than it does. */
  stricter: Stricter<z.output<B>> | null;
  params: P;
  query: Q;
  body: B;
  answer: R;
  /** Costs money or sends: wants an Idempotency-Key. */
  costs: boolean;
  /** An edit: wants If-Match with the version seen. */
  versioned: boolean;
}

export interface Stricter<B> {
  access: Access;
  /** Completes “needs the role … to”. */
  to: string;
  when: (body: B) => boolean;
  /** A body that is such a wish, for the table of who may what. */
  example: unknown;
}

export const Nothing = z.object({});

interface Given<P, Q, B extends z.ZodType, R> {
  id: string;
  summary: string;
  method: Endpoint['method'];
  path: string;
  access: Access;
  params?: P;
  query?: Q;
  body?: B;
  answer: R;
  stricter?: Stricter<z.output<B>>;
  costs?: boolean;
  versioned?: boolean;
}

/** Every endpoint ever defined, for the OpenAPI document. */
export const ALL_ENDPOINTS: Endpoint[] = [];

export function endpoint<
  R extends z.ZodType,
  P extends z.ZodType = typeof Nothing,
  Q extends z.ZodType = typeof Nothing,
  B extends z.ZodType = typeof Nothing,
>(given: Given<P, Q, B, R>): Endpoint<P, Q, B, R> {
  const made = {
    params: Nothing as unknown as P,
    query: Nothing as unknown as Q,
    body: Nothing as unknown as B,
    stricter: null,
    costs: false,
    versioned: false,
    ...given,
  } as Endpoint<P, Q, B, R>;
  ALL_ENDPOINTS.push(made);
  return made;
}

export const BusinessPath = z.object({ businessId: z.string() });
export const ObjectPath = z.object({ businessId: z.string(), id: z.string() });
export const Done = z.object({ done: z.literal(true) });
export const DONE = { done: true } as const;

/** What is searched for is no longer than so many characters. */
export const SEARCH_MOST = 80;

/** A moment, milliseconds since the epoch, scenario time. */
export const Moment = z.number().int();
/** An amount in millionths of a dollar. */
export const Amount = z.number().int();
/** A day, `2027-03-12`. */
export const DayShape = z.string().refine(isDay, { message: 'Write the day as year-month-day, such as 2027-03-12.' });

export function page<T extends z.ZodType>(item: T) {
  return z.object({ items: z.array(item), next: z.string().nullable(), total: z.number().int() });
}
export const PageQuery = z.object({
  cursor: z.string().max(400).optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
});

/** A page of what is listed, or the one of this id alone, wherever it is in the list. */
export const PageOrOne = PageQuery.extend({ id: z.string().max(60).optional() });

export const FindingShape = z.object({
  code: z.enum(Object.keys(FINDING_SEVERITY) as [FindingCode, ...FindingCode[]]),
  severity: z.enum(['block', 'risk', 'advice']),
  field: z.string(),
  span: z.object({ start: z.number(), end: z.number() }).optional(),
  message: z.string(),
  fix: z.string(),
});
export const ReasonShape = z.object({ field: z.string(), code: z.string(), message: z.string() });
export const PurposeShape = z.enum(['conversational', 'informational', 'promotional']);
export const ResultShape = z.enum(['pass', 'hold', 'stop']);
export const AnswerShape = z.object({
  post: z.number(),
  result: z.enum(['pass', 'hold', 'stop', 'not asked']),
  reason: z.string().optional(),
  until: z.number().optional(),
});
