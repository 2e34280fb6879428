import { z } from 'zod';

/** Why a link is worth nothing any more; empty for one that is. */
export type LinkEnd = '' | 'replaced' | 'changed' | 'withdrawn';

/** What a letter says, without the day on which it is signed. */
export const FrozenLetter = z.object({
  subtitle: z.string(),
  business: z.string(),
  holderName: z.string(),
  authorisedName: z.string(),
  address: z.string(),
  carrier: z.string(),
  numbers: z.array(z.string()),
  paragraphs: z.array(z.string()),
});
export type FrozenLetter = z.infer<typeof FrozenLetter>;

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
