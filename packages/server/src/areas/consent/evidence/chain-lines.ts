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

/**
 * A line for each event of a stretch: the digest by which it is linked, or its hash where it is linked in the old way.
 * Says nothing of what the events say. Ends where the chain does not hold.
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
      lines += link === 'old' ? `${OLD_LINK}${event.hash}\n` : `${link.digest}\n`;
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
 * The digests of a stretch, read from its events in a thread; see {@link chainLines}.
 * @throws BrokenLedger where it does not lead from one hash to the other; names the first event that does not fit.
 */
export async function stretchLines(place: string, stretch: Stretch): Promise<Buffer> {
  const pieces: Buffer[] = [];
  for await (const piece of textFromThread(new URL(import.meta.url), place, stretch)) {
    const broken = (piece as string).split('\n').at(-1)?.split(BROKEN)[1];
    if (broken !== undefined) throw new BrokenLedger(Number(broken));
    pieces.push(Buffer.from(piece as string));
  }
  return Buffer.concat(pieces);
}
