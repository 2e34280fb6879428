import * as z from 'zod';

/** A letter to people with a link of their own in it. */
export const LetterShape = z.object({
  subject: z.string().trim().min(1, 'Write a subject.').max(150),
  /** Plain text; `[link]` is where the personal link stands, `[firstName|there]` a name with its fallback. */
  text: z
    .string()
    .trim()
    .min(1, 'Write the e-mail.')
    .max(4000)
    .refine((t) => t.includes('[link]'), 'Put [link] where the personal link shall stand.'),
});
/** A letter as one of them reads it; null where nobody is written to. */
export const LetterSample = z.object({ to: z.string(), subject: z.string(), text: z.string() }).nullable();
