import { z } from 'zod';

/** The letter as it was signed: typed or drawn on the holder's page, or uploaded. */
export const KeptLetterShape = z.object({
  signedBy: z.string(),
  /** `YYYY-MM-DD`. */
  signedOn: z.string(),
  holderName: z.string(),
  numbers: z.array(z.string()),
  how: z.enum(['signed', 'uploaded']),
  /** Milliseconds since the epoch, scenario time. */
  signedAt: z.number(),
  ip: z.string(),
  userAgent: z.string(),
  documentId: z.string(),
});
export type KeptLetter = z.infer<typeof KeptLetterShape>;
