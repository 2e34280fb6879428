export const PURPOSES = ['conversational', 'informational', 'promotional'] as const;
/** The three kinds of text a person may agree to, as the trade's principles divide them. */
export type Purpose = (typeof PURPOSES)[number];

export const CONSENT_EVENT_KINDS = [
  'granted',
  'confirmed',
  'declined',
  'revoked',
  'expired',
  'voided',
  'disputed',
  'claimed',
  'withdrawn',
] as const;
/**
 * `claimed` is an imported claim of consent without full proof: it leads to the state "unproven" and opens nothing.
 * `withdrawn` takes such a claim back, with the list it came by: where nothing better was said, nothing is on file again.
 */
export type ConsentEventKind = (typeof CONSENT_EVENT_KINDS)[number];

export const CONSENT_ROUTES = [
  'web page',
  'preference page',
  'keyword',
  'phone call',
  'in person',
  'paper form',
  'imported record',
  'reply',
  'e-mail',
  'API',
  'carrier',
  'reassigned numbers',
  'clock',
] as const;
export type ConsentRoute = (typeof CONSENT_ROUTES)[number];

/** One thing that happened to the consent of one contact number. Never changed after it is recorded. */
export interface ConsentEvent {
  id: string;
  businessId: string;
  /** Position in the business's chain, from 1. */
  seq: number;
  e164: string;
  purposes: Purpose[];
  kind: ConsentEventKind;
  /** A grant that still waits for the person's YES. */
  awaitsConfirmation: boolean;
  /** Milliseconds since the epoch. */
  happenedAt: number;
  recordedAt: number;
  how: ConsentRoute;
  /** The exact text the person saw, and its version; empty where none was shown (a STOP). */
  disclosure: string;
  disclosureVersion: string;
  /** IP address, user agent, message id, file digest: whatever proves it. Flat strings. */
  evidence: Record<string, string>;
  /** User id, or `contact` or `system`. */
  recordedBy: string;
}

/** Where a contact number stands for one purpose. */
export type ConsentState =
  'none' | 'unproven' | 'awaiting' | 'granted' | 'lapsed' | 'declined' | 'revoked' | 'expired' | 'voided' | 'disputed';

/** A double opt-in not answered in this time lapses. */
export const CONFIRM_WITHIN_MS = 72 * 3_600_000;
