import type { Allowance, GateRules, MessageFacts, Subject } from './facts.js';
import type { Question, Result } from './post.js';
import { GATE, type ReasonCode } from './posts/index.js';

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

/**
 * Asks every post and takes the worst answer (rules.md, the gate). One rule book for one recipient and a million.
 * @param allowance what is left before this text; not changed here, see {@link spend}.
 */
export function judge(subject: Subject, message: MessageFacts, rules: GateRules, allowance: Allowance): Verdict {
  const question: Question = { subject, message, rules, allowance };
  const answers = GATE.map((post, i): Answer =>
    post.notAsked.includes(message.kind)
      ? { post: i + 1, result: 'not asked' }
      : { post: i + 1, ...post.ask(question) },
  );
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

/** What is left after a text that passed. */
export function spend(allowance: Allowance, subject: Subject, message: MessageFacts, rules: GateRules): Allowance {
  return {
    balance: allowance.balance - message.segments * rules.segmentPrice,
    dailySegments: allowance.dailySegments - (subject.carrierKind === 'B' ? message.segments : 0),
  };
}
