import type { Allowance, GateRules, MessageFacts, Subject } from './facts.js';
import type { Read, Result } from './post.js';
import { consent } from './posts/consent.js';
import { country } from './posts/country.js';
import { notOptedOut } from './posts/not-opted-out.js';
import { postNo, type ReasonCode } from './posts/index.js';
import { reachable } from './posts/reachable.js';
import { textable } from './posts/textable.js';

/** The posts that ask about the person alone, whatever is written and by which number it leaves. */
export const PERSON_POSTS = [country, textable, reachable, notOptedOut, consent] as const;
/** What is known where nothing is written yet; more than this none of these posts reads. */
export const KNOWN_READS: readonly Read[] = ['message.kind', 'message.purpose', 'rules.openCountries', 'rules.at'];

/** A kind of text that a dispatch can be. */
export type CoveredPurpose = 'informational' | 'promotional';

/** What keeps texts of a kind from somebody: the first post that gives the worst answer, as the gate decides. */
export interface Kept {
  post: number;
  result: Exclude<Result, 'pass'>;
  reason: ReasonCode;
}

/**
 * What the gate would say of a person before anything is written; null where nothing about them keeps the text.
 * @param subject only what these posts read of it matters.
 */
export function keptBy(
  subject: Partial<Subject>,
  purpose: CoveredPurpose,
  rules: Pick<GateRules, 'openCountries' | 'at'>,
): Kept | null {
  const question = {
    subject: subject as Subject,
    message: { kind: 'dispatch', purpose } as MessageFacts,
    rules: rules as GateRules,
    allowance: {} as Allowance,
  };
  const answers = PERSON_POSTS.map((p) => ({ post: postNo(p.key), ...p.ask(question) }));
  const worst = answers.find((a) => a.result === 'stop') ?? answers.find((a) => a.result === 'hold');
  return worst ? { post: worst.post, result: worst.result, reason: worst.reason } : null;
}

/** How many of some people may be texted for a purpose, and what keeps the rest; it adds up to all of them. */
export interface Coverage {
  may: number;
  kept: (Kept & { count: number })[];
}

/** Judges each class once; reasons come in the order of the gate, the most people first within a post. */
export function coverageOf(
  classes: readonly { subject: Partial<Subject>; count: number }[],
  purpose: CoveredPurpose,
  rules: Pick<GateRules, 'openCountries' | 'at'>,
): Coverage {
  const out: Coverage = { may: 0, kept: [] };
  for (const { subject, count } of classes) {
    const by = keptBy(subject, purpose, rules);
    if (!by) {
      out.may += count;
      continue;
    }
    const same = out.kept.find((k) => k.reason === by.reason && k.result === by.result);
    if (same) same.count += count;
    else out.kept.push({ ...by, count });
  }
  out.kept.sort((a, b) => a.post - b.post || b.count - a.count || a.reason.localeCompare(b.reason));
  return out;
}
