import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import {
  crc32,
  DOCUMENTS,
  EVIDENCE_FILES,
  foldConsent,
  GATE,
  ledgerLine,
  PACK_FILES,
  PACK_FORMAT,
  PAGES,
  PURPOSES,
  type ArchiveFile,
  type LedgerEvent,
  type NumberStanding,
  type PackManifest,
} from '@long-gate/core';
import { lotsOf, slicesOf } from '../../../platform/bulk.js';
import type { Documents } from '../../../platform/documents.js';
import type { Platform } from '../../../platform/platform.js';
import { stoodBetween } from '../../../platform/stood-store.js';
import { textsOfNumbers, whyOf, type TextRow } from '../../dispatch/index.js';
import type { Numbers } from '../../numbers/index.js';
import type { Ledger } from '../ledger/ledger.js';
import { holdAgainst, type ChainDigests } from './chain-digests.js';
import { lettersTo } from '../letters/letters-sent.js';
import { pagesByDigest } from '../pages/page-version-store.js';
import { learntOfNumbers, lookupLines, suppressionLines } from './number-lines.js';
import { readableEvidence } from './readable-evidence.js';

const CHUNK = 500;
const lines = (items: readonly unknown[]): Buffer =>
  Buffer.from(items.map((x) => `${typeof x === 'string' ? x : JSON.stringify(x)}\n`).join(''));

export interface PackWish {
  business: { id: string; legalName: string; timeZone: string };
  numbers: readonly string[];
  /** Names of people, by number. */
  names: ReadonlyMap<string, string>;
  question: string;
  madeBy: string;
  /** Scenario time. */
  madeAt: number;
}

/** Everything about the consent of one or several numbers, put together as an archive that anybody can check. */
export class PackContents {
  constructor(
    private readonly p: Platform,
    private readonly ledger: Ledger,
    private readonly documents: Documents,
    private readonly numbers: Numbers,
    private readonly chains: ChainDigests,
  ) {}

  /**
   * The files of a pack in their order, the manifest and its signature last.
   * @throws BrokenLedger where the ledger is not what was signed; Error where the checker was not built.
   */
  async files(wish: PackWish): Promise<{ files: ArchiveFile[]; events: number; texts: number }> {
    const businessId = wish.business.id;
    const { db, heads, config } = this.p;
    // Where the ledger stands is signed first: what is handed out can be held against it for good.
    await this.ledger.signHeads(businessId);
    const signed = await this.ledger.signedHeads(businessId);
    const last = await this.ledger.lastSigned(businessId);

    // Read in a thread while the rest is put together; what it says is heard below, also where that is a refusal.
    const digests = this.chains.upTo({ businessId, count: last.count, head: last.head });
    digests.catch(() => undefined);

    const own = new Map<string, LedgerEvent[]>();
    for (const part of lotsOf(wish.numbers, CHUNK))
      for (const [e164, all] of await this.ledger.eventsOfAll(db, businessId, part))
        own.set(
          e164,
          all.filter((e) => e.seq <= last.count),
        );
    const events = [...own.values()].flat().sort((a, b) => a.seq - b.seq);
    const texts: TextRow[] = [];
    for (const part of lotsOf(wish.numbers, CHUNK)) texts.push(...(await textsOfNumbers(db, businessId, part)));

    const standing = wish.numbers.map((e164): NumberStanding => {
      const states = foldConsent(own.get(e164) ?? [], wish.madeAt);
      return { e164, ...Object.fromEntries(PURPOSES.map((x) => [x, states[x].state])) } as NumberStanding;
    });
    const from = Math.min(wish.madeAt, ...events.map((e) => e.happenedAt), ...texts.map((t) => t.created_at));
    const stood = await stoodBetween(db, businessId, from, wish.madeAt);
    const shownTexts = await this.textLines(texts);
    const learnt = await learntOfNumbers(db, businessId, wish.numbers);
    const suppression = await suppressionLines(db, businessId, wish.numbers, learnt);
    const letters = await lettersTo(db, businessId, wish.numbers);
    const lookups = await lookupLines(db, businessId, wish.numbers, learnt);
    const key = heads.publicPem;
    // What is long is set and read in threads, side by side.
    const [readable, chain, page, named] = await Promise.all([
      readableEvidence(db.place, {
        ...wish,
        ...{ standing, events, texts: shownTexts, lookups, suppression, letters },
        head: last,
      }),
      digests,
      checker(config.checkerFile),
      this.named(businessId, events),
    ]);
    await holdAgainst(chain, businessId, wish.numbers, events);

    const files: ArchiveFile[] = [
      { name: PACK_FILES.readMe, bytes: Buffer.from(readMe(wish, heads.fingerprint)) },
      { name: PACK_FILES.checker, bytes: page },
      { name: PACK_FILES.readable, bytes: readable },
      {
        name: PACK_FILES.events,
        bytes: lines(events.map(ledgerLine)),
      },
      { name: PACK_FILES.texts, bytes: lines(shownTexts) },
      { name: PACK_FILES.lookups, bytes: lines(lookups) },
      { name: PACK_FILES.suppression, bytes: lines(suppression) },
      { name: PACK_FILES.letters, bytes: lines(letters) },
      { name: PACK_FILES.standing, bytes: Buffer.from(JSON.stringify(standing)) },
      {
        name: PACK_FILES.rules,
        bytes: lines(
          stood.map((s) => ({
            of: s.objectKind,
            object: s.objectId,
            fact: s.fact,
            from: s.fromAt,
            to: s.toAt,
            value: s.value,
          })),
        ),
      },
      { name: PACK_FILES.chain, bytes: chain.digests },
      { name: PACK_FILES.heads, bytes: Buffer.from(JSON.stringify(signed)) },
      { name: PACK_FILES.key, bytes: Buffer.from(key) },
      ...named,
    ];
    const manifest: PackManifest = {
      format: PACK_FORMAT,
      version: 1,
      business: { id: businessId, legalName: wish.business.legalName },
      numbers: [...wish.numbers],
      question: wish.question,
      madeAt: wish.madeAt,
      madeBy: wish.madeBy,
      ledger: { count: last.count, head: last.head },
      files: await listed(files),
    };
    const bytes = Buffer.from(JSON.stringify(manifest, null, 1));
    files.push({ name: PACK_FILES.manifest, bytes }, { name: PACK_FILES.signature, bytes: heads.signature(bytes) });
    return { files, events: events.length, texts: texts.length };
  }

  private async textLines(texts: readonly TextRow[]): Promise<ShownText[]> {
    const ours = new Map<string, string>();
    for (const id of new Set(texts.map((t) => t.number_id)))
      ours.set(id, await this.numbers.addressOf(this.p.db, id).catch(() => ''));
    return texts.map((t) => shownText(t, ours.get(t.number_id) ?? ''));
  }

  /** The documents and pages that events name by their digests. */
  private async named(businessId: string, events: readonly LedgerEvent[]): Promise<ArchiveFile[]> {
    const digests = (folder: string): string[] => [
      ...new Set(
        EVIDENCE_FILES.filter((f) => f.folder === folder).flatMap((f) =>
          events.flatMap((e) => (e.evidence[f.key] === undefined ? [] : [e.evidence[f.key] ?? ''])),
        ),
      ),
    ];
    const documents = await this.documents.byDigest(this.p.db, businessId, digests(DOCUMENTS));
    const pages = await pagesByDigest(this.p.db, businessId, digests(PAGES));
    return [
      ...documents.map((d) => ({ name: `${DOCUMENTS}${d.sha256}.${d.ending}`, bytes: d.bytes })),
      ...pages.map((x) => ({ name: `${PAGES}${x.sha256}.html`, bytes: Buffer.from(x.html) })),
    ].sort((a, b) => (a.name < b.name ? -1 : 1));
  }
}

/** The list of these files, each with its digest; notes by the way what the archive wants to know of them. */
async function listed(files: readonly ArchiveFile[]): Promise<PackManifest['files']> {
  const list: PackManifest['files'] = [];
  for (const f of files) {
    const digest = createHash('sha256');
    let crc = 0;
    for await (const slice of slicesOf(f.bytes)) {
      digest.update(slice);
      crc = crc32(slice, crc);
    }
    f.crc = crc;
    list.push({ name: f.name, size: f.bytes.length, sha256: digest.digest('hex') });
  }
  return list;
}

/** A text or call of the pack. */
export interface ShownText {
  e164: string;
  /** Our number; empty where it is gone. */
  ours: string;
  direction: 'in' | 'out';
  kind: string;
  purpose: string;
  text: string;
  at: number;
  /** What the gate said: it passed, or which post held or stopped it and why; nothing of what came in. */
  gate: { verdict: 'pass' | 'hold' | 'stop'; post: string; why: string } | null;
  state: string;
  /** When the gate said so last; null where it was not asked. */
  judgedAt: number | null;
  sentAt: number | null;
  finalAt: number | null;
  carrier: string;
  failure: string;
  dispatch: string | null;
  sentBy: string;
  id: string;
}
function shownText(t: TextRow, ours: string): ShownText {
  const verdict = t.state === 'stopped' ? 'stop' : t.state === 'held' || t.state === 'waiting' ? 'hold' : 'pass';
  return {
    e164: t.e164,
    ours,
    direction: t.direction,
    kind: t.kind,
    purpose: t.purpose,
    text: t.text,
    at: t.created_at,
    gate:
      t.direction === 'in' || t.state === 'judging'
        ? null
        : {
            verdict: t.reason === null ? 'pass' : verdict,
            post: t.post === null ? '' : (GATE[t.post - 1]?.label ?? ''),
            why: t.reason === null ? '' : whyOf(t.reason).why,
          },
    state: t.state,
    judgedAt: t.sent_at ?? t.judged_at,
    sentAt: t.sent_at,
    finalAt: t.final_at,
    carrier: t.carrier,
    failure: t.failure_reason ?? '',
    dispatch: t.dispatch_id,
    sentBy: t.sent_by,
    id: t.id,
  };
}

async function checker(file: string): Promise<Buffer> {
  return readFile(file).catch(() => {
    throw new Error(`The page that checks packs was not built (${file}). Build the application: npm run build.`);
  });
}

const readMe = (wish: PackWish, fingerprint: string): string => `Evidence of consent, ${wish.business.legalName}
${wish.numbers.length === 1 ? `Number: ${wish.numbers[0] ?? ''}` : `${wish.numbers.length} numbers; see ${PACK_FILES.standing}`}

${PACK_FILES.readable} is for people to read; where it and the other files differ, those stand.

TO CHECK IT without us and without a network: open ${PACK_FILES.checker} in a browser and choose this archive, unopened.
Compare the fingerprint of the key with the one the business tells you by another way than with this archive:
  ${fingerprint}

By hand, with tools that most computers have, in the folder it was unpacked to:
  openssl pkeyutl -verify -pubin -inkey ${PACK_FILES.key} -rawin -in ${PACK_FILES.manifest} -sigfile ${PACK_FILES.signature}
  sha256sum of each file is its "sha256" in ${PACK_FILES.manifest}.

${PACK_FILES.events}    the consent events of these numbers. Each is a JSON object; without its last two members, prevHash and
                hash, it is the canonical form. Its digest is the SHA-256 of that form in UTF-8, and its hash the SHA-256
                of prevHash, a line feed and the digest.
${PACK_FILES.chain}       the digest of every event of the ledger, also of others' (of whom it tells nothing), from the first. Begin
                with 64 zeros and hash on, line by line: you come to the head in ${PACK_FILES.manifest}. A line that
                begins with = is a hash itself, of an event linked in an older way.
${PACK_FILES.heads}      where the ledger was signed to stand on other days: Ed25519 over chain, count, head and moment, each on
                a line.
${PACK_FILES.texts}     texts and calls both ways, what the gate said of each before it left and when, and what became of it.
${PACK_FILES.lookups}   what line the number was at each lookup, and whether it was given up since the person agreed.
${PACK_FILES.suppression}
                which lists of numbers not to be texted name these, from when to when lists kept something from them, and
                the purchases and inquiries that except them from registries, also those withdrawn since.
${PACK_FILES.letters}   e-mails that asked these people for something, as they got them but for their link, and what came of it.
${PACK_FILES.standing}   where each number stood for each purpose when this was made; it follows from the events.
${PACK_FILES.rules}     the rules the gate judged by and the states it read, each with from when to when it stood. Moments are
                milliseconds since 1970 UTC.
${DOCUMENTS}       what was signed, ${PAGES} the pages as they were seen; each named by its SHA-256, by which events name it.

What it cannot show: that no event of these numbers was left out, since others' events are digests to you. Whoever has to
know that asks for the whole ledger. It tells what was recorded, and is not legal advice.
`;
