import * as z from 'zod';
import { WhomShape } from '../contacts/contacts.js';
import { BusinessPath, endpoint, Moment, ObjectPath, page, PageQuery } from '../endpoint.js';
import { LetterSample, LetterShape } from './letters.js';

/** Days after which somebody may be invited again. */
export const INVITE_AGAIN_DAYS = { least: 7, usual: 90, most: 730 };

/** A letter that invites people to say by their own link which texts they want, kept to be sent again. */
const InvitationBody = LetterShape.extend({
  title: z.string().trim().min(3, 'Give the invitation a name.').max(80),
  /** The opt-in page whose words people agree to, and whose number asks for their YES. */
  pageId: z.string().min(1, 'Choose the page they agree on.').max(80),
  /** Nobody who was invited in so many days, by this letter or another, is invited again. */
  againDays: z
    .number('A whole number of days.')
    .int('A whole number of days.')
    .min(INVITE_AGAIN_DAYS.least, `${INVITE_AGAIN_DAYS.least} days at least.`)
    .max(INVITE_AGAIN_DAYS.most, `${INVITE_AGAIN_DAYS.most} days at most.`)
    .default(INVITE_AGAIN_DAYS.usual),
});
const Came = z.object({
  sent: z.number().int(),
  /** Came back, or was complained of. */
  /** Waited to leave, and must not any more. */
  heldBack: z.number().int(),
  failed: z.number().int(),
  opened: z.number().int(),
  /** Chose something, whatever it was. */
  answered: z.number().int(),
  /** Said YES on their handset. */
  joined: z.number().int(),
  left: z.number().int(),
});
export const OptInInvitationShape = InvitationBody.extend({
  id: z.string(),
  /** Who is invited by itself each day, where they are new; null where it is sent by hand alone. */
  standing: WhomShape.nullable(),
  came: Came,
  createdBy: z.string(),
  lastSentAt: Moment.nullable(),
  version: z.number(),
});
export type OptInInvitation = z.infer<typeof OptInInvitationShape>;
export const OptInInvitationEdit = InvitationBody.extend({ standing: WhomShape.nullable().default(null) });

/** Wanted of administrators alone: that people are invited by itself, day after day. */
const STANDING = {
  access: 'administrator' as const,
  to: 'have people invited by itself',
  when: (b: z.output<typeof OptInInvitationEdit>): boolean => b.standing !== null,
  example: {
    title: 'Spring',
    pageId: 'pag_1',
    subject: 'Texts?',
    text: 'Here: [link]',
    standing: { listId: null, filter: {}, e164s: null },
  },
};

export const listInvitations = endpoint({
  id: 'invitations.list',
  summary: 'Invitations by e-mail, and what came of each',
  method: 'GET',
  path: '/businesses/:businessId/opt-in-invitations',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(OptInInvitationShape) }),
});
export const addInvitation = endpoint({
  id: 'invitations.add',
  summary: 'Keep an invitation; nobody is written to by that',
  method: 'POST',
  path: '/businesses/:businessId/opt-in-invitations',
  access: 'coordinator',
  params: BusinessPath,
  body: OptInInvitationEdit,
  stricter: STANDING,
  answer: OptInInvitationShape,
});
export const editInvitation = endpoint({
  id: 'invitations.edit',
  summary: 'Edit an invitation; what was sent stays as it was',
  method: 'PUT',
  path: '/businesses/:businessId/opt-in-invitations/:id',
  access: 'coordinator',
  versioned: true,
  params: ObjectPath,
  body: OptInInvitationEdit,
  stricter: STANDING,
  answer: OptInInvitationShape,
});
/** Who of those that are meant is written to, and why others are not. */
export const InvitedCounts = z.object({
  invited: z.number().int(),
  noEmail: z.number().int(),
  /** Their address came back, complained, or was unsubscribed. */
  noMore: z.number().int(),
  /** Invited lately already. */
  lately: z.number().int(),
  /** Get all the page offers. */
  inAlready: z.number().int(),
  /** Said that they want no texts; coming back is theirs. */
  left: z.number().int(),
});
export const previewInvitation = endpoint({
  id: 'invitations.preview',
  summary: 'Who would be invited, and what one of them reads',
  method: 'POST',
  path: '/businesses/:businessId/opt-in-invitations/preview',
  access: 'coordinator',
  params: BusinessPath,
  body: InvitationBody.omit({ title: true }).extend({ whom: WhomShape }),
  answer: InvitedCounts.extend({
    sample: LetterSample,
  }),
});
export const sendInvitation = endpoint({
  id: 'invitations.send',
  summary: 'Invite people by e-mail, as a job',
  method: 'POST',
  path: '/businesses/:businessId/opt-in-invitations/:id/sendings',
  access: 'coordinator',
  costs: true,
  params: ObjectPath,
  body: z.object({
    whom: WhomShape,
    /** How many were to be invited when this was confirmed; refused where it is another number now. */
    seen: z.number().int().min(1),
  }),
  answer: z.object({ jobId: z.string(), invited: z.number().int() }),
});
export const INVITED_STATES = [
  'sent',
  'held back',
  'came back',
  'complained',
  'opened',
  'awaits YES',
  'joined',
  'kept',
  'left',
  'withdrawn',
  'lapsed',
] as const;
export const InvitedShape = z.object({
  id: z.string(),
  contactId: z.string(),
  name: z.string(),
  email: z.string(),
  e164: z.string(),
  newE164: z.string().nullable(),
  state: z.enum(INVITED_STATES),
  /** Why it came back. */
  why: z.string(),
  sentBy: z.string(),
  sentAt: Moment,
  answeredAt: Moment.nullable(),
});
export type Invited = z.infer<typeof InvitedShape>;
export const listInvited = endpoint({
  id: 'invitations.people',
  summary: 'Who was invited, and what came of it, the last first',
  method: 'GET',
  path: '/businesses/:businessId/opt-in-invitations/:id/people',
  access: 'viewer',
  params: ObjectPath,
  query: PageQuery,
  answer: page(InvitedShape),
});
export const withdrawInvited = endpoint({
  id: 'invitations.withdraw',
  summary: 'Take back the links of an invitation that were not answered; they lead nowhere from then on',
  method: 'POST',
  path: '/businesses/:businessId/opt-in-invitations/:id/withdrawal',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({
    /** One person's link; all where nobody is named. */
    linkId: z.string().max(80).nullable().default(null),
  }),
  answer: z.object({ withdrawn: z.number().int() }),
});
