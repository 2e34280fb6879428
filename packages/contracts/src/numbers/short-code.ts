import * as z from 'zod';

/** What a short code is leased for: one programme, looked at by the networks before they approve the code. */
export const ProgrammeShape = z.object({
  name: z.string().trim().min(1, 'Say what people will know it by.').max(60),
  what: z.string().trim().min(40, 'Say what is sent, to whom and how often, in at least 40 characters.').max(600),
  agreement: z
    .string()
    .trim()
    .min(40, 'Say where and by which words people agree, in at least 40 characters.')
    .max(600),
  sample: z.string().trim().min(20, 'Write one text as it will be sent.').max(480),
  help: z.string().trim().min(1, 'Say where people get help.').max(200),
});
export type Programme = z.infer<typeof ProgrammeShape>;
