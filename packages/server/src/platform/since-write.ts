import type { Db } from './db.js';

/** So many are kept at most. */
const MOST = 1000;

/**
 * What many ask for at the same time, read once and good until anything at all is written: never older than the database
 * itself, since nobody but this process writes to it.
 */
export class SinceWrite<T> {
  private readonly known = new Map<string, Promise<T>>();
  private commits = -1;

  constructor(private readonly db: Db) {}

  /** @param read asks the database itself; what fails is asked again. */
  get(key: string, read: () => Promise<T>): Promise<T> {
    if (this.commits !== this.db.commits || this.known.size >= MOST) this.known.clear();
    this.commits = this.db.commits;
    const known = this.known.get(key);
    if (known) return known;
    const asked = read();
    this.known.set(key, asked);
    asked.catch(() => {
      if (this.known.get(key) === asked) this.known.delete(key);
    });
    return asked;
  }
}
