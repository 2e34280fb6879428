import type { Post } from '../post.js';
import { allowance } from './allowance.js';
import { consent } from './consent.js';
import { content } from './content.js';
import { country } from './country.js';
import { frequency } from './frequency.js';
import { hours } from './hours.js';
import { notOptedOut } from './not-opted-out.js';
import { numberCleared } from './number-cleared.js';
import { reachable } from './reachable.js';
import { textable } from './textable.js';
import { wellFormed } from './well-formed.js';

/** The gate: its posts in their order (rules.md, the gate). */
export const GATE = [
  wellFormed,
  country,
  textable,
  reachable,
  notOptedOut,
  consent,
  numberCleared,
  content,
  frequency,
  hours,
  allowance,
] as const;

export type PostKey = (typeof GATE)[number]['key'];
type ReasonsOf<P extends Post> = P extends Post ? keyof P['reasons'] & string : never;
export type ReasonCode = ReasonsOf<(typeof GATE)[number]>;

/** The posts as they are shown, by their number: the place in the gate, from one. */
export const POSTS: readonly { no: number; key: PostKey; label: string; short: string }[] = GATE.map(
  ({ key, label, short }, i) => ({ no: i + 1, key, label, short }),
);

/** The number of a post, by which verdicts name it. */
export function postNo(key: PostKey): number {
  return GATE.findIndex((p) => p.key === key) + 1;
}

/** What a post is called where it is shown; empty for a number that no post has. */
export function postLabel(no: number): string {
  return POSTS[no - 1]?.label ?? '';
}

/** Every answer other than pass: who gives it, the words shown, and what would lift it. */
export const REASONS = Object.fromEntries(
  GATE.flatMap((p, i) => Object.entries(p.reasons).map(([code, words]) => [code, { post: i + 1, ...words }])),
) as unknown as Record<ReasonCode, { post: number; why: string; lift: string }>;
