import * as z from 'zod';
import { Amount, BusinessPath, endpoint, FindingShape, Moment, ObjectPath } from '../endpoint.js';

export const CountryShape = z.object({
  code: z.string(),
  name: z.string(),
  state: z.enum(['closed', 'open', 'registration needed', 'in review', 'refused']),
  note: z.string(),
  changedAt: Moment.nullable(),
  kinds: z.array(z.string()),
  registration: z.boolean(),
  senderId: z.enum(['free', 'to register', 'not allowed']),
  twoWay: z.boolean(),
  hours: z.string(),
  optOut: z.string(),
  source: z.string(),
  checked: z.string(),
  /** Contact numbers that live there; held back at post 2 while the country is not open. */
  contacts: z.number().int(),
});
export type CountryView = z.infer<typeof CountryShape>;
const CountryPath = z.object({ businessId: z.string(), code: z.string().length(2) });
const OneCountry = { access: 'administrator', params: CountryPath, answer: CountryShape } as const;

export const listCountries = endpoint({
  id: 'countries.list',
  summary: 'Countries, their rules, and whether they are open',
  method: 'GET',
  path: '/businesses/:businessId/countries',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(CountryShape) }),
});
export const openCountry = endpoint({
  id: 'countries.open',
  summary: 'Open a country, or ask to be admitted where it wants that',
  method: 'POST',
  path: '/businesses/:businessId/countries/:code/opening',
  ...OneCountry,
  body: z.object({ read: z.literal(true, { error: 'Read the rules and tick that you have.' }) }),
});
export const closeCountry = endpoint({
  id: 'countries.close',
  summary: 'Close a country: nothing is sent there any more',
  method: 'POST',
  path: '/businesses/:businessId/countries/:code/closing',
  ...OneCountry,
});

export const SenderIdShape = z.object({
  id: z.string(),
  text: z.string(),
  label: z.string(),
  signature: z.string(),
  findings: z.array(FindingShape),
  countries: z.array(
    z.object({
      code: z.string(),
      name: z.string(),
      rule: z.enum(['free', 'to register', 'not allowed']),
      state: z.enum(['not asked', 'free', 'in review', 'registered', 'refused', 'not allowed']),
      open: z.boolean(),
      note: z.string(),
      /** What the country will refuse, before its fee. */
      findings: z.array(FindingShape),
      cost: Amount,
    }),
  ),
  version: z.number(),
});
export type SenderIdView = z.infer<typeof SenderIdShape>;
const SenderText = z.string().min(1, 'Write a sender ID.').max(11, 'At most 11 characters.');
const Signature = z.string().trim().max(120, 'At most 120 characters.');

export const listSenderIds = endpoint({
  id: 'sender-ids.list',
  summary: 'Alphanumeric sender IDs',
  method: 'GET',
  path: '/businesses/:businessId/sender-ids',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(SenderIdShape) }),
});
export const addSenderId = endpoint({
  id: 'sender-ids.add',
  summary: 'Make a sender ID',
  method: 'POST',
  path: '/businesses/:businessId/sender-ids',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ text: SenderText, signature: Signature }),
  answer: SenderIdShape,
});
export const saveSenderId = endpoint({
  id: 'sender-ids.save',
  summary: 'Edit label and signature',
  method: 'PUT',
  path: '/businesses/:businessId/sender-ids/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: z.object({ label: z.string().trim().max(60), signature: Signature }),
  answer: SenderIdShape,
});
export const useSenderIdIn = endpoint({
  id: 'sender-ids.use',
  summary: 'Use a sender ID in a country; registered there first where that is asked for',
  method: 'POST',
  path: '/businesses/:businessId/sender-ids/:id/countries/:code',
  access: 'administrator',
  costs: true,
  params: ObjectPath.extend({ code: z.string().length(2) }),
  answer: SenderIdShape,
});
export const dropSenderId = endpoint({
  id: 'sender-ids.drop',
  summary: 'Give a sender ID up',
  method: 'DELETE',
  path: '/businesses/:businessId/sender-ids/:id',
  access: 'administrator',
  params: ObjectPath,
  answer: z.object({ done: z.literal(true) }),
});
