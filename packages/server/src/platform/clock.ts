import type { Db } from './db.js';
import { keepSetting, setting } from './setting-store.js';

/** Where the offset is kept; the history of what stood reads it too. */
const OFFSET = 'clock.offset';

/** What tells the time. All code takes one; nothing calls Date.now() for a business moment. */
export interface Clock {
  /** Scenario time, milliseconds since the epoch. */
  now(): number;
}

/** Runs at the wall's speed plus an offset that can be moved forward and is kept. */
export class ScenarioClock implements Clock {
  private constructor(
    private readonly db: Db,
    private offset: number,
  ) {}

  static async load(db: Db): Promise<ScenarioClock> {
    return new ScenarioClock(db, Number((await setting(db, OFFSET)) ?? 0));
  }

  now(): number {
    return Date.now() + this.offset;
  }

  /** Moves forward to `at`; going back is refused by doing nothing. */
  async moveTo(at: number): Promise<void> {
    const offset = Math.max(this.offset, at - Date.now());
    if (offset === this.offset) return;
    this.offset = offset;
    await this.db.write((w) => keepSetting(w, OFFSET, String(Math.round(offset))));
  }
}
