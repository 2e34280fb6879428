import { isZone, LEGAL_FORMS } from '@long-gate/core';
import * as z from 'zod';
import { Amount, BusinessPath, Done, endpoint, Moment, Nothing, ObjectPath, page, PageQuery } from '../endpoint.js';
import { KeptTableShape } from './tables.js';

export const RoleShape = z.enum(['administrator', 'coordinator', 'viewer']);
export const AccountStateShape = z.enum(['provisional', 'in review', 'open', 'restricted', 'suspended']);

const TaxStatus = z.enum(['', 'taxable', 'exempt']);
export const BusinessShape = z.object({
  id: z.string(),
  legalName: z.string(),
  nameLine: z.string(),
  form: z.enum(LEGAL_FORMS),
  street: z.string(),
  city: z.string(),
  state: z.string(),
  postalCode: z.string(),
  contactName: z.string(),
  contactEmail: z.string(),
  website: z.string(),
  timeZone: z.string(),
  accountState: AccountStateShape,
  textsOff: z.boolean(),
  balance: Amount,
  transactionalAnyHour: z.boolean(),
  /** Sales tax: taxable, or exempt with a certificate; empty until told. */
  taxStatus: TaxStatus,
  accountNote: z.string(),
  role: RoleShape,
  /** The business wants a second factor of its administrators, and this person has none: set it up first. */
  factorMissing: z.boolean(),
  version: z.number(),
});
export type Business = z.infer<typeof BusinessShape>;

export const namedText = (what: string, max = 120) =>
  z.string().trim().min(1, `${what} is missing.`).max(max, `${what} is longer than ${max} characters.`);
export const emailAddress = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[^\s@]+@[^\s@]+\.[^\s@]+$/, 'Write an e-mail address like anna@ferries.example.')
  .max(200);
export const Password = z.string().min(10, 'A password has at least 10 characters.').max(200);

export const BusinessDraft = z.object({
  legalName: namedText('The legal name'),
  nameLine: namedText('The name line', 40).regex(
    /^[^:[\]|]+$/,
    'The name line may not contain a colon, bracket or bar.',
  ),
  form: z.enum(LEGAL_FORMS),
});

export const SessionShape = z.object({
  /** A pending mobile is confirmed by giving back the code that was sent to it. */
  user: z
    .object({
      id: z.string(),
      name: z.string(),
      email: z.string(),
      mobile: z.string(),
      mobilePending: z.string(),
      secondFactor: z.boolean(),
    })
    .nullable(),
  setupNeeded: z.boolean(),
  demo: z.boolean(),
  simulated: z.boolean(),
  outsideUrl: z.string(),
  csrf: z.string(),
  businesses: z.array(BusinessShape),
  /** How the person has the tables they changed, by name. */
  tables: z.record(z.string(), KeptTableShape),
  clock: z.object({ now: Moment, movable: z.boolean(), moving: z.boolean() }),
  demoSignIns: z.array(z.object({ role: z.string(), email: z.string(), password: z.string() })),
});
export type Session = z.infer<typeof SessionShape>;

export const getSession = endpoint({
  id: 'session.get',
  summary: 'Who is signed in, and what they may see',
  method: 'GET',
  path: '/session',
  access: 'public',
  answer: SessionShape,
});
export const signIn = endpoint({
  id: 'session.signIn',
  summary: 'Sign in',
  method: 'POST',
  path: '/session',
  access: 'public',
  body: z.object({
    email: z.string().max(200),
    password: z.string().max(200),
    /** Of the second factor, once it is asked for. */
    code: z.string().max(40).default(''),
  }),
  answer: SessionShape,
});
export const signOut = endpoint({
  id: 'session.signOut',
  summary: 'Sign out',
  method: 'DELETE',
  path: '/session',
  access: 'signed in',
  answer: Done,
});
export const setUp = endpoint({
  id: 'setup',
  summary: 'First visit: the first administrator and business',
  method: 'POST',
  path: '/setup',
  access: 'public',
  body: z.object({ name: namedText('Your name'), email: emailAddress, password: Password, business: BusinessDraft }),
  answer: SessionShape,
});
export const saveOwnMobile = endpoint({
  id: 'session.mobile',
  summary: 'The mobile that tests go to',
  method: 'PUT',
  path: '/session/mobile',
  access: 'signed in',
  costs: true,
  /** `businessId`: the business that pays for the code, as for any text. */
  body: z.object({ mobile: z.string().max(40), businessId: z.string().max(80) }),
  answer: SessionShape,
});

export const confirmOwnMobile = endpoint({
  id: 'session.mobile-code',
  summary: 'Give back the code that was sent to one’s own mobile',
  method: 'POST',
  path: '/session/mobile/code',
  access: 'signed in',
  body: z.object({ code: z.string().trim().min(1, 'Write the code.').max(20) }),
  answer: SessionShape,
});

export const addBusiness = endpoint({
  id: 'businesses.add',
  summary: 'Add a business',
  method: 'POST',
  path: '/businesses',
  access: 'administrator',
  body: BusinessDraft,
  answer: BusinessShape,
});
export const getBusiness = endpoint({
  id: 'businesses.get',
  summary: 'One business',
  method: 'GET',
  path: '/businesses/:businessId',
  access: 'viewer',
  params: BusinessPath,
  answer: BusinessShape,
});
export const BusinessEdit = z.object({
  legalName: namedText('The legal name'),
  nameLine: BusinessDraft.shape.nameLine,
  contactName: z.string().trim().max(120),
  contactEmail: z.union([z.literal(''), emailAddress]),
  website: z.string().trim().max(200),
  /** IANA; days are counted and times are shown in it. Where it is not said it stays. */
  timeZone: z.string().refine(isZone, { error: 'Choose a time zone.' }).optional(),
  street: z.string().trim().max(120),
  city: z.string().trim().max(80),
  state: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^([A-Z]{2})?$/, 'A state has two letters, such as NJ.'),
  postalCode: z
    .string()
    .trim()
    .regex(/^(\d{5}(-\d{4})?)?$/, 'A ZIP code has five digits.'),
  transactionalAnyHour: z.boolean(),
  taxStatus: TaxStatus.default(''),
});
export const editBusiness = endpoint({
  id: 'businesses.edit',
  summary: 'Edit a business',
  method: 'PUT',
  path: '/businesses/:businessId',
  access: 'administrator',
  versioned: true,
  params: BusinessPath,
  body: BusinessEdit,
  answer: BusinessShape,
});
export const openAccount = endpoint({
  id: 'businesses.openAccount',
  summary: 'Ask the provider to open the account',
  method: 'POST',
  path: '/businesses/:businessId/account',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ keepAddress: z.boolean().default(false) }),
  answer: BusinessShape,
});
export const AddressShape = z.object({
  street: z.string(),
  city: z.string(),
  state: z.string(),
  postalCode: z.string(),
});
export type Address = z.infer<typeof AddressShape>;
export const checkAddress = endpoint({
  id: 'businesses.address',
  summary: 'Whether the post knows the address, and how it spells it',
  method: 'POST',
  path: '/businesses/:businessId/address-check',
  access: 'administrator',
  params: BusinessPath,
  answer: z.object({ verdict: z.enum(['good', 'better', 'unknown']), better: AddressShape }),
});
export const switchTexts = endpoint({
  id: 'businesses.switchTexts',
  summary: 'Switch all texts of the business off or on',
  method: 'PUT',
  path: '/businesses/:businessId/texts',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ off: z.boolean() }),
  answer: BusinessShape,
});
export const topUp = endpoint({
  id: 'money.topUp',
  summary: 'Top up the prepaid balance',
  method: 'POST',
  path: '/businesses/:businessId/top-ups',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({
    amount: Amount.min(1_000_000, 'A top-up is at least 1.00.').max(100_000_000_000, 'A top-up is at most 100,000.00.'),
  }),
  answer: BusinessShape,
});
export const MoneyEntryShape = z.object({
  id: z.string(),
  at: Moment,
  amount: Amount,
  what: z.string(),
  objectKind: z.string(),
  objectId: z.string(),
  balanceAfter: Amount,
});
export type MoneyEntry = z.infer<typeof MoneyEntryShape>;
export const OutlookShape = z.object({
  balance: Amount,
  perDay: Amount,
  /** Whole days until the balance is used up at the current pace; null where nothing is spent. */
  daysLeft: z.number().int().nullable(),
  nextMonth: z.array(z.object({ kind: z.string(), count: z.number().int(), amount: Amount })),
  total: Amount,
  autoBelow: Amount,
  autoAmount: Amount,
});
export type Outlook = z.infer<typeof OutlookShape>;
export const moneyOutlookOf = endpoint({
  id: 'money.outlook',
  summary: 'Days left at the current pace, next month by kind, automatic top-up',
  method: 'GET',
  path: '/businesses/:businessId/money/outlook',
  access: 'viewer',
  params: BusinessPath,
  answer: OutlookShape,
});
export const setAutoTopUp = endpoint({
  id: 'money.auto',
  summary: 'Top up by itself below a limit; 0 for never',
  method: 'PUT',
  path: '/businesses/:businessId/money/auto',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({
    below: Amount.min(0).max(10_000_000_000),
    amount: Amount.min(0).max(10_000_000_000, 'At most 10,000.00 at a time.'),
  }),
  answer: OutlookShape,
});
const Month = z.object({ month: z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, 'Name the month as 2027-03.') });
export const moneyStatementCsv = endpoint({
  id: 'money.statement-csv',
  summary: 'Statement of one month as CSV',
  method: 'GET',
  path: '/businesses/:businessId/money/statement.csv',
  access: 'viewer',
  params: BusinessPath,
  query: Month,
  answer: z.string(),
});
export const moneyStatementPdf = endpoint({
  id: 'money.statement-pdf',
  summary: 'Statement of one month as PDF',
  method: 'GET',
  path: '/businesses/:businessId/money/statement.pdf',
  access: 'viewer',
  params: BusinessPath,
  query: Month,
  answer: z.string(),
});
export const listMoney = endpoint({
  id: 'money.list',
  summary: 'Charges and top-ups, newest first',
  method: 'GET',
  path: '/businesses/:businessId/money',
  access: 'viewer',
  params: BusinessPath,
  query: PageQuery,
  answer: page(MoneyEntryShape),
});

export const JobShape = z.object({
  id: z.string(),
  kind: z.string(),
  title: z.string(),
  state: z.enum(['waiting', 'running', 'paused', 'done', 'failed', 'cancelled']),
  done: z.number(),
  total: z.number(),
  result: z.string(),
  error: z.string(),
  createdAt: Moment,
  finishedAt: Moment.nullable(),
  /** What a person may do with it now. */
  wishes: z.array(z.enum(['pause', 'resume', 'cancel'])),
});
export type JobView = z.infer<typeof JobShape>;
export const listJobs = endpoint({
  id: 'jobs.list',
  summary: 'Jobs that people started, running and recent',
  method: 'GET',
  path: '/businesses/:businessId/jobs',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(JobShape) }),
});
export const controlJob = endpoint({
  id: 'jobs.control',
  summary: 'Pause, resume or cancel a job',
  method: 'POST',
  path: '/businesses/:businessId/jobs/:id',
  access: 'coordinator',
  params: ObjectPath,
  body: z.object({ wish: z.enum(['pause', 'resume', 'cancel']) }),
  answer: Done,
});

export const nextOnClock = endpoint({
  id: 'clock.next',
  summary: 'What the scenario clock comes to next, and when (simulated outside only)',
  method: 'GET',
  path: '/clock/next',
  access: 'signed in',
  answer: z.object({ next: z.object({ at: Moment, what: z.string() }).nullable() }),
});
export const moveClock = endpoint({
  id: 'clock.move',
  summary: 'Move the scenario clock forward (simulated outside only)',
  method: 'POST',
  path: '/clock',
  access: 'coordinator',
  body: z.object({ by: z.enum(['hour', 'day', 'next']) }),
  answer: z.object({ now: Moment, moving: z.boolean() }),
});
export const getRules = endpoint({
  id: 'rules.get',
  summary: 'The shipped rules with source and date checked',
  method: 'GET',
  path: '/rules',
  access: 'signed in',
  answer: z.object({
    hours: z.array(z.object({ state: z.string(), hours: z.string(), source: z.string(), checked: z.string() })),
    notice: z.string(),
  }),
});
export const listConnections = endpoint({
  id: 'connections.list',
  summary: 'Where each outside service answers',
  method: 'GET',
  path: '/connections',
  access: 'signed in',
  body: Nothing,
  answer: z.object({
    items: z.array(
      z.object({ service: z.string(), address: z.string(), simulated: z.boolean(), answering: z.boolean() }),
    ),
  }),
});
export const SetAsideShape = z.object({
  key: z.string(),
  lane: z.enum(['feed', 'outbox', 'job']),
  kind: z.string(),
  cause: z.string(),
  at: Moment,
});
export const listSetAside = endpoint({
  id: 'connections.setAside',
  summary: 'What could not be worked off, and was set aside so that nothing else waits for it',
  method: 'GET',
  path: '/businesses/:businessId/set-aside',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(SetAsideShape) }),
});
export const takeUpSetAside = endpoint({
  id: 'connections.takeUp',
  summary: 'Take up again what was set aside, or leave it be',
  method: 'POST',
  path: '/businesses/:businessId/set-aside/:id',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ wish: z.enum(['take up', 'leave']) }),
  answer: Done,
});
export const listenLive = endpoint({
  id: 'live',
  summary: 'What changes, as server-sent events',
  method: 'GET',
  path: '/live',
  access: 'signed in',
  answer: z.string(),
});
export const getOpenApi = endpoint({
  id: 'openapi',
  summary: 'This document',
  method: 'GET',
  path: '/openapi.json',
  access: 'public',
  answer: z.unknown(),
});
