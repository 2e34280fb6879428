import * as z from 'zod';
import { Amount, AnswerShape, BusinessPath, Done, endpoint, Moment, ObjectPath, PurposeShape } from '../endpoint.js';
import { InventoryQuery } from './inventory-filters.js';
import { ProgrammeShape } from './short-code.js';

export const NumberShape = z.object({
  id: z.string(),
  e164: z.string(),
  label: z.string(),
  description: z.string(),
  kind: z.string(),
  capabilities: z.array(z.string()),
  source: z.string(),
  state: z.enum(['ordered', 'active', 'failed', 'paused', 'released']),
  note: z.string(),
  monthly: Amount,
  /** The order it came with; empty where it came otherwise. */
  orderId: z.string(),
  throughput: z.string(),
  lastUsedAt: Moment.nullable(),
  /** Until when a release can be taken back. */
  releaseFinalAt: Moment.nullable(),
  /** How it ended for good; empty for one that did not. */
  ended: z.enum(['', 'released', 'ported away', 'unpaid', 'gone back', 'texting off', 'given up']),
  endedAt: Moment.nullable(),
  /** When a number whose fee is unpaid is lost; null for one whose fee is paid. */
  lostAt: Moment.nullable(),
  /** The person whose order it came with; null where nobody ordered it. */
  orderedBy: z.object({ id: z.string(), name: z.string() }).nullable(),
  /** What its public card calls it; empty for the name line alone. */
  cardName: z.string(),
  /** Whether a picture of one's own stands on its card. */
  cardPicture: z.boolean(),
  /** What a short code was leased for. */
  programme: ProgrammeShape.nullable(),
  /** Purposes it is the default for. */
  defaultFor: z.array(PurposeShape),
  campaignId: z.string().nullable(),
  campaignName: z.string().nullable(),
  campaignState: z.string().nullable(),
  tieState: z.enum(['none', 'attaching', 'attached']),
  clearance: z.string(),
  orderedAt: Moment,
  activeAt: Moment.nullable(),
  version: z.number(),
  /** The gate's answer about the number by itself. */
  answers: z.array(AnswerShape),
  deciding: z.object({ result: z.string(), why: z.string(), lift: z.string() }).nullable(),
  nextStep: z.object({
    title: z.string(),
    why: z.string(),
    action: z.enum([
      'tie',
      'verify',
      'wait',
      'register',
      'account',
      'acquire',
      'sender',
      'take back',
      'bring',
      'buy',
      'host',
      'calls',
      'none',
    ]),
  }),
});
export type NumberView = z.infer<typeof NumberShape>;

export const listNumbers = endpoint({
  id: 'numbers.list',
  summary: 'All numbers of the business',
  method: 'GET',
  path: '/businesses/:businessId/numbers',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(NumberShape) }),
});
export const getNumber = endpoint({
  id: 'numbers.get',
  summary: 'One number',
  method: 'GET',
  path: '/businesses/:businessId/numbers/:id',
  access: 'viewer',
  params: ObjectPath,
  answer: NumberShape,
});

export const OfferShape = z.object({
  e164: z.string(),
  kind: z.enum(['local', 'toll-free', 'short code']),
  setup: Amount,
  monthly: Amount,
  capabilities: z.array(z.string()),
});
export type OfferView = z.infer<typeof OfferShape>;

export const searchNumbers = endpoint({
  id: 'numbers.search',
  summary: 'Free numbers at the exchange',
  method: 'GET',
  path: '/businesses/:businessId/exchange',
  access: 'viewer',
  params: BusinessPath,
  query: z
    .object({
      country: z.enum(['US', 'CA']).default('US'),
      kind: z.enum(['local', 'toll-free', 'short code']).default('local'),
      /** Area code, town, state or its name; empty for anywhere. */
      where: z.string().trim().max(40).default(''),
      /** Digits, letters on the keys, `?` for any digit. */
      digits: z.string().trim().max(14).default(''),
      /** Capabilities, comma-joined. */
      can: z.string().trim().max(60).default(''),
      count: z.coerce.number().int().min(1).max(50).default(20),
    })
    .refine((q) => q.kind !== 'local' || q.where !== '' || q.digits !== '', {
      path: ['where'],
      message: 'Name an area code such as 551, a town, a state, or digits.',
    })
    .refine((q) => !/^\d+$/.test(q.where) || /^[2-9]\d{2}$/.test(q.where), {
      path: ['where'],
      message: 'An area code has three digits and begins with 2 to 9.',
    }),
  answer: z.object({
    place: z.string(),
    /** Why nothing could be looked for; empty where it was. */
    problem: z.string(),
    offers: z.array(OfferShape),
    /** How many there are in stock, shown or not. */
    total: z.number(),
    /** How far away the neighbours are, in the unit of the business’s country. */
    unit: z.enum(['miles', 'kilometres']),
    /** Area codes near it that have what is asked for. */
    neighbours: z.array(z.object({ code: z.string(), state: z.string(), distance: z.number(), count: z.number() })),
  }),
});

export const BasketShape = z.object({
  items: z.array(
    OfferShape.extend({
      /** Kept aside until then; afterwards it is kept aside anew when it is ordered, if nobody was faster. */
      heldUntil: Moment,
      /** What a short code is to be leased for. */
      programme: ProgrammeShape.nullable(),
      /** The line its calls will be put through to; empty for none. */
      forwardTo: z.string(),
      /** The colleague who chose it; empty where it was the person asking. */
      putBy: z.string(),
    }),
  ),
  costNow: Amount,
  costMonthly: Amount,
  balance: Amount,
  /** What is missing on the balance. */
  missing: Amount,
  /** What the registration still takes, in words. */
  takes: z.string(),
  /** Why some of these could never send; empty where all could. */
  blocked: z.string(),
  /** What still has to happen before these numbers may send, in order. */
  steps: z.array(z.object({ title: z.string(), done: z.boolean(), link: z.string() })),
  accountState: z.string(),
  mobileConfirmed: z.boolean(),
});
export type Basket = z.infer<typeof BasketShape>;

export const getBasket = endpoint({
  id: 'basket.get',
  summary: 'Numbers kept aside, and what an order of them would cost and still need',
  method: 'GET',
  path: '/businesses/:businessId/basket',
  access: 'viewer',
  params: BusinessPath,
  answer: BasketShape,
});
export const putAside = endpoint({
  id: 'basket.put',
  summary: 'Keep a number aside for ten minutes',
  method: 'POST',
  path: '/businesses/:businessId/basket',
  access: 'administrator',
  params: BusinessPath,
  body: OfferShape.pick({ kind: true }).extend({
    e164: z.string().regex(/^(\+\d{8,15}|\d{5,6})$/, 'Write the number as the exchange does, such as +12125550110.'),
    /** The line its calls will be put through to; empty for none. */
    forwardTo: z.string().trim().max(20).default(''),
  }),
  answer: BasketShape,
});
export const takeOut = endpoint({
  id: 'basket.take-out',
  summary: 'Give a number that was kept aside back',
  method: 'DELETE',
  path: '/businesses/:businessId/basket/:e164',
  access: 'administrator',
  params: BusinessPath.extend({ e164: z.string() }),
  answer: BasketShape,
});
export const setProgramme = endpoint({
  id: 'basket.programme',
  summary: 'What a short code that is kept aside is to be leased for',
  method: 'PUT',
  path: '/businesses/:businessId/basket/:e164/programme',
  access: 'administrator',
  params: BusinessPath.extend({ e164: z.string() }),
  body: ProgrammeShape,
  answer: BasketShape,
});
export const placeOrder = endpoint({
  id: 'orders.place',
  summary: 'Order everything that is kept aside',
  method: 'POST',
  path: '/businesses/:businessId/orders',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ terms: z.literal(true, { error: 'Read and accept the terms first.' }) }),
  answer: z.object({ orderId: z.string(), numbers: z.array(NumberShape) }),
});
export const editNumber = endpoint({
  id: 'numbers.edit',
  summary: 'Label and description for colleagues, and the name on the public card',
  method: 'PUT',
  path: '/businesses/:businessId/numbers/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: z.object({
    label: z.string().trim().max(60),
    description: z.string().trim().max(300),
    /** What people are to know it by; where it is not said it stays. */
    cardName: z.string().trim().max(60).optional(),
  }),
  answer: NumberShape,
});
export const tieNumber = endpoint({
  id: 'numbers.tie',
  summary: 'Tie a number to a campaign, or take it out (null)',
  method: 'PUT',
  path: '/businesses/:businessId/numbers/:id/campaign',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ campaignId: z.string().nullable() }),
  answer: NumberShape,
});

const BulkShape = z.object({
  ids: z.array(z.string()).min(1, 'Choose numbers first.').max(500),
  label: z.string().trim().max(60).optional(),
  campaignId: z.string().optional(),
});
export type BulkNumbers = z.infer<typeof BulkShape>;
const BulkUndoShape = z.object({
  before: z
    .array(
      z.object({
        id: z.string(),
        /** The label it had. */
        label: z.string().trim().max(60).optional(),
        /** The campaign it was put into, having been in none. */
        outOf: z.string().optional(),
      }),
    )
    .max(500),
});
export type BulkUndo = z.infer<typeof BulkUndoShape>;
const Skipped = z.object({ e164: z.string(), why: z.string() });

export const bulkNumbers = endpoint({
  id: 'numbers.bulk',
  summary: 'One label, or one campaign, for several numbers',
  method: 'POST',
  path: '/businesses/:businessId/numbers/bulk',
  access: 'administrator',
  params: BusinessPath,
  body: BulkShape,
  answer: z.object({
    changed: z.number(),
    refused: z.array(Skipped),
    /** What takes it back; empty where that is not possible. */
    undo: BulkUndoShape.shape.before,
  }),
});
export const previewBulkNumbers = endpoint({
  id: 'numbers.bulk-preview',
  summary: 'What a change of several numbers would change, skip and interrupt',
  method: 'POST',
  path: '/businesses/:businessId/numbers/bulk/preview',
  access: 'viewer',
  params: BusinessPath,
  body: BulkShape,
  answer: z.object({
    change: z.number(),
    skipped: z.array(Skipped),
    /** Numbers that change campaign: out of service for up to 72 hours. */
    interrupted: z.array(z.string()),
    undoable: z.boolean(),
  }),
});
export type BulkPreview = z.infer<typeof previewBulkNumbers.answer>;
export const undoBulkNumbers = endpoint({
  id: 'numbers.bulk-undo',
  summary: 'Take a change of several numbers back',
  method: 'POST',
  path: '/businesses/:businessId/numbers/bulk/undo',
  access: 'administrator',
  params: BusinessPath,
  body: BulkUndoShape,
  answer: z.object({ changed: z.number() }),
});
export const exportNumbers = endpoint({
  id: 'numbers.export',
  summary: 'The inventory as CSV, as the filters leave it',
  method: 'GET',
  path: '/businesses/:businessId/numbers.csv',
  access: 'viewer',
  params: BusinessPath,
  query: InventoryQuery,
  answer: z.string(),
});
export const releaseNumber = endpoint({
  id: 'numbers.release',
  summary: 'Release a number; it can be taken back for 7 days',
  method: 'POST',
  path: '/businesses/:businessId/numbers/:id/release',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({
    /** The last four digits, written by whoever gives it up. */
    digits: z.string().trim().max(8),
  }),
  answer: NumberShape,
});
export const takeBackNumber = endpoint({
  id: 'numbers.take-back',
  summary: 'Take a release back',
  method: 'POST',
  path: '/businesses/:businessId/numbers/:id/take-back',
  access: 'administrator',
  params: ObjectPath,
  answer: NumberShape,
});
export const whatReleaseLoses = endpoint({
  id: 'numbers.release-preview',
  summary: 'What is lost with a number',
  method: 'GET',
  path: '/businesses/:businessId/numbers/:id/release',
  access: 'viewer',
  params: ObjectPath,
  answer: z.object({
    dispatches: z.array(z.string()),
    pages: z.array(z.string()),
    keywords: z.array(z.string()),
    contacts: z.number(),
  }),
});
export const setDefaultNumber = endpoint({
  id: 'numbers.default',
  summary: 'The default number of the business for a purpose',
  method: 'PUT',
  path: '/businesses/:businessId/default-numbers/:purpose',
  access: 'administrator',
  params: BusinessPath.extend({ purpose: PurposeShape }),
  body: z.object({ numberId: z.string().nullable() }),
  answer: Done,
});
export const numberCard = endpoint({
  id: 'public.card',
  summary: 'The contact card of a number (vCard 4.0), for people to keep',
  method: 'GET',
  path: '/public/cards/:id',
  access: 'public',
  params: z.object({ id: z.string().max(60) }),
  answer: z.string(),
});
export const cardPicture = endpoint({
  id: 'public.card-picture',
  summary: 'The picture on a contact card (PNG or JPEG)',
  method: 'GET',
  path: '/public/cards/:id/picture',
  access: 'public',
  params: z.object({ id: z.string().max(60) }),
  answer: z.string(),
});
export const setCardPicture = endpoint({
  id: 'numbers.card-picture',
  summary: 'Put a picture of one’s own on the contact card (PNG or JPEG up to 200 kB), or take it off (null)',
  method: 'PUT',
  path: '/businesses/:businessId/numbers/:id/card-picture',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({
    file: z
      .object({ name: z.string().trim().min(1).max(200), base64: z.string().min(1, 'The file is empty.') })
      .nullable(),
  }),
  answer: NumberShape,
});
