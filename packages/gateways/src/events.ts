import { z } from 'zod';
import { FieldResult, FILING_STAGES, FILINGS, Reason } from './shapes.js';

/**
 * How a failed text failed; decides what the number learns from it (rules.md, reputation). `other` is a class the
 * network names and we do not know.
 */
export const FAILURE_CLASSES = [
  'not-textable',
  'out-of-service',
  'refused-by-owner',
  'passing-fault',
  'filtered',
  'configuration',
  'other',
] as const;
export type FailureClass = (typeof FAILURE_CLASSES)[number];
/** An unknown class counts as `other`. */
export const FailureClass = z
  .string()
  .transform((said): FailureClass => FAILURE_CLASSES.find((known) => known === said) ?? 'other');

/** Everything the outside tells us later, in one ordered feed. `key` is the idempotency key of what it answers. */
export const OutsideEvent = z.discriminatedUnion('kind', [
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('order.filled'), key: z.string(), e164: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('order.failed'),
    key: z.string(),
    e164: z.string(),
    reason: z.string(),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('account.opened'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('account.held'), key: z.string(), reason: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('filing.stage'),
    key: z.string(),
    what: z.enum(FILINGS),
    stage: z.enum(FILING_STAGES),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('brand.registered'),
    key: z.string(),
    results: z.array(FieldResult).default([]),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('brand.declined'),
    key: z.string(),
    reasons: z.array(Reason),
    results: z.array(FieldResult).default([]),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('brand.confirmation-asked'),
    key: z.string(),
    /** The YES has to come before this moment. */
    until: z.number(),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('brand.confirmation-lapsed'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('vetting.scored'), key: z.string(), score: z.number() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('vetting.failed'), key: z.string(), reason: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('campaign.registered'), key: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('campaign.suspended'),
    key: z.string(),
    reasons: z.array(Reason),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('campaign.reinstated'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('campaign.renewed'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('toll-free.verified'), key: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('toll-free.declined'),
    key: z.string(),
    reasons: z.array(Reason),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('campaign.declined'),
    key: z.string(),
    reasons: z.array(Reason),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('assignment.confirmed'),
    key: z.string(),
    e164: z.string(),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('port.rejected'),
    key: z.string(),
    reasons: z.array(Reason),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('port.accepted'), key: z.string(), focAt: z.number() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('port.date-moved'), key: z.string(), focAt: z.number() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('port.date-refused'),
    key: z.string(),
    reason: z.string(),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('port.cutting-over'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('port.completed'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('port.returned'), key: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('port-out.asked'),
    key: z.string(),
    e164: z.string(),
    carrier: z.string(),
    deadline: z.number(),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('port-out.left'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('hosting.approved'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('country.admitted'), key: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('country.refused'),
    key: z.string(),
    reason: z.string(),
  }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('sender.registered'), key: z.string() }),
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('sender.refused'), key: z.string(), reason: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('hosting.refused'),
    key: z.string(),
    reasons: z.array(Reason),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('text.delivered'),
    key: z.string(),
    carrier: z.string(),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('text.failed'),
    key: z.string(),
    carrier: z.string(),
    failure: FailureClass,
    code: z.string(),
    reason: z.string(),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('mail.bounced'),
    key: z.string(),
    /** In the words of the mail server that would not take it. */
    reason: z.string(),
  }),
  // Somebody told their mail service that they do not want it.
  z.object({ seq: z.number(), at: z.number(), kind: z.literal('mail.complained'), key: z.string() }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('call.inbound'),
    key: z.string(),
    from: z.string(),
    to: z.string(),
    /** The key the caller pressed after the greeting; empty for none. */
    pressed: z.string(),
  }),
  z.object({
    seq: z.number(),
    at: z.number(),
    kind: z.literal('text.inbound'),
    key: z.string(),
    from: z.string(),
    to: z.string(),
    text: z.string(),
  }),
]);
export type OutsideEvent = z.infer<typeof OutsideEvent>;
type WithoutSeq<T> = T extends unknown ? Omit<T, 'seq'> : never;
/** An outside event before it has its place in the feed. */
export type NewOutsideEvent = WithoutSeq<OutsideEvent>;

/**
 * A stretch of the feed. Each event is read by itself ({@link readEvent}), so that one nobody understands does not keep
 * the others waiting; all that is asked of it here is its place.
 */
export const Feed = z.object({ events: z.array(z.looseObject({ seq: z.number().int() })), more: z.boolean() });
export type FeedEvent = z.infer<typeof Feed>['events'][number];

/** Takes an event of the feed for what it is, or says what cannot be understood. An unknown failure class is said. */
export function readEvent(raw: FeedEvent): { ok: true; event: OutsideEvent } | { ok: false; why: string } {
  const read = OutsideEvent.safeParse(raw);
  if (!read.success) return { ok: false, why: z.prettifyError(read.error) };
  const event = read.data;
  if (event.kind === 'text.failed' && event.failure === 'other' && raw['failure'] !== 'other')
    return { ok: true, event: { ...event, reason: `${event.reason} (class “${String(raw['failure'])}”)`.trim() } };
  return { ok: true, event };
}
