import { openReader, type Db } from './db.js';
import type { Kept } from './kept-counts-store.js';

/** What came of checking one thing that is counted as it changes. */
export interface Recounted {
  what: string;
  /** How many counts were other than their rows say. */
  differing: number;
}

/** Everything that is counted as it changes, each thing told by the area whose rows it counts. */
export class KeptCounts {
  private readonly all: Kept[] = [];

  add(...kept: readonly Kept[]): void {
    this.all.push(...kept);
  }

  /** Holds each count against its rows, one after the other, and counts anew where they differ, if that is asked for. */
  async *check(db: Db, mend: boolean): AsyncGenerator<Recounted> {
    const r = await openReader(db.place, true);
    try {
      for (const kept of this.all) {
        const differing = await kept.differing(r);
        if (mend && differing > 0) await db.write((w) => kept.recount(r, w));
        yield { what: kept.what, differing };
      }
    } finally {
      await r.close();
    }
  }
}
