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
  SEARCH_MOST,
} from '../endpoint.js';

export const TextableShape = z.enum(['yes', 'no', 'unknown']);
export const ContactNumberShape = z.object({
  id: z.number(),
  e164: z.string(),
  /** What the business calls it, as “work”. */
  label: z.string(),
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
  lastReplyAt: Moment.nullable(),
  consent: z.object({ conversational: z.string(), informational: z.string(), promotional: z.string() }),
  /** Purposes the same person refused on another of their numbers: texts here are barred too. */
  refusedElsewhere: z.array(z.enum(['informational', 'promotional'])),
});
export type ContactNumber = z.infer<typeof ContactNumberShape>;
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
  /** The preferred one: texts go to it. */
  number: ContactNumberShape,
  /** How many numbers there are beside it. */
  further: z.number().int(),
  lists: z.array(z.string()),
  /** For each kind of text that is sent out. */
  verdicts: z.object({ informational: VerdictShape, promotional: VerdictShape }),
  version: z.number(),
});
export type ContactRow = z.infer<typeof ContactRowShape>;

/** A contact number as its contact's page shows it. */
const OwnNumberShape = ContactNumberShape.extend({
  preferred: z.boolean(),
  verdicts: z.object({ informational: VerdictShape, promotional: VerdictShape }),
  /** What ever kept texts from it, the latest first. */
  troubles: z.array(
    z.object({
      cause: z.string(),
      source: z.string(),
      carrier: z.string(),
      detail: z.string(),
      firstAt: Moment,
      lastAt: Moment,
      times: z.number(),
    }),
  ),
});
export const ContactDetailShape = ContactRowShape.extend({
  language: z.string(),
  street: z.string(),
  city: z.string(),
  postalCode: z.string(),
  /** What stands in the business's own fields, by the field's id. */
  own: z.record(z.string(), z.string()),
  createdAt: Moment,
  /** The preferred first. */
  numbers: z.array(OwnNumberShape),
  /** The last merge into it that can still be taken back. */
  merged: z.object({ id: z.string(), name: z.string(), at: Moment, by: z.string() }).nullable(),
  /** Others with the same e-mail. */
  alike: z.array(z.object({ id: z.string(), name: z.string(), e164: z.string() })),
});
export type ContactDetail = z.infer<typeof ContactDetailShape>;

/** What a list of contacts is sorted by; with a minus before it the other way round. */
const SORTS = ['contact', 'number', 'line', 'informational', 'promotional'] as const;
const ContactSort = z.enum([...SORTS, ...SORTS.map((s) => `-${s}` as const)]);
export type ContactSort = z.infer<typeof ContactSort>;

/** Several values of one facet, joined by commas. */
const Values = z.string().max(200).optional();
/** Several lists or tags by their ids, joined by commas: whoever is on any of them. */
const Memberships = z.string().max(800).optional();
export const ContactFilter = z.object({
  /** Part of a name, of any number, of the e-mail or of what stands in an own field. */
  q: z.string().max(SEARCH_MOST).optional(),
  textable: Values,
  line: Values,
  country: Values,
  trouble: Values,
  /** When they last wrote or called: `week`, `month`, `earlier`, `never`. */
  replied: Values,
  faults: z.enum(['yes']).optional(),
  /** `no`: those whose name is not known. */
  named: z.enum(['no']).optional(),
  list: Memberships,
  tag: Memberships,
  conversational: Values,
  informational: Values,
  promotional: Values,
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
const Counts = z.record(z.string(), z.number());
export const contactFacets = endpoint({
  id: 'contacts.facets',
  summary: 'How many contacts in each facet',
  method: 'GET',
  path: '/businesses/:businessId/contact-facets',
  access: 'viewer',
  params: BusinessPath,
  query: ContactFilter,
  answer: z.object({
    textable: Counts,
    line: Counts,
    conversational: Counts,
    informational: Counts,
    promotional: Counts,
    country: Counts,
    trouble: Counts,
    replied: Counts,
    /** By their ids; those without anybody are not named. */
    list: Counts,
    tag: Counts,
    total: z.number(),
  }),
});
export const getContact = endpoint({
  id: 'contacts.get',
  summary: 'One contact with all its numbers',
  method: 'GET',
  path: '/businesses/:businessId/contacts/:id',
  access: 'viewer',
  params: ObjectPath,
  answer: ContactDetailShape,
});
export const editContact = endpoint({
  id: 'contacts.edit',
  summary: 'Name, e-mail, address, language and own fields of a contact',
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
    language: z
      .string()
      .trim()
      .regex(/^([a-z]{2,3}(-[A-Za-z0-9]{2,8})*)?$/, 'A language is a tag such as en or es.')
      .optional(),
    street: z.string().trim().max(120).optional(),
    city: z.string().trim().max(80).optional(),
    postalCode: z.string().trim().max(16).optional(),
    /** A field left out stays as it is; an empty value clears it. */
    own: z.record(z.string(), z.string().trim().max(300)).optional(),
  }),
  answer: ContactDetailShape,
});
export const addContactNumber = endpoint({
  id: 'contacts.addNumber',
  summary: 'Give a contact a further number',
  method: 'POST',
  path: '/businesses/:businessId/contacts/:id/numbers',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ number: z.string().trim().min(1, 'Write the number.').max(60), label: z.string().trim().max(40) }),
  answer: ContactDetailShape,
});
const OfNumber = z.object({ e164: z.string().max(20) });
export const preferContactNumber = endpoint({
  id: 'contacts.preferNumber',
  summary: 'Have texts go to another number of a contact',
  method: 'POST',
  path: '/businesses/:businessId/contacts/:id/numbers/prefer',
  access: 'coordinator',
  params: ObjectPath,
  body: OfNumber,
  answer: ContactDetailShape,
});
export const dropContactNumber = endpoint({
  id: 'contacts.dropNumber',
  summary: 'Take a number off a contact that has another; the ledger keeps what was said by it',
  method: 'POST',
  path: '/businesses/:businessId/contacts/:id/numbers/drop',
  access: 'coordinator',
  params: ObjectPath,
  body: OfNumber,
  answer: ContactDetailShape,
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
