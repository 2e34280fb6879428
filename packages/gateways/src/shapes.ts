import { z } from 'zod';

/** Shapes of what we ask of the outside world and what it answers. Moments are milliseconds since the epoch. */
export const Offer = z.object({
  e164: z.string(),
  kind: z.enum(['local', 'toll-free', 'short code']),
  setup: z.number().int(),
  monthly: z.number().int(),
  capabilities: z.array(z.string()),
});
export type Offer = z.infer<typeof Offer>;

export const Stock = z.object({ total: z.number().int(), offers: z.array(Offer) });
export type Stock = z.infer<typeof Stock>;

/** What a short code is leased for. */
export const ProgrammeFiling = z.object({
  nameLine: z.string(),
  legalName: z.string(),
  name: z.string(),
  what: z.string(),
  agreement: z.string(),
  sample: z.string(),
  help: z.string(),
});
export type ProgrammeFiling = z.infer<typeof ProgrammeFiling>;

export const Reason = z.object({ field: z.string(), code: z.string(), message: z.string() });
export type Reason = z.infer<typeof Reason>;

export const LineAnswer = z.object({
  e164: z.string(),
  lineType: z.enum(['mobile', 'landline', 'voip', 'toll-free', 'none', 'unknown']),
  carrier: z.string(),
  /** How its network limits what is sent to it: A paces a campaign, B caps a brand's day, C paces a number. */
  carrierKind: z.enum(['A', 'B', 'C']).default('A'),
  reachable: z.boolean(),
  askedAt: z.number(),
});
export type LineAnswer = z.infer<typeof LineAnswer>;

export const BrandFiling = z.object({
  form: z.enum(['sole proprietor', 'private company', 'listed company', 'non-profit', 'public body']),
  legalName: z.string(),
  nameLine: z.string(),
  taxNumber: z.string(),
  street: z.string(),
  city: z.string(),
  state: z.string(),
  postalCode: z.string(),
  website: z.string(),
  email: z.string(),
  mobile: z.string(),
  exchange: z.string(),
  ticker: z.string(),
  /** Two letters. */
  country: z.string().default('US'),
});
export type BrandFiling = z.infer<typeof BrandFiling>;

/** What an identity check found of one field. */
export const FieldResult = z.object({
  field: z.string(),
  result: z.enum(['matches', 'differs', 'not checked']),
  note: z.string(),
});
export type FieldResult = z.infer<typeof FieldResult>;

/** What is filed, and how far it has come on its way to a decision. */
export const FILINGS = ['brand', 'campaign', 'toll-free'] as const;
/** As the registrar words them. */
export const FILING_STAGES = ['received', 'checked by machine', 'with a reviewer', 'with the networks'] as const;

/** What a toll-free number is verified for. */
export const TollFreeFiling = z.object({
  e164: z.string(),
  nameLine: z.string(),
  legalName: z.string(),
  website: z.string(),
  useCase: z.string(),
  /** Texts a month, at most. */
  volume: z.number().int(),
  description: z.string(),
  agreement: z.string(),
  samples: z.array(z.string()),
  /** Where the opt-in can be seen: an address, or the SHA-256 of a picture that was handed in; empty for none. */
  proof: z.string(),
});
export type TollFreeFiling = z.infer<typeof TollFreeFiling>;

export const CampaignFiling = z.object({
  brandKey: z.string(),
  nameLine: z.string(),
  legalName: z.string(),
  useCase: z.string(),
  description: z.string(),
  agreement: z.string(),
  samples: z.array(z.string()),
  subUses: z.array(z.string()),
  hasLinks: z.boolean(),
  hasPhones: z.boolean(),
  ageRestricted: z.boolean(),
  lending: z.boolean(),
  optInMessage: z.string(),
  optOutMessage: z.string(),
  helpMessage: z.string(),
  privacyUrl: z.string(),
  /** What stands on it, as whoever opens it reads it. */
  privacyWords: z.string().default(''),
  termsUrl: z.string(),
});
export type CampaignFiling = z.infer<typeof CampaignFiling>;

/**
 * A text on its way to a phone. The verdict that let it go is good only for what was known and for a short while, so it
 * says both; a network (or the adapter that speaks for one) that cannot keep them answers `not taken`.
 */
export const OutgoingText = z.object({
  key: z.string(),
  from: z.string(),
  to: z.string(),
  text: z.string(),
  segments: z.number().int(),
  /** Not taken where the feed holds a text or call from the recipient after this place, which we have not read. */
  readUpTo: z.number().int(),
  /** Not taken after this moment of scenario time, milliseconds: a request that was stuck on its way is no longer wanted. */
  takeBy: z.number(),
});
export type OutgoingText = z.infer<typeof OutgoingText>;

/** Whether a number can be ported to us, and what it is. */
export const Portability = z.object({
  e164: z.string(),
  kind: z.enum(['wireless', 'landline', 'toll-free']),
  losingCarrier: z.string(),
  portable: z.boolean(),
  whyNot: z.string(),
});
export type Portability = z.infer<typeof Portability>;

/** Whether there is such an address, and how the post spells it. */
export const AddressAnswer = z.object({
  verdict: z.enum(['good', 'better', 'unknown']),
  better: z.object({ street: z.string(), city: z.string(), state: z.string(), postalCode: z.string() }),
});
export type AddressAnswer = z.infer<typeof AddressAnswer>;

/** Whether texting can be added to a line that keeps its voice service. */
export const HostingTest = z.object({
  e164: z.string(),
  kind: z.enum(['wireless', 'landline', 'toll-free']),
  voiceCarrier: z.string(),
  /** Who texts for it already, empty where nobody. */
  enabledElsewhere: z.string(),
});
export type HostingTest = z.infer<typeof HostingTest>;

/** A hosted set-up as it is filed. */
export const HostingFiling = z.object({
  e164: z.string(),
  holderName: z.string(),
  authorisedName: z.string(),
  street: z.string(),
  city: z.string(),
  state: z.string(),
  postalCode: z.string(),
  letterSignedOn: z.string(),
});
export type HostingFiling = z.infer<typeof HostingFiling>;

/** The losing carrier's record of an account (CSR). */
export const RecordAnswer = z.object({
  accountNumber: z.string(),
  holderName: z.string(),
  tradingAs: z.string(),
  street: z.string(),
  unit: z.string(),
  city: z.string(),
  state: z.string(),
  postalCode: z.string(),
  billingNumber: z.string(),
  numbers: z.array(z.object({ e164: z.string(), active: z.boolean() })),
  /** Who may decide about the account; empty where the carrier does not say. */
  authorisedNames: z.array(z.string()).default([]),
  freeze: z.boolean(),
  pendingOrder: z.string(),
});
export type RecordAnswer = z.infer<typeof RecordAnswer>;

/** A port request as it goes to the port bureau. Days are `YYYY-MM-DD`. */
export const PortFiling = z.object({
  numbers: z.array(z.string()),
  accountNumber: z.string(),
  pin: z.string(),
  holderName: z.string(),
  authorisedName: z.string(),
  street: z.string(),
  unit: z.string(),
  city: z.string(),
  state: z.string(),
  postalCode: z.string(),
  billingNumber: z.string(),
  newBillingNumber: z.string(),
  responsibleOrganisation: z.string(),
  letterSignedOn: z.string(),
});
export type PortFiling = z.infer<typeof PortFiling>;

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
/** The outside's clock, when it has something to do next, and what that is, in words. */
export const ClockAnswer = z.object({
  now: z.number(),
  nextDue: z.number().nullable(),
  nextWhat: z.string().default(''),
});
export type ClockAnswer = z.infer<typeof ClockAnswer>;

/** A record as the simulated losing carrier keeps it: with the PIN, which it never hands out. */
export const KeptRecord = RecordAnswer.extend({
  carrier: z.string(),
  pin: z.string(),
  /** Whether the carrier hands the record out when asked. */
  answersRecords: z.boolean(),
});
export type KeptRecord = z.infer<typeof KeptRecord>;

/** A generated past, told to the simulated outside. */
export const SimulatedPast = z.object({
  sold: z.array(z.object({ e164: z.string(), key: z.string() })),
  assigned: z.array(z.object({ e164: z.string(), campaignKey: z.string() })),
  lines: z.array(z.object({ e164: z.string(), lineType: z.string(), carrier: z.string(), reachable: z.boolean() })),
  handset: z.array(
    z.object({
      phone: z.string(),
      peer: z.string(),
      direction: z.enum(['in', 'out']),
      text: z.string(),
      at: z.number(),
    }),
  ),
  records: z.array(KeptRecord).default([]),
  /** What vetting has found of businesses, by legal name. */
  scores: z.array(z.object({ brand: z.string(), score: z.number().int() })).default([]),
  /** Wishes to take numbers away that will come in at their moment. */
  portOuts: z.array(z.object({ key: z.string(), e164: z.string(), carrier: z.string(), at: z.number() })).default([]),
});
export type SimulatedPast = z.infer<typeof SimulatedPast>;
