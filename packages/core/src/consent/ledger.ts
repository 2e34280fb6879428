import type { ConsentEvent } from './events.js';

/** An event as it stands in the ledger: linked to its predecessor. */
export interface LedgerEvent extends ConsentEvent {
  prevHash: string;
  hash: string;
}

/** Hash of the event before the first. */
export const GENESIS = '0'.repeat(64);

/**
 * The canonical form of an event: JSON with a fixed order of members and sorted evidence keys, no white space.
 * What is hashed is `prevHash + "\n" + canonical`. The field order is part of the format and never changes.
 */
export function canonicalEvent(e: ConsentEvent): string {
  const evidence = Object.keys(e.evidence)
    .sort()
    .map((k) => `${JSON.stringify(k)}:${JSON.stringify(e.evidence[k])}`)
    .join(',');
  return `{"id":${JSON.stringify(e.id)},"businessId":${JSON.stringify(e.businessId)},"seq":${e.seq},"e164":${JSON.stringify(e.e164)},"purposes":${JSON.stringify(e.purposes)},"kind":"${e.kind}","awaitsConfirmation":${e.awaitsConfirmation},"happenedAt":${e.happenedAt},"recordedAt":${e.recordedAt},"how":"${e.how}","disclosure":${JSON.stringify(e.disclosure)},"disclosureVersion":${JSON.stringify(e.disclosureVersion)},"evidence":{${evidence}},"recordedBy":${JSON.stringify(e.recordedBy)}}`;
}

export type Sha256 = (text: string) => string;

/** Links an event to the chain. @param sha256 hex digest of a UTF-8 text, handed in (native on the server). */
export function linkEvent(event: ConsentEvent, prevHash: string, sha256: Sha256): LedgerEvent {
  return { ...event, prevHash, hash: sha256(`${prevHash}\n${canonicalEvent(event)}`) };
}

export type LedgerVerdict =
  | { ok: true; count: number; head: string }
  | { ok: false; brokenAt: number; eventId: string; reason: 'sequence' | 'link' | 'content'; message: string };

/** Checks a chain piece by piece, so that a long ledger need not be in memory at once. */
export class LedgerVerifier {
  private head = GENESIS;
  private count = 0;
  constructor(private readonly sha256: Sha256) {}

  /** Takes the next event; answers the verdict on the first broken link, else null. */
  take(event: LedgerEvent): LedgerVerdict | null {
    this.count++;
    const broken = (reason: 'sequence' | 'link' | 'content', message: string): LedgerVerdict => ({
      ok: false,
      brokenAt: this.count,
      eventId: event.id,
      reason,
      message,
    });
    if (event.seq !== this.count)
      return broken('sequence', `Event ${this.count} is missing: the next on file says it is number ${event.seq}.`);
    if (event.prevHash !== this.head) return broken('link', `Event ${this.count} does not follow its predecessor.`);
    if (this.sha256(`${event.prevHash}\n${canonicalEvent(event)}`) !== event.hash)
      return broken('content', `The content of event ${this.count} was changed after it was recorded.`);
    this.head = event.hash;
    return null;
  }

  done(): LedgerVerdict {
    return { ok: true, count: this.count, head: this.head };
  }
}

/** Verifies a whole chain; names the first broken link. */
export function verifyLedger(events: Iterable<LedgerEvent>, sha256: Sha256): LedgerVerdict {
  const verifier = new LedgerVerifier(sha256);
  for (const event of events) {
    const broken = verifier.take(event);
    if (broken) return broken;
  }
  return verifier.done();
}
