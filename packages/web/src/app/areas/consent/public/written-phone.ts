import { parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import * as z from 'zod';

/** A number as somebody writes it; what is none is said at once, in the words the server has for it. */
export const WrittenPhone = z.string().superRefine((typed, ctx) => {
  const read = parsePhone(typed, { defaultRegion: 'US', allowFictional: true });
  if (!read.ok) ctx.addIssue({ code: 'custom', message: PHONE_REFUSALS[read.reason] });
});
