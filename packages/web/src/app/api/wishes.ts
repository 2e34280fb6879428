import { sha256Of } from './digest';

/**
 * The keys of wishes that cost or send: one from the first try to its answer, also after a reload of the page, so that
 * pressing again after a lost answer never does it twice.
 */
export class Wishes {
  /** Where the browser keeps nothing, this page does. */
  private readonly here = new Map<string, string>();

  keyOf(name: string): string {
    const known = this.here.get(name) ?? read(name);
    if (known) return known;
    const key = crypto.randomUUID();
    this.here.set(name, key);
    write(name, key);
    return key;
  }

  /** Whoever signs out leaves none behind: another person's same wish is another. */
  forget(): void {
    this.here.clear();
    try {
      for (const name of Object.keys(sessionStorage)) if (isDigest(name)) sessionStorage.removeItem(name);
    } catch {
      // A browser that keeps nothing.
    }
  }

  /** It has an answer: the same again would be another wish. */
  settled(name: string): void {
    this.here.delete(name);
    write(name, null);
  }
}

/**
 * A name for a wish, the same while its address and what it carries are. What is carried cannot be read from it, but
 * where the page was not loaded safely and the browser has no digest: there it is the wish itself and stays on the page.
 */
export async function nameOf(wish: string): Promise<string> {
  const digest = await sha256Of(new TextEncoder().encode(wish));
  return digest === null ? wish : `wish ${digest}`;
}

const isDigest = (name: string): boolean => /^wish [0-9a-f]{64}$/.test(name);

function read(name: string): string | null {
  try {
    return isDigest(name) ? sessionStorage.getItem(name) : null;
  } catch {
    return null;
  }
}

function write(name: string, key: string | null): void {
  try {
    if (!isDigest(name)) return;
    if (key === null) sessionStorage.removeItem(name);
    else sessionStorage.setItem(name, key);
  } catch {
    // A browser that keeps nothing.
  }
}
