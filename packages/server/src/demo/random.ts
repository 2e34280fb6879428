import { seeded } from '@long-gate/core';

/** Draws for the demo data: the same for the same words, at every start. */
export class Seeded {
  /** In [0, 1). */
  readonly next: () => number;
  constructor(words: string) {
    this.next = seeded([...words].reduce((h, c) => Math.imul(h ^ c.charCodeAt(0), 16777619) >>> 0, 2166136261));
  }
  chance(p: number): boolean {
    return this.next() < p;
  }
  between(from: number, to: number): number {
    return from + this.next() * (to - from);
  }
  int(from: number, to: number): number {
    return Math.floor(this.between(from, to + 1));
  }
  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.next() * list.length)] as T;
  }
  shuffle<T>(list: readonly T[]): T[] {
    const out = [...list];
    for (let i = out.length - 1; i > 0; i--) {
      const j = Math.floor(this.next() * (i + 1));
      [out[i], out[j]] = [out[j] as T, out[i] as T];
    }
    return out;
  }
}
