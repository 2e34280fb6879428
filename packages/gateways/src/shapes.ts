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

/** What the reassigned numbers database says of a number and a day. */
export const ReassignedReply = z.object({
  e164: z.string(),
  /** The day asked about, `YYYY-MM-DD`. */
  day: z.string(),
  answer: z.enum(['yes', 'no', 'no data']),
  askedAt: z.number(),
});
export type ReassignedReply = z.infer<typeof ReassignedReply>;

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
  /** Numbers that were given up for good, with the day, `YYYY-MM-DD`. */
  givenUp: z.array(z.object({ e164: z.string(), day: z.string() })).default([]),
  /** What vetting has found of businesses, by legal name. */
  scores: z.array(z.object({ brand: z.string(), score: z.number().int() })).default([]),
  /** Wishes to take numbers away that will come in at their moment. */
  portOuts: z.array(z.object({ key: z.string(), e164: z.string(), carrier: z.string(), at: z.number() })).default([]),
});
export type SimulatedPast = z.infer<typeof SimulatedPast>;
