import { linkingOf, OLD_LINK } from '@long-gate/core';
import type { Reader } from '../../../platform/db.js';
import { serveText, textFromThread } from '../../../platform/thread.js';
import { sha256 } from '../ledger/ledger-check.js';
import { eventOf, eventsAfter } from '../ledger/ledger-store.js';

const CHUNK = 2000;
/** What the last line begins with where the chain does not hold: the place of the first event that does not fit. */
const BROKEN = '!';

/** Some of a chain: the events after one, which had this hash, up to another, which comes to that. */
export interface Stretch {
  businessId: string;
  afterSeq: number;
  lastSeq: number;
  hashBefore: string;
  lastHash: string;
}

/** The ledger is not what was signed: nothing is proven by it. */
export class BrokenLedger extends Error {
  constructor(seq: number) {
    super(
      `The ledger does not hold at event ${seq.toLocaleString('en-US')}: no proof is made of it. Verify the chain, and restore the ledger from a copy.`,
    );
  }
}

/** What is known of each event of some of a chain, in its order. */
export interface ChainPart {
  /** A line each: the digest by which it is linked, or its hash where it is linked in the old way. */
  digests: Buffer;
  /** Eight bytes each, by which whoever knows the number finds its events, {@link markOf}. */
  marks: Buffer;
}
export const MARK_BYTES = 8;

/** What marks the events of a number, in hex. */
export const markOf = (businessId: string, e164: string): string =>
  sha256(`${businessId}\n${e164}`).slice(0, 2 * MARK_BYTES);

/**
 * A line for each event of a stretch, its digest and its mark, see {@link ChainPart}. Says nothing of what the events say.
 * Ends where the chain does not hold.
 */
async function* chainLines(r: Reader, stretch: Stretch): AsyncGenerator<string> {
  const { businessId, lastSeq, lastHash } = stretch;
  let { afterSeq: seq, hashBefore: hash } = stretch;
  while (seq < lastSeq) {
    const rows = await eventsAfter(r, businessId, seq, Math.min(CHUNK, lastSeq - seq));
    let lines = '';
    for (const event of rows.map(eventOf)) {
      const link = event.seq === seq + 1 && event.prevHash === hash ? linkingOf(event, sha256) : null;
      if (link === null) break;
      lines += `${link === 'old' ? `${OLD_LINK}${event.hash}` : link.digest} ${markOf(businessId, event.e164)}\n`;
      seq = event.seq;
      hash = event.hash;
    }
    yield lines;
    if (rows.at(-1)?.seq !== seq || rows.length === 0) {
      yield `${BROKEN}${seq + 1}`;
      return;
    }
  }
  if (hash !== lastHash) yield `${BROKEN}${lastSeq}`;
}
serveText(import.meta.url, chainLines);

/**
 * What is known of a stretch, read from its events in a thread.
 * @throws BrokenLedger where it does not lead from one hash to the other; names the first event that does not fit.
 */
export async function readStretch(place: string, stretch: Stretch): Promise<ChainPart> {
  let [digests, marks] = ['', ''];
  for await (const piece of textFromThread(new URL(import.meta.url), place, stretch)) {
    const lines = (piece as string).split('\n');
    const broken = lines.pop()?.split(BROKEN)[1];
    if (broken !== undefined) throw new BrokenLedger(Number(broken));
    for (const line of lines) {
      const [digest = '', mark = ''] = line.split(' ');
      digests += `${digest}\n`;
      marks += mark;
    }
  }
  return { digests: Buffer.from(digests), marks: Buffer.from(marks, 'hex') };
}
