import type { Allowance, GateRules, MessageFacts, Subject, TextKind } from './facts.js';

export const RESULTS = ['pass', 'hold', 'stop'] as const;
export type Result = (typeof RESULTS)[number];

/** What a post is asked: whether this text may go to this person now. */
export interface Question {
  subject: Subject;
  message: MessageFacts;
  rules: GateRules;
  /** What is left before this text. */
  allowance: Allowance;
}

/** A fact that a post reads; whatever it does not read cannot change its answer. */
export type Read =
  | `subject.${keyof Subject}`
  | `message.${keyof MessageFacts}`
  | `rules.${keyof GateRules}`
  | `allowance.${keyof Allowance}`;

/** A pass may end by the clock, and a hold by time: `until`, milliseconds. */
export type PostAnswer<R extends string = string> =
  { result: 'pass'; until?: number } | { result: 'hold'; reason: R; until?: number } | { result: 'stop'; reason: R };

/** One of the posts a text must come past (rules.md, the gate). */
export interface Post<K extends string = string, R extends string = string> {
  readonly key: K;
  readonly label: string;
  readonly short: string;
  readonly reads: readonly Read[];
  /** Kinds of text that this post is not asked about. */
  readonly notAsked: readonly TextKind[];
  /** Every answer other than pass, with the words shown and what would lift it. */
  readonly reasons: Readonly<Record<R, { why: string; lift: string }>>;
  readonly ask: (q: Question) => PostAnswer<R>;
}

/** A post, with its key and reasons kept as the words they are. */
export function post<const K extends string, const R extends string>(p: Post<K, R>): Post<K, R> {
  return p;
}

export const PASS = { result: 'pass' } as const;
export const hold = <R extends string>(reason: R): { result: 'hold'; reason: R } => ({ result: 'hold', reason });
/** @param until the moment it waits for, milliseconds. */
export const holdUntil = <R extends string>(
  reason: R,
  until: number,
): { result: 'hold'; reason: R; until: number } => ({
  result: 'hold',
  reason,
  until,
});
export const stop = <R extends string>(reason: R): { result: 'stop'; reason: R } => ({ result: 'stop', reason });
