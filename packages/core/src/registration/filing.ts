const DAY = 86_400_000;

/** How far a filing comes before the registrar decides, in order. */
export const FILING_STAGES = ['received', 'checked by machine', 'with a reviewer', 'with the networks'] as const;
export type FilingStage = (typeof FILING_STAGES)[number];

/** Where a filing stands: what was decided of it, and whether that still holds. */
export type FilingState = 'draft' | 'in review' | 'registered' | 'declined' | 'suspended' | 'expired';

/** A decision on a brand can be objected to for so long. source: rules.md, A2P 10DLC (appeal within 45 days). */
export const APPEAL_DAYS = 45;
/** Until when a decision can be objected to, milliseconds. */
export const appealUntil = (decidedAt: number): number => decidedAt + APPEAL_DAYS * DAY;

/** A campaign is registered for so long, and can be confirmed for another such time in its last days. */
export const REGISTERED_DAYS = 365;
export const RENEWAL_DAYS = 30;
/** Until when what was decided at a moment stands, milliseconds. */
export const registeredUntil = (decidedAt: number): number => decidedAt + REGISTERED_DAYS * DAY;
/** From when it can be renewed, milliseconds. */
export const renewableFrom = (renewsAt: number): number => renewsAt - RENEWAL_DAYS * DAY;
