/**
 * Requests that are on their way to the outside. Who takes something back (cancels, switches off) answers only when
 * those that had begun before are over: what is said to be stopped has stopped.
 */
export class InFlight {
  private readonly open = new Set<Promise<unknown>>();

  async track<T>(work: Promise<T>): Promise<T> {
    this.open.add(work);
    try {
      return await work;
    } finally {
      this.open.delete(work);
    }
  }

  /** Waits for what has begun by now, at most so long (wall time). */
  async settled(mostMs: number): Promise<void> {
    if (this.open.size === 0) return;
    let timer: NodeJS.Timeout | undefined;
    const enough = new Promise<void>((resolve) => (timer = setTimeout(resolve, mostMs)));
    await Promise.race([Promise.allSettled([...this.open]), enough]);
    clearTimeout(timer);
  }
}
