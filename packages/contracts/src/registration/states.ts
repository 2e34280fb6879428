import { FILING_STAGES } from '@long-gate/core';
import * as z from 'zod';
import { Moment, ReasonShape } from '../endpoint.js';

/** Where a filing stands: what the registrar decided, and whether that still holds. */
export const RegistrationState = z.enum(['draft', 'in review', 'registered', 'declined', 'suspended', 'expired']);
/** How far a filing has come, and when. */
export const StageShape = z.object({ stage: z.enum(FILING_STAGES), at: Moment });
export type Stage = z.infer<typeof StageShape>;

/** A version of a filing that was submitted, with what was decided of it. */
export const tryOf = <B extends z.ZodType>(body: B) =>
  z.object({
    attempt: z.number().int(),
    body,
    submittedAt: Moment,
    state: z.enum(['in review', 'registered', 'declined']),
    decidedAt: Moment.nullable(),
    reasons: z.array(ReasonShape),
  });

/** A few sentences to the registrar: an objection, an answer to a suspension. */
export const Statement = z
  .string()
  .trim()
  .min(40, 'Say it in at least 40 characters.')
  .max(2048, 'Say it in at most 2,048 characters.');

/** Text of at most so many characters. */
export const text = (max: number) => z.string().max(max, `Longer than ${max} characters.`);
