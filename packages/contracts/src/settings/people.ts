import * as z from 'zod';
import { BusinessPath, Done, endpoint, Moment, ObjectPath } from '../endpoint.js';
import { emailAddress, Password, RoleShape, SessionShape } from './settings.js';

// -- people of a business ------------------------------------------------------------------------------------------

export const PersonShape = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  role: RoleShape,
  secondFactor: z.boolean(),
});
export type PersonView = z.infer<typeof PersonShape>;
export const InvitationShape = z.object({
  id: z.string(),
  email: z.string(),
  role: RoleShape,
  invitedBy: z.string(),
  invitedAt: Moment,
  expiresAt: Moment,
  expired: z.boolean(),
  /** How often it was sent. */
  sent: z.number().int(),
});
export type Invitation = z.infer<typeof InvitationShape>;

export const listPeople = endpoint({
  id: 'people.list',
  summary: 'People, their roles, and who is invited',
  method: 'GET',
  path: '/businesses/:businessId/people',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({
    items: z.array(PersonShape),
    invitations: z.array(InvitationShape),
    secondFactorWanted: z.boolean(),
  }),
});
export const invitePerson = endpoint({
  id: 'people.invite',
  summary: 'Invite somebody by e-mail; they set their own password',
  method: 'POST',
  path: '/businesses/:businessId/invitations',
  access: 'administrator',
  costs: true,
  params: BusinessPath,
  body: z.object({ email: emailAddress, role: RoleShape }),
  answer: InvitationShape,
});
export const inviteAgain = endpoint({
  id: 'people.invite-again',
  summary: 'Send an invitation again; the earlier link ends',
  method: 'POST',
  path: '/businesses/:businessId/invitations/:id/again',
  access: 'administrator',
  costs: true,
  params: ObjectPath,
  answer: InvitationShape,
});
export const withdrawInvitation = endpoint({
  id: 'people.withdraw',
  summary: 'Withdraw an invitation',
  method: 'DELETE',
  path: '/businesses/:businessId/invitations/:id',
  access: 'administrator',
  params: ObjectPath,
  answer: Done,
});
export const editPerson = endpoint({
  id: 'people.edit',
  summary: 'Change a role, or take it away',
  method: 'PUT',
  path: '/businesses/:businessId/people/:id',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ role: z.union([RoleShape, z.literal('none')]) }),
  answer: Done,
});
export const wantSecondFactor = endpoint({
  id: 'people.second-factor',
  summary: 'Want a second factor of administrators, or leave it to them',
  method: 'PUT',
  path: '/businesses/:businessId/second-factor',
  access: 'administrator',
  params: BusinessPath,
  body: z.object({ wanted: z.boolean() }),
  answer: Done,
});

// -- an invited person ---------------------------------------------------------------------------------------------

const TokenPath = z.object({ token: z.string().max(200) });

export const InvitationSeenShape = z.object({
  business: z.string(),
  email: z.string(),
  role: RoleShape,
  /** There is an account for this address already: its password is asked. */
  known: z.boolean(),
});
export type InvitationSeen = z.infer<typeof InvitationSeenShape>;
export const seeInvitation = endpoint({
  id: 'public.invitation',
  summary: 'What an invitation is for',
  method: 'GET',
  path: '/public/invitations/:token',
  access: 'public',
  params: TokenPath,
  answer: InvitationSeenShape,
});
export const acceptInvitation = endpoint({
  id: 'public.accept-invitation',
  summary: 'Accept an invitation: set a name and password, or give those of the account there is',
  method: 'POST',
  path: '/public/invitations/:token',
  access: 'public',
  params: TokenPath,
  body: z.object({
    name: z.string().trim().max(120).default(''),
    password: z.string().max(200),
    code: z.string().max(40).default(''),
  }),
  answer: SessionShape,
});

// -- a forgotten password ------------------------------------------------------------------------------------------

export const forgotPassword = endpoint({
  id: 'public.forgot-password',
  summary: 'Have a link to a new password sent; the answer is the same for every address',
  method: 'POST',
  path: '/public/password-resets',
  access: 'public',
  body: z.object({ email: emailAddress }),
  answer: Done,
});
export const seeReset = endpoint({
  id: 'public.reset',
  summary: 'Whose password a link sets',
  method: 'GET',
  path: '/public/password-resets/:token',
  access: 'public',
  params: TokenPath,
  answer: z.object({ email: z.string() }),
});
export const resetPassword = endpoint({
  id: 'public.reset-password',
  summary: 'Set a new password by a link; every session ends',
  method: 'POST',
  path: '/public/password-resets/:token',
  access: 'public',
  params: TokenPath,
  body: z.object({ password: Password }),
  answer: Done,
});

// -- one's own account ---------------------------------------------------------------------------------------------

export const changePassword = endpoint({
  id: 'session.password',
  summary: 'Change one’s own password; every other session ends',
  method: 'PUT',
  path: '/session/password',
  access: 'signed in',
  body: z.object({ password: z.string().max(200), next: Password }),
  answer: z.object({ ended: z.number().int() }),
});
export const OwnSessionShape = z.object({
  id: z.string(),
  /** Wall time, milliseconds since the epoch. */
  openedAt: z.number(),
  seenAt: z.number(),
  address: z.string(),
  agent: z.string(),
  current: z.boolean(),
});
export type OwnSession = z.infer<typeof OwnSessionShape>;
export const listSessions = endpoint({
  id: 'sessions.list',
  summary: 'Where one is signed in',
  method: 'GET',
  path: '/sessions',
  access: 'signed in',
  answer: z.object({ items: z.array(OwnSessionShape) }),
});
export const endSession = endpoint({
  id: 'sessions.end',
  summary: 'End one session of one’s own',
  method: 'DELETE',
  path: '/sessions/:id',
  access: 'signed in',
  params: z.object({ id: z.string() }),
  answer: Done,
});
export const endOtherSessions = endpoint({
  id: 'sessions.end-others',
  summary: 'End all sessions of one’s own but this',
  method: 'DELETE',
  path: '/sessions',
  access: 'signed in',
  answer: z.object({ ended: z.number().int() }),
});
export const getFactor = endpoint({
  id: 'factor.get',
  summary: 'Whether one has a second factor, and how many recovery codes are left',
  method: 'GET',
  path: '/session/second-factor',
  access: 'signed in',
  answer: z.object({ on: z.boolean(), recoveryCodesLeft: z.number().int() }),
});
export const beginFactor = endpoint({
  id: 'factor.begin',
  summary: 'Make a secret for an authenticator (RFC 6238)',
  method: 'POST',
  path: '/session/second-factor',
  access: 'signed in',
  body: z.object({ password: z.string().max(200) }),
  answer: z.object({ secret: z.string(), uri: z.string(), qr: z.string() }),
});
const RecoveryCodes = z.object({ recoveryCodes: z.array(z.string()) });
const FactorCode = z.string().trim().min(1, 'Write the code.').max(40);
export const confirmFactor = endpoint({
  id: 'factor.confirm',
  summary: 'Give back the first code of the authenticator',
  method: 'PUT',
  path: '/session/second-factor',
  access: 'signed in',
  body: z.object({ code: FactorCode }),
  answer: RecoveryCodes,
});
export const renewRecoveryCodes = endpoint({
  id: 'factor.recovery-codes',
  summary: 'New recovery codes; the earlier ones end',
  method: 'POST',
  path: '/session/second-factor/recovery-codes',
  access: 'signed in',
  body: z.object({ code: FactorCode }),
  answer: RecoveryCodes,
});
export const endFactor = endpoint({
  id: 'factor.end',
  summary: 'Take one’s second factor away',
  method: 'DELETE',
  path: '/session/second-factor',
  access: 'signed in',
  body: z.object({ password: z.string().max(200), code: FactorCode }),
  answer: Done,
});
