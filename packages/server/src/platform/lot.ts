import type { Db, Writer } from './db.js';

/**
 * Long work is done in lots, each in a write of its own; whoever else wants to write waits about so long for one. Where
 * nobody has for a while, lots are longer: each waits for the disk at its end.
 */
const HOLDS_MS = { beside: 40, alone: 80 };
/** So many lots after somebody waited, a second's worth, nobody has for a while. */
const A_WHILE = 25;
const LEAST = 50;

/** How many things to take at once, so that a lot holds the queue of writes for a moment only, on any machine. */
export class Lot {
  private n: number;
  private sinceAwaited = 0;

  /** @param most at most so many at once, where a lot is quick. */
  constructor(private readonly most = 2000) {
    this.n = Math.min(most, 200);
  }

  get size(): number {
    return this.n;
  }

  private get holds(): number {
    return this.sinceAwaited < A_WHILE ? HOLDS_MS.beside : HOLDS_MS.alone;
  }

  /**
   * Does one lot of the present size in a write of its own, and waits until it is on disk; the next is larger or smaller
   * by what this one took from its beginning to there.
   * @param things how many there were, where fewer could be had: a lot that was not full says nothing of a full one.
   */
  async write<T>(
    db: Pick<Db, 'write' | 'isAwaited'>,
    work: (w: Writer, size: number) => Promise<T>,
    things = this.n,
  ): Promise<T> {
    return db.write((w) => {
      const at = performance.now();
      const full = things === this.n;
      w.afterCommit(() => {
        const took = performance.now() - at;
        this.sinceAwaited = db.isAwaited() ? 0 : this.sinceAwaited + 1;
        if (full || took > this.holds) this.took(took);
      });
      return work(w, this.n);
    });
  }

  /** @param ms how long the last lot took; at most doubled or quartered at a time. */
  took(ms: number): void {
    const by = Math.min(2, Math.max(0.25, this.holds / Math.max(ms, 1)));
    this.n = Math.round(Math.min(this.most, Math.max(LEAST, this.n * by)));
  }
}
