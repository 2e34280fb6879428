import { GENESIS, linkingOf, OLD_LINK, type LedgerEvent } from '@long-gate/core';
import { lotsOf } from '../../../platform/bulk.js';
import type { Platform } from '../../../platform/platform.js';
import { sha256 } from '../ledger/ledger-check.js';
import { eventAt } from '../ledger/ledger-store.js';
import { BrokenLedger, MARK_BYTES, markOf, readStretch, type ChainPart, type Stretch } from './chain-lines.js';
import { keepStretch, lastKept, stretchesAfter } from './chain-store.js';

/** So many events at once are read from the ledger by a thread, and kept together. */
const STRETCH = 10_000;
/** So many stretches are read side by side. */
const THREADS = 2;
/** So many kept stretches are read at once. */
const READ = 16;

/** A chain up to an event, and the hash it was signed to come to. */
export interface SignedChain {
  businessId: string;
  count: number;
  head: string;
}

/**
 * The digests of a ledger's events, by which its chain is followed without being told what they say. Of a long ledger they
 * are kept in stretches, each signed once its events were found whole: what was recorded long ago is not read anew for
 * each pack, nor can a change of it afterwards pass for what was recorded.
 */
export class ChainDigests {
  /** @param stretch how many events make one; another number only in specs. */
  constructor(
    private readonly p: Platform,
    private readonly stretch = STRETCH,
  ) {}

  /**
   * What is known of all events up to where a chain was signed.
   * @throws BrokenLedger where the ledger is not what was signed; names the first event that does not fit.
   */
  async upTo(signed: SignedChain): Promise<ChainPart> {
    const parts: ChainPart[] = [];
    const { seq, hash } = await this.kept(signed, (part) => parts.push(part));
    await this.readOn(signed, seq, hash, signed.count, (part) => parts.push(part));
    return {
      digests: Buffer.concat(parts.map((x) => x.digests)),
      marks: Buffer.concat(parts.map((x) => x.marks)),
    };
  }

  /** Whether so much was signed since that there is something to {@link keep}. */
  async isBehind({ businessId, count }: SignedChain): Promise<boolean> {
    return count - (await lastKept(this.p.db, businessId)) >= this.stretch;
  }

  /**
   * Keeps what is whole and was not kept yet, as {@link upTo} does by the way.
   * @param enough asked between one part and the next; what was kept by then stays.
   * @returns whether all of it is kept.
   * @throws BrokenLedger as {@link upTo} does.
   */
  async keep(signed: SignedChain, enough: () => boolean = () => false): Promise<boolean> {
    const { seq, hash } = await this.kept(signed, () => undefined);
    const upTo = signed.count - ((signed.count - seq) % this.stretch);
    return this.readOn(signed, seq, hash, upTo, () => undefined, enough);
  }

  /** Goes through what is kept for as long as each stretch follows the one before and bears our signature. */
  private async kept(
    { businessId, count, head }: SignedChain,
    take: (part: ChainPart) => void,
  ): Promise<{ seq: number; hash: string }> {
    let [seq, hash] = [0, GENESIS];
    for (;;) {
      const stretches = await stretchesAfter(this.p.db, businessId, seq, READ);
      for (const s of stretches) {
        const holds =
          s.afterSeq === seq &&
          s.hashBefore === hash &&
          s.lastSeq <= count &&
          (s.lastSeq < count || s.lastHash === head) &&
          this.p.heads.holds(signedOf(s, s), s.signature);
        if (!holds) return { seq, hash };
        take({ digests: s.digests, marks: s.marks });
        seq = s.lastSeq;
        hash = s.lastHash;
      }
      if (stretches.length < READ) return { seq, hash };
    }
  }

  /** Reads the events after one, up to another, and keeps each stretch that is whole; false where it was enough before. */
  private async readOn(
    { businessId, count, head }: SignedChain,
    seq: number,
    hash: string,
    upTo: number,
    take: (part: ChainPart) => void,
    enough: () => boolean = () => false,
  ): Promise<boolean> {
    const stretches: Stretch[] = [];
    for (let [afterSeq, hashBefore] = [seq, hash]; afterSeq < upTo;) {
      const lastSeq = Math.min(afterSeq + this.stretch, upTo);
      const lastHash = lastSeq === count ? head : ((await eventAt(this.p.db, businessId, lastSeq))?.hash ?? '');
      stretches.push({ businessId, afterSeq, lastSeq, hashBefore, lastHash });
      [afterSeq, hashBefore] = [lastSeq, lastHash];
    }
    for (const some of lotsOf(stretches, THREADS)) {
      if (enough()) return false;
      const read = await Promise.allSettled(some.map((s) => readStretch(this.p.db.place, s)));
      for (const [i, s] of some.entries()) {
        const part = read[i];
        if (part?.status !== 'fulfilled') throw part?.reason;
        take(part.value);
        if (s.lastSeq - s.afterSeq === this.stretch) await this.keepOne(s, part.value);
      }
    }
    return true;
  }

  private async keepOne(s: Stretch, part: ChainPart): Promise<void> {
    const signature = this.p.heads.signature(signedOf(s, part));
    await this.p.db.write((w) => keepStretch(w, { ...s, ...part, signature }));
  }
}

/** How many bytes a digest has with its line feed; one more where it begins with what marks an old link. */
const LINE = 65;
const OLD = OLD_LINK.charCodeAt(0);

/** So many events are gone through at once. */
const AT_ONCE = 100_000;

/** What is signed of a stretch. */
const signedOf = (s: Stretch, { digests, marks }: ChainPart): Buffer =>
  Buffer.concat([
    Buffer.from(
      `stretch:${s.businessId}\n${s.afterSeq}\n${s.lastSeq}\n${s.hashBefore}\n${s.lastHash}\n${digests.length}\n`,
    ),
    digests,
    marks,
  ]);

/**
 * Holds the events of some numbers against what is known of all of a ledger: that all of them are here, and each is as it
 * was recorded.
 * @param events of these numbers, in the order of the chain.
 * @throws BrokenLedger naming the first that is not here, or other than its digest.
 */
export async function holdAgainst(
  { digests, marks }: ChainPart,
  businessId: string,
  numbers: readonly string[],
  events: readonly LedgerEvent[],
): Promise<void> {
  const wanted = new Set(numbers.map((e164) => markOf(businessId, e164)));
  const beginnings = new Set([...wanted].map((mark) => Buffer.from(mark, 'hex').readUInt32LE()));
  const here = new Map(events.map((e) => [e.seq, e]));
  let at = 0;
  for (let seq = 1; at < digests.length; seq++) {
    const end = at + (digests[at] === OLD ? LINE + 1 : LINE);
    const mark = (seq - 1) * MARK_BYTES;
    const event = here.get(seq);
    if (event) {
      const line = digests.toString('latin1', at, end - 1);
      const link = linkingOf(event, sha256);
      const fits = link === 'old' ? line === `${OLD_LINK}${event.hash}` : link !== null && line === link.digest;
      if (!fits) throw new BrokenLedger(seq);
    } else if (beginnings.has(marks.readUInt32LE(mark)) && wanted.has(marks.toString('hex', mark, mark + MARK_BYTES)))
      throw new BrokenLedger(seq);
    at = end;
    // Others have their turn.
    if (seq % AT_ONCE === 0) await new Promise((resolve) => setImmediate(resolve));
  }
}
