import { NO_TEXT, type Allowance, type GateRules, type MessageFacts, type Subject } from '../gate/facts.js';
import { DEFAULT_HOURS } from '../hours/send-window.js';

/** A Tuesday noon in New York. */
export const NOON = Date.parse('2026-11-24T17:00:00Z');
export const RULES: GateRules = {
  at: NOON,
  hours: DEFAULT_HOURS,
  openCountries: ['US'],
  transactionalAnyHour: false,
  segmentPrice: 7_000,
};
export const PLENTY: Allowance = { balance: 100_000_000, dailySegments: 40_000 };

/** Somebody who passes every post, but for what is said. */
export function subject(over: Partial<Subject> = {}): Subject {
  return {
    wellFormed: true,
    country: 'US',
    zones: 'America/New_York',
    states: 'NJ',
    lookedUp: true,
    textable: 'yes',
    reachable: true,
    trouble: 'none',
    faultsInReview: false,
    suppression: 'none',
    related: false,
    wishInReview: false,
    consent: { conversational: 'none', informational: 'granted', promotional: 'granted' },
    reassignment: 'clear',
    conversationUntil: null,
    carrierKind: 'A',
    promotionalCapUntil: null,
    firstText: false,
    stopLineDue: false,
    fieldEmpty: false,
    ...over,
  };
}
/** A text that passes every post, but for what is said. */
export function message(over: Partial<MessageFacts> = {}): MessageFacts {
  return {
    ...NO_TEXT,
    purpose: 'promotional',
    segments: 1,
    ...over,
  };
}
