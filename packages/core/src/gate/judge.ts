import type { ConsentState, Purpose } from '../consent/events.js';
import { nextPacificMidnight, sendWindow, type HoursRules, type SendWindow } from '../hours/send-window.js';
import type { Micros } from '../money/money.js';
import type { Textable, Trouble } from '../textability/textability.js';
import { NOT_ASKED, POSTS, type ReasonCode, type Result, type TextKind } from './posts.js';

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
  suppressed: boolean;
  /** A reply may have been a wish to stop; promotional texts wait. */
  wishInReview: boolean;
  consent: Record<Purpose, ConsentState>;
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
  'cleared' | 'no-number' | 'number-not-active' | 'number-not-tied' | 'registration-pending' | 'registration-declined';

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
  /** Segments at worst over the audience. */
  segments: number;
}

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

export interface Answer {
  post: number;
  /** `not asked` where the post does not apply to the kind of text. */
  result: Result | 'not asked';
  reason?: ReasonCode;
  /** A hold's moment where it waits for time; a pass's end where time ends it. Milliseconds. */
  until?: number;
}

export interface Verdict {
  result: Result;
  /** The deciding post: the first that gives the worst answer; null for a pass. */
  post: number | null;
  reason: ReasonCode | null;
  until: number | null;
  /** Until when a pass stands as far as the clock decides it (closing hour, end of a conversation); null for no end. */
  goodUntil: number | null;
  answers: Answer[];
}

/** Remembers sending windows within one judgement round (same moment, same rules). */
export type WindowMemo = Map<string, SendWindow>;

const PASS = 'pass' as const;

/**
 * Asks every post and takes the worst answer (rules.md, the gate). One rule book for one recipient and a million.
 * @param allowance what is left before this text; not changed here, see {@link spend}.
 */
export function judge(
  subject: Subject,
  message: MessageFacts,
  rules: GateRules,
  allowance: Allowance,
  memo: WindowMemo = new Map(),
): Verdict {
  const skipped = NOT_ASKED[message.kind];
  const answers: Answer[] = POSTS.map(({ no }) =>
    skipped.includes(no) ? { post: no, result: 'not asked' } : ask(no, subject, message, rules, allowance, memo),
  );
  // The person's own word stands in for consent when they are answered.
  if (message.kind === 'answer') {
    const inTime = subject.conversationUntil !== null && subject.conversationUntil > rules.at;
    answers[5] = inTime
      ? { post: 6, result: PASS, until: subject.conversationUntil ?? undefined }
      : { post: 6, result: 'stop', reason: 'conversation-over' };
  }
  const worst: Result = answers.some((a) => a.result === 'stop')
    ? 'stop'
    : answers.some((a) => a.result === 'hold')
      ? 'hold'
      : 'pass';
  const deciding = worst === 'pass' ? undefined : answers.find((a) => a.result === worst);
  return {
    result: worst,
    post: deciding?.post ?? null,
    reason: deciding?.reason ?? null,
    until: deciding?.until ?? null,
    goodUntil: worst === 'pass' ? answers.reduce<number | null>((least, a) => earlier(least, a.until), null) : null,
    answers,
  };
}

function earlier(least: number | null, until: number | undefined): number | null {
  return until === undefined ? least : least === null ? until : Math.min(least, until);
}

function ask(no: number, s: Subject, m: MessageFacts, r: GateRules, allowance: Allowance, memo: WindowMemo): Answer {
  const pass: Answer = { post: no, result: PASS };
  const hold = (reason: ReasonCode, until?: number): Answer => ({
    post: no,
    result: 'hold',
    reason,
    ...(until === undefined ? {} : { until }),
  });
  const stop = (reason: ReasonCode): Answer => ({ post: no, result: 'stop', reason });
  switch (no) {
    case 1:
      return s.wellFormed ? pass : stop('not-well-formed');
    case 2:
      return r.openCountries.includes(s.country) ? pass : stop('country-closed');
    case 3:
      if (s.trouble === 'not-textable') return stop('not-textable');
      if (!s.lookedUp) return hold('never-looked-up');
      return s.textable === 'yes' ? pass : s.textable === 'no' ? stop('not-textable') : hold('lookup-unknown');
    case 4:
      if (s.trouble === 'out-of-service') return stop('out-of-service');
      if (s.faultsInReview) return hold('faults-in-review');
      return s.lookedUp && !s.reachable ? hold('unreachable') : pass;
    case 5:
      if (s.trouble === 'refused-by-owner') return stop('refused-at-carrier');
      if (s.consent[m.purpose] === 'revoked') return stop('opted-out');
      if (s.suppressed) return stop('suppressed');
      return s.wishInReview && m.purpose === 'promotional' ? hold('wish-in-review') : pass;
    case 6:
      // A dispatch asks nobody back: it cannot live on the person's own word.
      if (m.kind === 'dispatch' && m.purpose === 'conversational') return stop('purpose-not-for-dispatch');
      return consentAnswer(s.consent[m.purpose], pass, hold, stop);
    case 7:
      if (m.accountState === 'provisional') return stop('account-provisional');
      if (m.accountState === 'suspended') return stop('account-suspended');
      if (m.accountState === 'restricted' && m.kind === 'dispatch') return stop('account-restricted');
      if (m.textsOff) return hold('texts-switched-off');
      if (m.clearance === 'cleared')
        return m.senderCountries && !m.senderCountries.includes(s.country) ? stop('sender-not-for-country') : pass;
      return m.clearance === 'number-not-active' || m.clearance === 'registration-pending'
        ? hold(m.clearance)
        : stop(m.clearance);
    case 8:
      if (m.linkFiltered) return stop('link-filtered');
      if (offersWithoutConsent(s, m)) return stop('words-promotional');
      if (m.otherUse && !m.wordsOverridden) return stop('other-use');
      if (m.contentBlocked) return stop('content-blocked');
      if (s.fieldEmpty) return stop('field-empty');
      if (m.oneWay && m.purpose === 'promotional' && !m.showsStop) return stop('signature-missing');
      if (m.kind !== 'dispatch') return pass;
      if (s.firstText && !(m.namesSender && m.showsStop)) return stop('first-text-incomplete');
      return s.stopLineDue && !m.showsStop ? stop('stop-line-due') : pass;
    case 9:
      return m.purpose === 'promotional' && s.promotionalCapUntil !== null && s.promotionalCapUntil > r.at
        ? hold('frequency-cap', s.promotionalCapUntil)
        : pass;
    case 10: {
      // A promotional text is never transactional, whatever it says of itself.
      if (m.purpose === 'conversational') return pass;
      if (m.transactional && m.purpose === 'informational' && r.transactionalAnyHour) return pass;
      const key = `${s.zones}|${s.states}`;
      let window = memo.get(key);
      if (!window) {
        window = sendWindow({ zones: split(s.zones), states: split(s.states) }, r.hours, r.at);
        memo.set(key, window);
      }
      if (window.open) return { ...pass, until: window.closesAt };
      return 'never' in window ? stop('no-common-hours') : hold('outside-hours', window.opensAt);
    }
    default:
      if (allowance.balance < m.segments * r.segmentPrice) return hold('balance-short');
      return s.carrierKind === 'B' && allowance.dailySegments < m.segments
        ? hold('daily-cap', nextPacificMidnight(r.at))
        : pass;
  }
}

/**
 * Offers in a text of another purpose. A dispatch has one purpose for all; an answer may carry an offer to somebody
 * who agreed to offers; the confirmation of an opt-out never does (47 CFR 64.1200(a)(12)).
 */
function offersWithoutConsent(s: Subject, m: MessageFacts): boolean {
  if (!m.wordsPromotional || m.purpose === 'promotional' || m.wordsOverridden) return false;
  if (m.kind === 'dispatch' || m.kind === 'staff test' || m.kind === 'opt-out confirmation') return true;
  return s.consent.promotional !== 'granted';
}

function consentAnswer(
  state: ConsentState,
  pass: Answer,
  hold: (r: ReasonCode) => Answer,
  stop: (r: ReasonCode) => Answer,
): Answer {
  switch (state) {
    case 'granted':
      return pass;
    case 'awaiting':
      return hold('consent-awaiting');
    case 'disputed':
      return hold('consent-disputed');
    // A revocation is answered at post 5, which every kind that is asked post 6 is also asked.
    case 'revoked':
      return stop('consent-none');
    default:
      return stop(`consent-${state}`);
  }
}

function split(list: string): string[] {
  return list === '' ? [] : list.split(',');
}

/** What is left after a text that passed. */
export function spend(allowance: Allowance, subject: Subject, message: MessageFacts, rules: GateRules): Allowance {
  return {
    balance: allowance.balance - message.segments * rules.segmentPrice,
    dailySegments: allowance.dailySegments - (subject.carrierKind === 'B' ? message.segments : 0),
  };
}
