import type { ConsentEvent } from './events.js';

/** An event as it stands in the ledger: linked to its predecessor. */
export interface LedgerEvent extends ConsentEvent {
  prevHash: string;
  hash: string;
}

/** Hash of the event before the first. */
export const GENESIS = '0'.repeat(64);

/**
 * The canonical form of an event: JSON with a fixed order of members and sorted evidence keys, no white space. The field
 * order is part of the format and never changes.
 */
export function canonicalEvent(e: ConsentEvent): string {
  const evidence = Object.keys(e.evidence)
    .sort()
    .map((k) => `${quoted(k)}:${quoted(e.evidence[k] ?? '')}`)
    .join(',');
  const purposes = e.purposes.map(quoted).join(',');
  return `{"id":${quoted(e.id)},"businessId":${quoted(e.businessId)},"seq":${e.seq},"e164":${quoted(e.e164)},"purposes":[${purposes}],"kind":"${e.kind}","awaitsConfirmation":${e.awaitsConfirmation},"happenedAt":${e.happenedAt},"recordedAt":${e.recordedAt},"how":"${e.how}","disclosure":${quoted(e.disclosure)},"disclosureVersion":${quoted(e.disclosureVersion)},"evidence":{${evidence}},"recordedBy":${quoted(e.recordedBy)}}`;
}

/** What JSON writes as it stands, which nearly all is: to see that takes three fifths of the time of writing it so. */
const AS_IT_STANDS = /^[ !#-[\]-~]*$/;
const quoted = (text: string): string => (AS_IT_STANDS.test(text) ? `"${text}"` : JSON.stringify(text));

/** An event with its two hashes as a line of a file: without its last two members it is the canonical form. */
export function ledgerLine(e: LedgerEvent): string {
  return `${canonicalEvent(e).slice(0, -1)},"prevHash":"${e.prevHash}","hash":"${e.hash}"}`;
}

export type Sha256 = (text: string) => string;

/**
 * The hash of an event whose canonical form has this digest, after its predecessor's: `prevHash + "\n" + digest`. A chain
 * can so be walked by whoever is shown the digests alone, and learns nothing of what the events say.
 */
export function linkHash(prevHash: string, digest: string, sha256: Sha256): string {
  return sha256(`${prevHash}\n${digest}`);
}

/** Links an event to the chain. @param sha256 hex digest of a UTF-8 text, handed in (native on the server). */
export function linkEvent(event: ConsentEvent, prevHash: string, sha256: Sha256): LedgerEvent {
  // Member by member: a copy by spreading is slow to make, and slow to read ever after.
  return {
    id: event.id,
    businessId: event.businessId,
    seq: event.seq,
    e164: event.e164,
    purposes: event.purposes,
    kind: event.kind,
    awaitsConfirmation: event.awaitsConfirmation,
    happenedAt: event.happenedAt,
    recordedAt: event.recordedAt,
    how: event.how,
    disclosure: event.disclosure,
    disclosureVersion: event.disclosureVersion,
    evidence: event.evidence,
    recordedBy: event.recordedBy,
    prevHash,
    hash: linkHash(prevHash, sha256(canonicalEvent(event)), sha256),
  };
}

/**
 * How an event is linked: by the digest of its canonical form; `old` by the form itself, as the first ledgers were, which
 * still holds but cannot be followed by its digest; null where its content does not fit its hash.
 */
export function linkingOf(event: LedgerEvent, sha256: Sha256): { digest: string } | 'old' | null {
  const canonical = canonicalEvent(event);
  const digest = sha256(canonical);
  if (linkHash(event.prevHash, digest, sha256) === event.hash) return { digest };
  return sha256(`${event.prevHash}\n${canonical}`) === event.hash ? 'old' : null;
}

/** What was signed of a chain: after `count` events its last hash was `head`. */
export interface SignedHead {
  count: number;
  head: string;
}

export type LedgerFault =
  /** An event is missing in between. */
  | 'sequence'
  /** It does not follow its predecessor. */
  | 'link'
  /** It was changed after it was recorded. */
  | 'content'
  /** It belongs to another business. */
  | 'business'
  /** It cannot be read as an event. */
  | 'unreadable'
  /** The chain is whole in itself, and another than was signed: it was written anew. */
  | 'head'
  /** The chain ends before a signed head: its end was cut off. */
  | 'tail';

export type LedgerVerdict =
  | { ok: true; count: number; head: string }
  | { ok: false; brokenAt: number; eventId: string; reason: LedgerFault; message: string };

/**
 * Checks a chain piece by piece, so that a long ledger need not be in memory at once. A chain by itself shows what was
 * changed in it, not that all of it was written anew or that its end is gone: that the signed heads show, which are kept
 * apart from it.
 */
export class LedgerVerifier {
  private head: string;
  private count: number;
  private readonly signed: ReadonlyMap<number, string>;
  private readonly longest: number;

  /**
   * @param heads signed heads of this chain whose signatures hold.
   * @param businessId whose chain it is; the first event says it where none is given.
   * @param from where in the chain to begin: after so many events, the last of which has this hash.
   */
  constructor(
    private readonly sha256: Sha256,
    heads: readonly SignedHead[] = [],
    private businessId = '',
    from: SignedHead = { count: 0, head: GENESIS },
  ) {
    this.count = from.count;
    this.head = from.head;
    this.signed = new Map(heads.map((h) => [h.count, h.head]));
    this.longest = heads.reduce((n, h) => Math.max(n, h.count), 0);
  }

  /** Takes the next event; answers the verdict on the first broken link, else null. */
  take(event: LedgerEvent): LedgerVerdict | null {
    this.count++;
    const broken = (reason: LedgerFault, message: string): LedgerVerdict => ({
      ok: false,
      brokenAt: this.count,
      eventId: event.id,
      reason,
      message,
    });
    if (event.seq !== this.count)
      return broken('sequence', `Event ${this.count} is missing: the next on file says it is number ${event.seq}.`);
    this.businessId ||= event.businessId;
    if (event.businessId !== this.businessId)
      return broken('business', `Event ${this.count} belongs to another business.`);
    if (event.prevHash !== this.head) return broken('link', `Event ${this.count} does not follow its predecessor.`);
    if (linkingOf(event, this.sha256) === null)
      return broken('content', `The content of event ${this.count} was changed after it was recorded.`);
    this.head = event.hash;
    const signed = this.signed.get(this.count);
    if (signed !== undefined && signed !== event.hash)
      return broken(
        'head',
        `The chain up to event ${this.count} is another than the one whose head was signed: it was written anew.`,
      );
    return null;
  }

  /** An event that cannot be parsed. */
  unreadable(why: string): LedgerVerdict {
    return {
      ok: false,
      brokenAt: this.count + 1,
      eventId: '',
      reason: 'unreadable',
      message: `Event ${this.count + 1} cannot be read: ${why}`,
    };
  }

  done(): LedgerVerdict {
    if (this.longest > this.count)
      return {
        ok: false,
        brokenAt: this.count + 1,
        eventId: '',
        reason: 'tail',
        message: `The chain ends after event ${this.count}, but a head of ${this.longest} events was signed: its end is missing.`,
      };
    return { ok: true, count: this.count, head: this.head };
  }
}

/** Verifies a whole chain, beside its signed heads; names the first broken link. */
export function verifyLedger(
  events: Iterable<LedgerEvent>,
  sha256: Sha256,
  heads: readonly SignedHead[] = [],
): LedgerVerdict {
  const verifier = new LedgerVerifier(sha256, heads);
  for (const event of events) {
    const broken = verifier.take(event);
    if (broken) return broken;
  }
  return verifier.done();
}
