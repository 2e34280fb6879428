import type { Db } from './db.js';

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
    const row = await db.one<{ value: string }>(`SELECT value FROM setting WHERE name = 'clock.offset'`);
    return new ScenarioClock(db, Number(row?.value ?? 0));
  }

  now(): number {
    return Date.now() + this.offset;
  }

  /** Moves forward to `at`; going back is refused by doing nothing. */
  async moveTo(at: number): Promise<void> {
    const offset = Math.max(this.offset, at - Date.now());
    if (offset === this.offset) return;
    this.offset = offset;
    await this.db.write((w) =>
      w.run(
        `INSERT INTO setting (name, value) VALUES ('clock.offset', $1) ON CONFLICT (name) DO UPDATE SET value = $1`,
        [String(Math.round(offset))],
      ),
    );
  }
}
