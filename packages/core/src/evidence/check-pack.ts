import { foldConsent } from '../consent/fold.js';
import { PURPOSES } from '../consent/events.js';
import { GENESIS, ledgerLine, linkHash, linkingOf, type LedgerEvent, type Sha256 } from '../consent/ledger.js';
import { escaped } from '../public-page/escaped.js';
import { readArchive } from './archive.js';
import {
  EVIDENCE_FILES,
  fingerprintOf,
  OLD_LINK,
  PACK_FILES,
  PACK_FORMAT,
  PAGES,
  type PackManifest,
  type NumberStanding,
} from './pack.js';

/** What the checker is handed: hashing and signatures, native or in script. */
export interface CheckTools {
  /** SHA-256 of a text in UTF-8, hex. */
  sha256: Sha256;
  /** SHA-256 of bytes, hex. */
  digest: (bytes: Uint8Array) => string;
  /** Whether an Ed25519 signature of a message bears the name of that raw public key of 32 bytes. */
  verify: (publicKey: Uint8Array, message: Uint8Array, signature: Uint8Array) => boolean;
}

/** One question that was put to a pack, and its answer in a sentence. */
export interface PackCheck {
  what: 'archive' | 'signature' | 'files' | 'heads' | 'chain' | 'events' | 'standing' | 'documents';
  ok: boolean;
  words: string;
}
export interface PackVerdict {
  ok: boolean;
  /** In the order asked; after one that fails no more are. */
  checks: PackCheck[];
  /** Null where it could not be read. */
  manifest: PackManifest | null;
  /** Of the key that signed it, to be compared with what the business says its own is. */
  fingerprint: string;
}

interface Head {
  chain: string;
  count: number;
  head: string;
  at: number;
  signature: string;
}

class Unfit extends Error {}
const unless = (fits: boolean, words: string): void => {
  if (!fits) throw new Unfit(words);
};
const n = (count: number): string => count.toLocaleString('en-US');
const textOf = (bytes: Uint8Array): string => new TextDecoder('utf-8', { fatal: true }).decode(bytes);
const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const fromBase64 = (text: string): Uint8Array => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
const linesOf = (text: string): string[] => (text === '' ? [] : text.replace(/\n$/, '').split('\n'));

/** The raw key of an Ed25519 public key in PEM (RFC 8410: the last 32 bytes of its 44). */
function keyOf(pem: string): Uint8Array {
  const der = fromBase64(pem.replace(/-----[A-Z ]+-----|\s/g, ''));
  unless(der.length === 44, 'Its public key is none of the kind that signs packs.');
  return der.subarray(12);
}

/**
 * Puts an evidence pack to the test, without any other help than hashing and signatures: that not a byte of it was
 * changed since it was signed, that the ledger's chain holds from its first event to the head that was signed, that the
 * events are of that chain, that where the numbers stood follows from them, and that documents and pages are those the
 * events name. Whether the key is the business's own, only the business can say: compare the fingerprint.
 */
export function checkPack(bytes: Uint8Array, tools: CheckTools): PackVerdict {
  const verdict: PackVerdict = { ok: false, checks: [], manifest: null, fingerprint: '' };
  let what: PackCheck['what'] = 'archive';
  const passed = (words: string): void => void verdict.checks.push({ what, ok: true, words });
  try {
    const read = readArchive(bytes);
    if (typeof read === 'string') throw new Unfit(read);
    const files = new Map(read.map((f) => [f.name, f.bytes]));
    unless(files.size === read.length, 'It holds two files of one name.');
    const file = (name: string): Uint8Array => {
      const found = files.get(name);
      if (!found) throw new Unfit(`“${name}” is not in it.`);
      return found;
    };
    passed(`It is whole: ${n(read.length)} files, not a byte between them other than it was written.`);

    what = 'signature';
    const pem = textOf(file(PACK_FILES.key));
    const key = keyOf(pem);
    verdict.fingerprint = fingerprintOf(tools.digest(key));
    const signed = file(PACK_FILES.manifest);
    unless(
      tools.verify(key, signed, file(PACK_FILES.signature)),
      'The list of its files does not bear the signature of its key: it was changed, or signed by somebody else.',
    );
    const manifest = JSON.parse(textOf(signed)) as PackManifest;
    unless(
      manifest.format === PACK_FORMAT && manifest.version === 1,
      'It is signed, but no evidence pack of the kind that is checked here.',
    );
    verdict.manifest = manifest;
    passed('The list of its files is signed by the key with the fingerprint below.');

    what = 'files';
    const listed = new Map(manifest.files.map((f) => [f.name, f]));
    for (const [name, content] of files) {
      if (name === PACK_FILES.manifest || name === PACK_FILES.signature) continue;
      const entry = listed.get(name);
      unless(entry !== undefined, `“${name}” was put in after it was signed.`);
      unless(tools.digest(content) === entry?.sha256, `“${name}” was changed after it was signed.`);
    }
    for (const f of manifest.files) unless(files.has(f.name), `“${f.name}” was taken out after it was signed.`);
    passed(`All ${n(manifest.files.length)} files are those that were signed.`);

    what = 'heads';
    const heads = headsOf(textOf(file(PACK_FILES.heads)), pem, key, manifest, tools);
    passed(
      `The ledger was signed to stand where it does at ${n(heads.size)} ${heads.size === 1 ? 'moment' : 'moments'}, the last with ${n(manifest.ledger.count)} events.`,
    );

    what = 'chain';
    const events = linesOf(textOf(file(PACK_FILES.events))).map(eventIn);
    const { old } = walk(linesOf(textOf(file(PACK_FILES.chain))), events, heads, manifest, tools);
    passed(
      `The chain holds from the first of its ${n(manifest.ledger.count)} events to the head that was signed.${old > 0 ? ` ${n(old)} of them, of others and linked in an older way, are taken on the signer’s word.` : ''}`,
    );

    what = 'events';
    const numbers = new Set(manifest.numbers);
    for (const e of events) {
      unless(numbers.has(e.e164), `Event ${e.seq} is of a number the pack is not about.`);
      unless(e.businessId === manifest.business.id, `Event ${e.seq} is of another business.`);
    }
    passed(
      events.length === 1
        ? 'The one event shown is of this chain, as it was recorded.'
        : `The ${n(events.length)} events shown are of this chain, as they were recorded.`,
    );

    what = 'standing';
    const standing = JSON.parse(textOf(file(PACK_FILES.standing))) as NumberStanding[];
    unless(
      standing.length === numbers.size && standing.every((s) => numbers.has(s.e164)),
      'Where the numbers stood is not told of each of them.',
    );
    for (const s of standing) {
      const follows = foldConsent(
        events.filter((e) => e.e164 === s.e164),
        manifest.madeAt,
      );
      for (const p of PURPOSES)
        unless(
          follows[p].state === s[p],
          `${s.e164} is said to have been ${s[p]} for ${p} texts; from its events follows ${follows[p].state}.`,
        );
    }
    passed('Where each number stood follows from its events.');

    what = 'documents';
    let shown = 0;
    for (const e of events)
      for (const { key: named, folder, what: kind } of EVIDENCE_FILES) {
        const digest = e.evidence[named];
        if (digest === undefined) continue;
        const name = [...files.keys()].find((f) => f.startsWith(`${folder}${digest}.`));
        if (name === undefined) throw new Unfit(`The ${kind} that event ${e.seq} rests on is not in it.`);
        const content = file(name);
        unless(tools.digest(content) === digest, `The ${kind} of event ${e.seq} is not the one it names.`);
        unless(
          folder !== PAGES || textOf(content).includes(escaped(e.disclosure)),
          `The page of event ${e.seq} does not show the words the event says were seen.`,
        );
        shown++;
      }
    passed(
      shown === 0
        ? 'No event names a document or a page.'
        : `The documents and pages that events name are in it, by their digests: ${n(shown)} times.`,
    );
    verdict.ok = true;
  } catch (error) {
    verdict.checks.push({
      what,
      ok: false,
      words: error instanceof Unfit ? error.message : `It cannot be read: ${(error as Error).message}`,
    });
  }
  return verdict;
}

/** The signed heads by their counts. */
function headsOf(
  text: string,
  pem: string,
  key: Uint8Array,
  manifest: PackManifest,
  tools: CheckTools,
): Map<number, string> {
  const { publicKey, heads } = JSON.parse(text) as { publicKey: string; heads: Head[] };
  unless(publicKey.trim() === pem.trim(), 'The heads of the ledger are said to be signed by another key.');
  for (const h of heads)
    unless(
      tools.verify(key, bytesOf(`${h.chain}\n${h.count}\n${h.head}\n${h.at}`), fromBase64(h.signature)),
      `The head of ${n(h.count)} events does not bear the signature of the key.`,
    );
  const [first] = heads;
  unless(
    first !== undefined && heads.every((h) => h.chain === first.chain && h.chain.endsWith(manifest.business.id)),
    'Its signed heads are of another ledger.',
  );
  const by = new Map(heads.map((h) => [h.count, h.head]));
  unless(
    by.get(manifest.ledger.count) === manifest.ledger.head,
    'How far the ledger had come when the pack was made was not signed.',
  );
  return by;
}

/** An event of a line, which has to be exactly what {@link ledgerLine} makes of it. */
function eventIn(line: string): LedgerEvent {
  const e = JSON.parse(line) as LedgerEvent;
  unless(ledgerLine(e) === line, `Event ${e.seq} is not written in the form in which it was recorded.`);
  return e;
}

/** Walks the chain by the digests of its events, past the signed heads and the events that are shown. */
function walk(
  lines: readonly string[],
  events: readonly LedgerEvent[],
  heads: ReadonlyMap<number, string>,
  manifest: PackManifest,
  tools: CheckTools,
): { old: number } {
  unless(
    lines.length === manifest.ledger.count,
    `The chain has ${n(lines.length)} events, and ${n(manifest.ledger.count)} were signed.`,
  );
  const shown = new Map(events.map((e) => [e.seq, e]));
  unless(shown.size === events.length, 'An event is shown twice.');
  let hash = GENESIS;
  let old = 0;
  lines.forEach((line, i) => {
    const seq = i + 1;
    const before = hash;
    const isOld = line.startsWith(OLD_LINK);
    hash = isOld ? line.slice(1) : linkHash(before, line, tools.sha256);
    const event = shown.get(seq);
    if (event) {
      shown.delete(seq);
      unless(event.prevHash === before, `Event ${n(seq)} does not follow its predecessor.`);
      const link = linkingOf(event, tools.sha256);
      unless(
        event.hash === hash && (isOld ? link === 'old' : link !== null && link !== 'old' && link.digest === line),
        `The content of event ${n(seq)} is not what was recorded.`,
      );
    } else if (isOld) old++;
    const signed = heads.get(seq);
    unless(signed === undefined || signed === hash, `The chain up to event ${n(seq)} is another than was signed.`);
  });
  unless(shown.size === 0, 'An event is shown that stands nowhere in the chain.');
  unless(hash === manifest.ledger.head, 'The chain does not end at the head that was signed.');
  return { old };
}
