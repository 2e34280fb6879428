import type { ConsentState, Purpose } from '../consent/events.js';

/**
 * An evidence pack: everything about the consent of one or several numbers, in an archive that anybody can check without
 * us. Its files, in this order; `documents/` and `pages/` hold a file for each digest, named by it.
 */
export const PACK_FILES = {
  readMe: 'read-me.txt',
  checker: 'check.html',
  /** For people to read. */
  readable: 'evidence.pdf',
  /** The events of these numbers, one a line: canonical form, with the two hashes. */
  events: 'events.jsonl',
  /** Texts both ways, calls, and what the gate said of each. */
  texts: 'texts.jsonl',
  /** What line types and reassigned numbers were asked and answered, and where texts failed. */
  lookups: 'lookups.jsonl',
  /** Which lists of numbers not to be texted name these, and what excepts them from registries. */
  suppression: 'suppression.jsonl',
  /** Letters by e-mail that asked these people for something. */
  letters: 'letters.jsonl',
  /** Where each number stood for each purpose when the pack was made. */
  standing: 'standing.json',
  /** Which rules, and which states of business, numbers and registrations, the gate judged by, and from when to when. */
  rules: 'rules.jsonl',
  /** The digest of every event of the ledger from its first, one a line. */
  chain: 'chain.txt',
  /** Where the chain was signed to stand, and the public key. */
  heads: 'heads.json',
  key: 'key.pem',
  /** What is in it, each file with its digest. */
  manifest: 'manifest.json',
  /** Ed25519 over the manifest, 64 bytes (RFC 8032). */
  signature: 'manifest.sig',
} as const;
export const DOCUMENTS = 'documents/';
export const PAGES = 'pages/';

export const PACK_FORMAT = 'long-gate evidence pack';

export interface PackManifest {
  format: typeof PACK_FORMAT;
  version: 1;
  business: { id: string; legalName: string };
  /** Whose evidence it is, E.164. */
  numbers: string[];
  /** What it was made for, in the words of who made it. */
  question: string;
  /** Scenario time, milliseconds. */
  madeAt: number;
  madeBy: string;
  /** How far the ledger had come, and the hash it stood at. */
  ledger: { count: number; head: string };
  /** All others but the manifest and its signature. */
  files: { name: string; size: number; sha256: string }[];
}

/** A line of {@link PACK_FILES.standing}. */
export type NumberStanding = { e164: string } & Record<Purpose, ConsentState>;

/** What a line of the chain begins with where the event is linked by its form itself: the line is its hash then. */
export const OLD_LINK = '=';

/**
 * Evidence of an event that names a file of the pack by its SHA-256: the document that was signed, or the page that was
 * seen.
 */
export const EVIDENCE_FILES: readonly { key: string; folder: typeof DOCUMENTS | typeof PAGES; what: string }[] = [
  { key: 'sha256', folder: DOCUMENTS, what: 'document' },
  { key: 'pageSha256', folder: PAGES, what: 'page' },
];

/** The first 32 hexadecimal digits of the SHA-256 of a public key in groups of four, as people read it to one another. */
export function fingerprintOf(sha256OfKey: string): string {
  return (sha256OfKey.slice(0, 32).match(/.{4}/g) ?? []).join(' ');
}
