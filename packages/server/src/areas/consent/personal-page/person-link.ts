import type { LineAnswer } from '@long-gate/gateways';
import type { Reader, Writer } from '../../../platform/db.js';

/** A link that is one person's, however it came to them: by a letter, or in a text to their own handset. */
export interface PersonLink {
  businessId: string;
  /** The opt-in page whose kinds of text are offered. */
  pageId: string;
  e164: string;
  expiresAt: number;
  withdrawn: boolean;
  opened: boolean;
  /** By what they came, for the ledger. */
  evidence: { invitation: string } | { message: string };
  /** What becomes of another number that is given; null where the link came to the number itself. */
  another: {
    /** Texts do not reach it, and why, for staff. */
    refused: (w: Writer, why: string) => Promise<void>;
    /** It waits for its own YES. */
    given: (w: Writer, answer: LineAnswer) => Promise<void>;
  } | null;
  /** Whether what is chosen now is as good as a YES of the handset: the link was texted to it within a day. */
  speaksForHandset: (r: Reader) => Promise<boolean>;
  /** It is opened for the first time. */
  open: (w: Writer) => Promise<void>;
  answer: (w: Writer, chose: 'awaits YES' | 'joined' | 'kept' | 'left') => Promise<void>;
}
