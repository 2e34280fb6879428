import { GENESIS, linkingOf, OLD_LINK } from '@long-gate/core';
import type { Reader } from '../../../platform/db.js';
import { serveText, textFromThread } from '../../../platform/thread.js';
import { sha256 } from '../ledger/ledger-check.js';
import { eventAt, eventOf, eventsAfter } from '../ledger/ledger-store.js';

const CHUNK = 2000;
/** What the last line begins with where the chain does not hold: the place of the first event that does not fit. */
const BROKEN = '!';

/** A chain of up to so many events is read by one thread. */
const SHORT = 20_000;

/** A chain up to an event, and the hash it was signed to come to. */
interface Signed {
  businessId: string;
  count: number;
  head: string;
}
/** Some of it: the events after a place, of which the last had this hash, up to another, which comes to that. */
interface Stretch extends Signed {
  after: number;
  before: string;
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
  const { businessId, count, head } = stretch;
  let { after, before: hash } = stretch;
  while (after < count) {
    const rows = await eventsAfter(r, businessId, after, Math.min(CHUNK, count - after));
    let lines = '';
    for (const event of rows.map(eventOf)) {
      const link = event.seq === after + 1 && event.prevHash === hash ? linkingOf(event, sha256) : null;
      if (link === null) break;
      lines += link === 'old' ? `${OLD_LINK}${event.hash}\n` : `${link.digest}\n`;
      after = event.seq;
      hash = event.hash;
    }
    yield lines;
    if (rows.at(-1)?.seq !== after || rows.length === 0) {
      yield `${BROKEN}${after + 1}`;
      return;
    }
  }
  if (hash !== head) yield `${BROKEN}${count}`;
}
serveText(import.meta.url, chainLines);

/**
 * The digests of a chain up to where it was signed, read in threads: a long chain in two, its halves joined by the hash
 * that stands between them; see {@link chainLines}.
 * @param short up to so many events one thread reads it.
 * @throws BrokenLedger where it is not what was signed; names the first event that does not fit.
 */
export async function chainDigests(r: Reader, place: string, signed: Signed, short = SHORT): Promise<Buffer> {
  const half = signed.count > short ? Math.floor(signed.count / 2) : 0;
  const middle = half > 0 ? await eventAt(r, signed.businessId, half) : undefined;
  const whole = { ...signed, after: 0, before: GENESIS };
  const stretches = middle
    ? [
        { ...whole, count: half, head: middle.hash },
        { ...whole, after: half, before: middle.hash },
      ]
    : [whole];
  const read = await Promise.allSettled(stretches.map((stretch) => stretchDigests(place, stretch)));
  return Buffer.concat(
    read.map((part) => {
      if (part.status === 'rejected') throw part.reason;
      return part.value;
    }),
  );
}

async function stretchDigests(place: string, stretch: Stretch): Promise<Buffer> {
  const pieces: Buffer[] = [];
  for await (const piece of textFromThread(new URL(import.meta.url), place, stretch)) {
    const broken = (piece as string).split('\n').at(-1)?.split(BROKEN)[1];
    if (broken !== undefined) throw new BrokenLedger(Number(broken));
    pieces.push(Buffer.from(piece as string));
  }
  return Buffer.concat(pieces);
}
