import { FILING_STAGES } from '@long-gate/core';
import * as z from 'zod';
import { Moment } from '../endpoint.js';

/** Where a filing stands: what the registrar decided, and whether that still holds. */
export const RegistrationState = z.enum(['draft', 'in review', 'registered', 'declined', 'suspended', 'expired']);
/** How far a filing has come, and when. */
export const StageShape = z.object({ stage: z.enum(FILING_STAGES), at: Moment });
export type Stage = z.infer<typeof StageShape>;

/** Text of at most so many characters. */
export const text = (max: number) => z.string().max(max, `Longer than ${max} characters.`);
