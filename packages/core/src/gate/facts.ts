import type { ConsentState, Purpose } from '../consent/events.js';
import type { HoursRules } from '../hours/send-window.js';
import type { Micros } from '../money/money.js';
import type { Reassignment } from '../consent/reassigned.js';
import type { Suppression } from '../consent/suppression.js';
import type { Textable, Trouble } from '../textability/textability.js';

/** The kinds of text the gate knows. */
export const TEXT_KINDS = [
  'dispatch',
  'answer',
  'opt-out confirmation',
  'help answer',
  'opt-in request',
  'opt-in answer',
  'staff test',
] as const;
export type TextKind = (typeof TEXT_KINDS)[number];

/** How a carrier's network limits what is sent to it (rules.md): paces a campaign, caps a brand's day, paces a number. */
export type CarrierKind = 'A' | 'B' | 'C';

/** What the posts read of one recipient. Contacts that agree in every member form a class. */
export interface Subject {
  wellFormed: boolean;
  /** ISO 3166 country or territory. */
  country: string;
  /** Comma-joined IANA zones and states the recipient may be in; empty where unknown. */
  zones: string;
  states: string;
  lookedUp: boolean;
  textable: Textable;
  reachable: boolean;
  trouble: Trouble;
  /** Three passing faults in 30 days wait for a look. */
  faultsInReview: boolean;
  suppression: Suppression;
  /** A purchase or an inquiry of theirs is on record that excepts them from a registry. */
  related: boolean;
  /** A reply may have been a wish to stop; promotional texts wait. */
  wishInReview: boolean;
  consent: Record<Purpose, ConsentState>;
  reassignment: Reassignment;
  /** End of the time in which their last word may be answered, milliseconds. */
  conversationUntil: number | null;
  carrierKind: CarrierKind;
  /** Until when three solicitations stand within 24 hours, milliseconds. */
  promotionalCapUntil: number | null;
  /** Nothing was sent to this contact from this number yet. */
  firstText: boolean;
  /** The last stop line is 30 days old. */
  stopLineDue: boolean;
  /** A merge field of the text is empty for them and has no fallback. */
  fieldEmpty: boolean;
}

export type AccountState = 'provisional' | 'open' | 'restricted' | 'suspended';

/** Where our number stands with its registration. */
export type Clearance =
  | 'cleared'
  | 'no-number'
  | 'number-not-active'
  | 'number-ended'
  | 'number-not-tied'
  | 'number-not-verified'
  | 'registration-suspended'
  | 'registration-expired'
  | 'registration-pending'
  | 'registration-declined';

/** What the posts read of the message and its sender. */
export interface MessageFacts {
  kind: TextKind;
  purpose: Purpose;
  /** Called for by the person's own booking, order or case. */
  transactional: boolean;
  accountState: AccountState;
  textsOff: boolean;
  clearance: Clearance;
  /** Countries in which our number may be used; null where it may wherever the country is open. */
  senderCountries: readonly string[] | null;
  /** No reply can reach our number. */
  oneWay: boolean;
  namesSender: boolean;
  showsStop: boolean;
  /** A blocking finding on the text. */
  contentBlocked: boolean;
  /** Its words read as promotional, whatever its purpose says. */
  wordsPromotional: boolean;
  /** An administrator lets it go with its purpose all the same, with a reason that is kept. */
  wordsOverridden: boolean;
  /** A link that networks filter: a shared shortener, or a bare IP address. */
  linkFiltered: boolean;
  /** Its words belong to another use than the number's campaign is registered for. */
  otherUse: boolean;
  /** The wall time chosen for it, `2027-03-14T09:00`, where each recipient is; null for none. */
  notBefore: string | null;
  /** Segments at worst over the audience. */
  segments: number;
}

/** No text in particular, so that no post stops at it: for asking about a person, or a number of ours, by itself. */
export const NO_TEXT: MessageFacts = {
  kind: 'dispatch',
  purpose: 'informational',
  transactional: false,
  accountState: 'open',
  textsOff: false,
  clearance: 'cleared',
  senderCountries: null,
  oneWay: false,
  namesSender: true,
  showsStop: true,
  contentBlocked: false,
  wordsPromotional: false,
  wordsOverridden: false,
  linkFiltered: false,
  otherUse: false,
  notBefore: null,
  segments: 0,
};

export interface GateRules {
  /** Moment of judgement, milliseconds. */
  at: number;
  hours: HoursRules;
  /** Countries open for the sending number. */
  openCountries: readonly string[];
  /** Policy: transactional texts are free of hours. */
  transactionalAnyHour: boolean;
  segmentPrice: Micros;
}

/** What is left to spend while recipients are judged one after another. */
export interface Allowance {
  balance: Micros;
  /** Segments left today on networks that cap a brand's day. */
  dailySegments: number;
}
