import type { Purpose } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import type { ContactNumberModel } from './model.js';
import { digestsOf, knownDigest, numberDigest } from './number-digest.js';
import * as store from './refusals-store.js';

type Said = readonly { e164: string; purposes: readonly Purpose[] }[];

/** What people refused, for all of their numbers, and for as long as these are nobody's here. */
export class Refusals {
  constructor(private readonly p: Platform) {}

  /**
   * What people said by one of their numbers, for their other numbers: who leaves by one has left; who agrees by a
   * number itself may be texted there again, whatever they refused elsewhere before.
   */
  async spread(w: Writer, businessId: string, { left, agreed }: Record<'left' | 'agreed', Said>): Promise<void> {
    const rows = (events: Said): [string, number][] =>
      events.map((e) => [e.e164, store.refusedBits(e.purposes)] as [string, number]).filter(([, bits]) => bits > 0);
    if (left.length > 0) await store.refuseElsewhere(w, businessId, rows(left));
    if (agreed.length === 0) return;
    await store.agreedHere(w, businessId, rows(agreed));
    if (!(await store.hasKeptRefusals(w, businessId))) return;
    const digests = rows(agreed).map(([e164, bits]) => [numberDigest(businessId, e164), bits] as const);
    await store.agreedWhileGone(w, businessId, digests);
  }

  /** Purposes that are barred for a number because its owner refused them on another of theirs. */
  async elsewhere(r: Reader, businessId: string, e164: string): Promise<('informational' | 'promotional')[]> {
    return store.refusedPurposes(await store.refusedBitsOf(r, businessId, e164));
  }

  /** Numbers are about to be taken away: what stands against them is kept. */
  async keep(w: Writer, businessId: string, numbers: readonly ContactNumberModel[]): Promise<void> {
    const standing = numbers.map((n) => ({
      digest: numberDigest(businessId, n.e164),
      byOwner: n.trouble === 'refused-by-owner',
      elsewhere: n.refusedElsewhere,
    }));
    await store.keepRefusals(w, businessId, standing, this.p.clock.now());
  }

  /** Numbers came: what was kept of them stands from their first moment. */
  async restore(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
    if (!(await store.hasKeptRefusals(w, businessId))) return;
    const all = e164s.flatMap((e164) => digestsOf(businessId, e164).map((digest) => [e164, digest] as const));
    await store.restoreRefusals(w, businessId, all);
  }

  /** Carriers said that the owners of these numbers refuse; of those that nobody has it is kept until they come again. */
  async byOwners(w: Writer, businessId: string, e164s: readonly string[], at: number): Promise<void> {
    const gone = await store.nobodysAmong(w, businessId, e164s);
    const digests = gone.map((e164) => knownDigest(businessId, e164));
    if (digests.length > 0) await store.refusedWhileGone(w, businessId, digests, at);
  }
}
