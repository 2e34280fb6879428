import * as z from 'zod';
import {
  Amount,
  AnswerShape,
  BusinessPath,
  Done,
  endpoint,
  Moment,
  ObjectPath,
  page,
  PageQuery,
  ResultShape,
} from '../endpoint.js';

export const TextableShape = z.enum(['yes', 'no', 'unknown']);
export const ContactNumberShape = z.object({
  id: z.number(),
  e164: z.string(),
  country: z.string(),
  zones: z.string(),
  states: z.string(),
  lineType: z.string(),
  carrier: z.string(),
  reachable: z.boolean(),
  lookedUpAt: Moment.nullable(),
  textable: TextableShape,
  trouble: z.string(),
  faultsInReview: z.boolean(),
  consent: z.object({ conversational: z.string(), informational: z.string(), promotional: z.string() }),
});
/** How the gate would answer a text to a contact now, by what concerns the contact. */
const VerdictShape = z.object({
  result: ResultShape,
  answers: z.array(AnswerShape),
  why: z.string(),
  lift: z.string(),
});
export const ContactRowShape = z.object({
  id: z.string(),
  firstName: z.string(),
  lastName: z.string(),
  email: z.string(),
  stateCode: z.string(),
  number: ContactNumberShape,
  lists: z.array(z.string()),
  /** For each kind of text that is sent out. */
  verdicts: z.object({ informational: VerdictShape, promotional: VerdictShape }),
  version: z.number(),
});
export type ContactRow = z.infer<typeof ContactRowShape>;

/** What a list of contacts is sorted by; with a minus before it the other way round. */
const SORTS = ['contact', 'number', 'line', 'informational', 'promotional'] as const;
const ContactSort = z.enum([...SORTS, ...SORTS.map((s) => `-${s}` as const)]);
export type ContactSort = z.infer<typeof ContactSort>;

export const ContactFilter = z.object({
  q: z.string().max(80).optional(),
  textable: z.string().max(60).optional(),
  faults: z.enum(['yes']).optional(),
  list: z.string().max(80).optional(),
  informational: z.string().max(80).optional(),
  promotional: z.string().max(80).optional(),
  sort: ContactSort.optional(),
});
export const listContacts = endpoint({
  id: 'contacts.list',
  summary: 'Contacts, filtered and sorted',
  method: 'GET',
  path: '/businesses/:businessId/contacts',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery.extend(ContactFilter.shape),
  /** `total` is null where counting would keep the page waiting: the facets say it then. */
  answer: page(ContactRowShape).extend({ total: z.number().int().nullable() }),
});
export const exportContacts = endpoint({
  id: 'contacts.export',
  summary: 'Contacts as CSV',
  method: 'GET',
  path: '/businesses/:businessId/contacts.csv',
  access: 'viewer',
  params: BusinessPath,
  query: ContactFilter,
  answer: z.string(),
});
export const contactFacets = endpoint({
  id: 'contacts.facets',
  summary: 'How many contacts in each facet',
  method: 'GET',
  path: '/businesses/:businessId/contact-facets',
  access: 'viewer',
  params: BusinessPath,
  query: ContactFilter,
  answer: z.object({
    textable: z.record(z.string(), z.number()),
    promotional: z.record(z.string(), z.number()),
    informational: z.record(z.string(), z.number()),
    total: z.number(),
  }),
});
export const getContact = endpoint({
  id: 'contacts.get',
  summary: 'One contact',
  method: 'GET',
  path: '/businesses/:businessId/contacts/:id',
  access: 'viewer',
  params: ObjectPath,
  answer: ContactRowShape,
});
export const editContact = endpoint({
  id: 'contacts.edit',
  summary: 'Name, e-mail and state of a contact',
  method: 'PUT',
  path: '/businesses/:businessId/contacts/:id',
  access: 'coordinator',
  versioned: true,
  params: ObjectPath,
  body: z.object({
    firstName: z.string().trim().max(80),
    lastName: z.string().trim().max(80),
    email: z.string().trim().max(200),
    stateCode: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^([A-Z]{2})?$/, 'A state has two letters, such as NJ.'),
  }),
  answer: ContactRowShape,
});

export const ListShape = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['list', 'tag']),
  count: z.number(),
});
export type ContactList = z.infer<typeof ListShape>;
export const listLists = endpoint({
  id: 'lists.list',
  summary: 'Lists and tags',
  method: 'GET',
  path: '/businesses/:businessId/lists',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(ListShape) }),
});
export const addList = endpoint({
  id: 'lists.add',
  summary: 'Make a list or tag',
  method: 'POST',
  path: '/businesses/:businessId/lists',
  access: 'coordinator',
  params: BusinessPath,
  body: z.object({ name: z.string().trim().min(1, 'Give it a name.').max(60), kind: z.enum(['list', 'tag']) }),
  answer: ListShape,
});
export const changeMembers = endpoint({
  id: 'lists.members',
  summary: 'Put contacts on a list or take them off',
  method: 'POST',
  path: '/businesses/:businessId/lists/:id/members',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ add: z.array(z.string()).max(5000).default([]), remove: z.array(z.string()).max(5000).default([]) }),
  /** Who of them were not on it before, and who were: taking it back is the opposite for these. */
  answer: ListShape.extend({ added: z.array(z.string()), removed: z.array(z.string()) }),
});
const ListChange = z.object({
  change: z.enum(['put on', 'take off']),
  filter: ContactFilter.omit({ sort: true }),
  /** How many contacts matched when this was asked for; refused where it is another number now. */
  seen: z.number().int().min(1),
});
export type ListChange = z.infer<typeof ListChange>;
export const changeMatching = endpoint({
  id: 'lists.matching',
  summary: 'Put all contacts a filter leaves on a list, or take them off, as a job',
  method: 'POST',
  path: '/businesses/:businessId/lists/:id/matching',
  access: 'coordinator',
  costs: true,
  params: ObjectPath,
  body: ListChange,
  answer: z.object({ jobId: z.string(), contacts: z.number().int() }),
});

export const IntakeOutcome = z.enum(['ok', 'look', 'refused']);
/** One row as the worker read it; the server checks it again. */
export const IntakeRowShape = z.object({
  row: z.number().int().min(1),
  phone: z.string().max(200),
  firstName: z.string().max(200),
  lastName: z.string().max(200),
  email: z.string().max(200),
  stateCode: z.string().max(40),
  keep: z.boolean(),
});
export type IntakeRow = z.infer<typeof IntakeRowShape>;
export const IntakeResultShape = z.object({
  stored: z.number(),
  known: z.number(),
  repeats: z.number(),
  refused: z.number(),
  dropped: z.number(),
});
export const IntakeShape = z.object({
  id: z.string(),
  fileName: z.string(),
  state: z.enum(['reading', 'storing', 'stored', 'cancelled']),
  total: z.number(),
  received: z.number(),
  listId: z.string().nullable(),
  /** SHA-256 of the file it was read from; empty where that is not known. */
  digest: z.string(),
  result: IntakeResultShape.nullable(),
  createdAt: Moment,
  createdBy: z.string(),
});
export type IntakeView = z.infer<typeof IntakeShape>;
export const beginIntake = endpoint({
  id: 'intakes.begin',
  summary: 'Begin an intake of so many rows',
  method: 'POST',
  path: '/businesses/:businessId/intakes',
  access: 'coordinator',
  params: BusinessPath,
  body: z.object({
    fileName: z.string().max(200),
    total: z.number().int().min(1, 'There are no rows.').max(2_000_000),
    listName: z.string().trim().max(60),
    consentClaim: z.string().trim().max(300),
    /** SHA-256 of the file, by which it is known again where handing it in was cut off. */
    digest: z
      .string()
      .regex(/^(?:[0-9a-f]{64})?$/, 'A SHA-256 digest has 64 hexadecimal digits.')
      .default(''),
  }),
  stricter: {
    access: 'administrator',
    to: 'claim consent for the people of an intake',
    when: (b) => b.consentClaim !== '',
    example: { fileName: 'list.csv', total: 1, listName: 'New', consentClaim: 'They said so.' },
  },
  answer: IntakeShape,
});
export const sendIntakeRows = endpoint({
  id: 'intakes.rows',
  summary: 'Hand in rows; handing one in twice changes nothing',
  method: 'POST',
  path: '/businesses/:businessId/intakes/:id/rows',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ rows: z.array(IntakeRowShape).min(1).max(5000) }),
  answer: z.object({ received: z.number() }),
});
export const storeIntake = endpoint({
  id: 'intakes.store',
  summary: 'Store what was handed in, as a job',
  method: 'POST',
  path: '/businesses/:businessId/intakes/:id/store',
  access: 'coordinator',
  params: ObjectPath,
  answer: IntakeShape,
});
export const cancelIntake = endpoint({
  id: 'intakes.cancel',
  summary: 'Forget an intake that was not stored',
  method: 'DELETE',
  path: '/businesses/:businessId/intakes/:id',
  access: 'coordinator',
  params: ObjectPath,
  answer: Done,
});
export const listIntakes = endpoint({
  id: 'intakes.list',
  summary: 'Intakes, newest first',
  method: 'GET',
  path: '/businesses/:businessId/intakes',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(IntakeShape) }),
});

/** Whom something is done for: those on a list, those a filter leaves, those named, or all where nothing is said. */
export const WhomShape = z.object({
  listId: z.string().nullable().default(null),
  filter: ContactFilter.omit({ sort: true }).nullable().default(null),
  e164s: z.array(z.string().max(20)).min(1).max(5000).nullable().default(null),
});
export type Whom = z.output<typeof WhomShape>;
export const LookupScope = WhomShape.extend({
  /** Also about those whose answer is still good. */
  again: z.boolean().default(false),
}).refine((s) => [s.listId, s.filter, s.e164s].filter((x) => x !== null).length <= 1, {
  error: 'Name a list, a filter or numbers, and not several of them.',
  path: ['listId'],
});
export type LookupScope = z.output<typeof LookupScope>;
export const LookupEstimate = z.object({ numbers: z.number(), cost: Amount, seconds: z.number(), balance: Amount });
export const LookupStarted = z.object({ jobId: z.string(), numbers: z.number() });
export const estimateLookups = endpoint({
  id: 'lookups.estimate',
  summary: 'How many numbers need asking about, and what it costs',
  method: 'POST',
  path: '/businesses/:businessId/lookups/estimate',
  access: 'viewer',
  params: BusinessPath,
  body: LookupScope,
  answer: LookupEstimate,
});
export const startLookups = endpoint({
  id: 'lookups.start',
  summary: 'Ask about numbers, as a job',
  method: 'POST',
  path: '/businesses/:businessId/lookups',
  access: 'coordinator',
  costs: true,
  params: BusinessPath,
  body: LookupScope,
  answer: LookupStarted,
});

export const decideFaults = endpoint({
  id: 'contacts.decideFaults',
  summary: 'End the review of a number that was held after three faults',
  method: 'POST',
  path: '/businesses/:businessId/fault-reviews',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ e164: z.string().max(20), tryAgain: z.boolean() }),
  answer: Done,
});
