import * as z from 'zod';
import { Done, endpoint, Moment, ObjectPath } from '../endpoint.js';

export const GuardShape = z.object({
  lock: z.enum(['locked', 'asked', 'unlocked']),
  askedBy: z.string(),
  askedAt: Moment.nullable(),
  /** When a wish to unlock lapses that nobody answers. */
  lapsesAt: Moment.nullable(),
  /** When an only administrator may say yes alone; null where there are others. */
  aloneFrom: Moment.nullable(),
  /** Whether the mail to the business’s status address was answered; null where none is asked for. */
  answered: z.boolean().nullable(),
  /** Whether the person asking may say the second yes now, and why not. */
  mayConfirm: z.boolean(),
  whyNot: z.string(),
  unlockedUntil: Moment.nullable(),
  attempts: z.array(
    z.object({
      key: z.string(),
      carrier: z.string(),
      at: Moment,
      deadline: Moment,
      state: z.enum(['open', 'refused', 'left']),
      /** The lock as it stands now, or stood when it was answered. */
      locked: z.boolean(),
    }),
  ),
});
export type GuardView = z.infer<typeof GuardShape>;

const at = '/businesses/:businessId/numbers/:id/guard';

export const getGuard = endpoint({
  id: 'guard.get',
  summary: 'Whether a number is locked against being ported away, and who tried',
  method: 'GET',
  path: at,
  access: 'viewer',
  params: ObjectPath,
  answer: GuardShape,
});
export const changeLock = endpoint({
  id: 'guard.lock',
  summary: 'Ask to unlock, say the second yes, or lock again',
  method: 'POST',
  path: `${at}/lock`,
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ wish: z.enum(['ask to unlock', 'say yes', 'lock']) }),
  answer: GuardShape,
});
const MailPath = z.object({ token: z.string().max(200) });
export const UnlockAskedShape = z.object({ business: z.string(), number: z.string(), askedBy: z.string() });
export const seeUnlockMail = endpoint({
  id: 'public.unlock-mail',
  summary: 'What the mail to the status address asks',
  method: 'GET',
  path: '/public/unlock-mails/:token',
  access: 'public',
  params: MailPath,
  answer: UnlockAskedShape,
});
export const answerUnlockMail = endpoint({
  id: 'public.answer-unlock-mail',
  summary: 'Agree that a number is unlocked, or keep it locked',
  method: 'POST',
  path: '/public/unlock-mails/:token',
  access: 'public',
  params: MailPath,
  body: z.object({ agree: z.boolean() }),
  answer: Done,
});
export const showReleasePin = endpoint({
  id: 'guard.pin',
  summary: 'The PIN another carrier asks for; each look is on the record',
  method: 'POST',
  path: `${at}/pin`,
  access: 'administrator',
  params: ObjectPath,
  answer: z.object({ pin: z.string() }),
});
export const refusePortOut = endpoint({
  id: 'guard.refuse',
  summary: 'Refuse an attempt to take the number away',
  method: 'POST',
  path: `${at}/refusals`,
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ key: z.string() }),
  answer: GuardShape,
});
