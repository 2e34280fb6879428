import type { Allowance, GateRules, MessageFacts, Subject } from './facts.js';
import { judge, type Verdict } from './judge.js';
import type { Result } from './post.js';
import { POSTS, type ReasonCode } from './posts/index.js';

/** Contacts that agree in everything the posts read, with how many they are. */
export interface SubjectClass {
  subject: Subject;
  count: number;
}

export interface PostCount {
  post: number;
  /** How many come through this post without a hold or stop booked here or before. */
  pass: number;
  /** Booked here because this is their deciding post. */
  hold: number;
  stop: number;
  reasons: { reason: ReasonCode; result: Result; count: number; until: number | null }[];
}

export interface GateCounts {
  audience: number;
  pass: number;
  hold: number;
  stop: number;
  posts: PostCount[];
  /** Earliest moment at which someone held by time may follow. */
  nextAt: number | null;
  /** Earliest moment at which the clock takes somebody's pass away; null for never. */
  goodUntil: number | null;
}

/** People of one class that follow one another and have the same verdict. */
export interface Stretch {
  /** Which of the classes. */
  index: number;
  /** How many of the class come before them. */
  from: number;
  count: number;
  verdict: Verdict;
}

/**
 * Judges class after class, each once; where the allowance runs out inside a class, the rest of it has a verdict of
 * its own.
 */
export function* judgeStretches(
  classes: readonly SubjectClass[],
  message: MessageFacts,
  rules: GateRules,
  allowance: Allowance,
): Generator<Stretch> {
  let left = allowance;
  for (const [index, { subject, count }] of classes.entries()) {
    let from = 0;
    while (from < count) {
      const verdict = judge(subject, message, rules, left);
      const passes = verdict.result === 'pass';
      const take = passes ? Math.min(count - from, room(subject, message, rules, left)) : count - from;
      if (passes) {
        left = {
          balance: left.balance - take * message.segments * rules.segmentPrice,
          dailySegments: left.dailySegments - (subject.carrierKind === 'B' ? take * message.segments : 0),
        };
      }
      yield { index, from, count: take, verdict };
      from += take;
    }
  }
}

/**
 * Judges each class once and books its count at the deciding post, so that the counts add up to the audience.
 * Where the allowance runs out inside a class, the rest of the class is held by post 11.
 */
export function judgeClasses(
  classes: readonly SubjectClass[],
  message: MessageFacts,
  rules: GateRules,
  allowance: Allowance,
): GateCounts {
  const tally = new Tally();
  for (const { verdict, count } of judgeStretches(classes, message, rules, allowance)) tally.book(verdict, count);
  return tally.counts();
}

/** How many texts like this the allowance still covers; at least one where the gate said pass. */
function room(subject: Subject, message: MessageFacts, rules: GateRules, left: Allowance): number {
  const price = message.segments * rules.segmentPrice;
  const byBalance = price > 0 ? Math.floor(left.balance / price) : Infinity;
  const byCap =
    subject.carrierKind === 'B' && message.segments > 0 ? Math.floor(left.dailySegments / message.segments) : Infinity;
  return Math.max(1, Math.min(byBalance, byCap));
}

/** Adds verdicts up by deciding post and reason; used by previews and results alike. */
export class Tally {
  private readonly booked = new Map<
    string,
    { post: number; result: Result; reason: ReasonCode; count: number; until: number | null }
  >();
  private passed = 0;
  private goodUntil: number | null = null;

  book(verdict: Pick<Verdict, 'result' | 'post' | 'reason' | 'until' | 'goodUntil'>, count = 1): void {
    if (verdict.result === 'pass' || verdict.post === null || verdict.reason === null) {
      this.passed += count;
      if (verdict.goodUntil !== null) this.goodUntil = Math.min(this.goodUntil ?? Infinity, verdict.goodUntil);
      return;
    }
    const key = `${verdict.post}|${verdict.result}|${verdict.reason}`;
    const entry = this.booked.get(key);
    if (!entry)
      this.booked.set(key, {
        post: verdict.post,
        result: verdict.result,
        reason: verdict.reason,
        count,
        until: verdict.until,
      });
    else {
      entry.count += count;
      if (verdict.until !== null)
        entry.until = entry.until === null ? verdict.until : Math.min(entry.until, verdict.until);
    }
  }

  counts(): GateCounts {
    const entries = [...this.booked.values()];
    const sum = (list: { count: number }[]): number => list.reduce((n, e) => n + e.count, 0);
    const audience = this.passed + sum(entries);
    let through = audience;
    const posts = POSTS.map(({ no }): PostCount => {
      const here = entries.filter((e) => e.post === no);
      const hold = sum(here.filter((e) => e.result === 'hold'));
      const stop = sum(here.filter((e) => e.result === 'stop'));
      through -= hold + stop;
      return {
        post: no,
        pass: through,
        hold,
        stop,
        reasons: here
          .map(({ reason, result, count, until }) => ({ reason, result, count, until }))
          .sort((a, b) => b.count - a.count),
      };
    });
    const moments = entries.flatMap((e) => (e.result === 'hold' && e.until !== null ? [e.until] : []));
    return {
      audience,
      pass: this.passed,
      hold: sum(entries.filter((e) => e.result === 'hold')),
      stop: sum(entries.filter((e) => e.result === 'stop')),
      posts,
      nextAt: moments.length > 0 ? Math.min(...moments) : null,
      goodUntil: this.goodUntil,
    };
  }
}
