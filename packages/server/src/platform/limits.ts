import { createHash } from 'node:crypto';
import type { Reader, Writer } from './db.js';
import { actsSince, forgetActs, forgiveActs, noteAct } from './limits-store.js';
import { Problem } from './problem.js';

/** At most `most` acts under one name in any `withinMs` of wall time. */
export interface Limit {
  /** What is done, such as `sign-in`. */
  act: string;
  /** To whom or from where; kept as a hash. */
  who: string;
  most: number;
  withinMs: number;
}

export const MINUTE_MS = 60_000;
export const DAY_MS = 86_400_000;

const nameOf = (l: Limit): string => `${l.act} ${createHash('sha256').update(l.who).digest('hex')}`;

/**
 * Limits that hold across restarts, counted by account, number and address together. Nothing is kept longer than the
 * longest of them, a day.
 */
export class Limits {
  /** Whether one of these is used up. */
  async full(r: Reader, limits: readonly Limit[]): Promise<boolean> {
    for (const l of limits) if ((await actsSince(r, nameOf(l), Date.now() - l.withinMs)) >= l.most) return true;
    return false;
  }

  /** Counts one act under each. */
  async note(w: Writer, limits: readonly Limit[]): Promise<void> {
    const now = Date.now();
    await forgetActs(w, now - DAY_MS);
    for (const l of limits) await noteAct(w, nameOf(l), now);
  }

  /** Takes a place under each. @throws Problem 429 where one is used up; nothing is counted then. */
  async take(w: Writer, limits: readonly Limit[], message: string): Promise<void> {
    if (await this.full(w, limits)) throw new Problem(429, 'too-many', message);
    await this.note(w, limits);
  }

  /** What was counted under this limit is forgotten. */
  async forgive(w: Writer, limit: Limit): Promise<void> {
    await forgiveActs(w, nameOf(limit));
  }
}
