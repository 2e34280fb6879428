import { mkdir, open, readdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { createHash } from 'node:crypto';
import {
  MOST_ASKED_ABOUT,
  type EvidenceOnFile,
  type EvidencePack,
  type EvidenceRequest,
  type EvidenceWish,
} from '@long-gate/contracts';
import {
  fingerprintOf,
  foldConsent,
  readPastedNumbers,
  writeArchive,
  type ArchiveFile,
  type LedgerEvent,
  type Purpose,
} from '@long-gate/core';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import { DAY_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../../platform/problem.js';
import { erasedNumber, type Contacts } from '../../contacts/index.js';
import { countTextsOf } from '../../dispatch/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Ledger } from '../ledger.js';
import { BrokenLedger } from './chain-digests.js';
import * as store from './evidence-store.js';
import type { EvidencePackModel, EvidenceRequestModel } from './model.js';
import type { PackContents } from './pack-contents.js';

/** A pack can be fetched for so long; it holds what people wrote, and is made anew within seconds. */
const KEPT_MS = 30 * DAY_MS;
const Making = z.object({ packId: z.string(), actor: ActorShape });

/**
 * Somebody asks for proof of consent: who, about which numbers, by when; what is proven and what is not; and the evidence
 * packs that answer them.
 */
export class EvidenceRequests {
  private readonly folder: string;

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly contents: PackContents,
  ) {
    this.folder = path.join(p.config.dataDir, 'evidence');
    p.jobs.handle('evidence', Making, (making, context) => this.make(making, context));
    p.jobs.handle('evidence.tidy', z.unknown(), () => this.tidy(), 'evidence packs whose time is over are taken away');
    p.db.facts.on('contact.erased', (w, { businessId, people }) => this.forget(w, businessId, people));
  }

  /** Looks once a day for packs whose time is over. */
  async begin(): Promise<void> {
    await this.p.db.write((w) =>
      this.p.jobs.add(w, {
        kind: 'evidence.tidy',
        businessId: '',
        payload: {},
        key: 'evidence.tidy',
        at: this.p.clock.now() + DAY_MS,
      }),
    );
  }

  async list(
    businessId: string,
    q: { state?: 'open' | 'answered' | undefined; cursor?: string | undefined; limit: number },
  ): Promise<{ items: EvidenceRequest[]; next: string | null; total: number; fingerprint: string }> {
    const r = this.p.db;
    const [{ rows, next }, total] = await Promise.all([
      store.requestsOf(r, businessId, q.state, q.cursor, q.limit),
      store.countRequests(r, businessId, q.state),
    ]);
    const digest = createHash('sha256').update(this.p.heads.publicRaw).digest('hex');
    return { items: await this.show(r, businessId, rows), next, total, fingerprint: fingerprintOf(digest) };
  }

  /** Requests with a deadline that wait, the most urgent first; a day ends at midnight where the business is. */
  async due(businessId: string): Promise<{ request: EvidenceRequestModel; due: number; overdue: boolean }[]> {
    const waiting = await store.dueRequests(this.p.db, businessId);
    if (waiting.length === 0) return [];
    const zone = (await this.businesses.row(this.p.db, businessId)).time_zone;
    return waiting.map((request) => {
      const due = DateTime.fromISO(request.dueOn ?? '', { zone })
        .endOf('day')
        .toMillis();
      return { request, due, overdue: due < this.p.clock.now() };
    });
  }

  /** What is on file about pasted numbers, and what stands there and is no number. */
  async review(
    businessId: string,
    pasted: string,
  ): Promise<{ items: EvidenceOnFile[]; unread: { raw: string; why: string }[] }> {
    const { e164s, unread } = await this.read(this.p.db, businessId, pasted);
    const r = this.p.db;
    const [events, texts, names] = await Promise.all([
      this.ledger.eventsOfAll(r, businessId, e164s),
      countTextsOf(r, businessId, e164s),
      this.contacts.names(r, businessId, e164s),
    ]);
    const now = this.p.clock.now();
    return {
      items: e164s.map((e164) => {
        const own = events.get(e164) ?? [];
        return {
          e164,
          name: names.get(e164)?.name ?? '',
          contactId: names.get(e164)?.contactId ?? null,
          informational: standsFor(own, 'informational', now),
          promotional: standsFor(own, 'promotional', now),
          events: own.length,
          texts: texts.get(e164) ?? 0,
        };
      }),
      unread,
    };
  }

  /**
   * Notes that somebody asks, and makes the pack. Under one key it is noted once.
   * @throws Problem 422 where no number can be read, or one cannot.
   */
  async ask(actor: Actor, businessId: string, wish: EvidenceWish, key: string): Promise<EvidenceRequest> {
    const id = idFrom('evr', businessId, key);
    await this.p.db.write(async (w) => {
      if (await store.requestById(w, businessId, id)) return;
      const { e164s, unread } = await this.read(w, businessId, wish.numbers);
      if (unread.length > 0)
        throw refused(
          `${unread.length === 1 ? 'One line is' : `${unread.length} lines are`} no telephone number. Mend or take out what stands below; nothing was noted yet.`,
          unread.slice(0, 20).map((u) => ({ field: 'numbers', message: `“${u.raw}”: ${u.why}` })),
        );
      await store.addRequest(w, {
        id,
        businessId,
        asker: wish.asker,
        who: wish.who,
        reference: wish.reference,
        question: wish.question,
        dueOn: wish.asker === 'our own file' ? null : wish.dueOn,
        numbers: e164s,
        askedAt: Math.round(this.p.clock.now()),
        askedBy: actor.name,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'evidence asked for',
        objectKind: 'evidence request',
        objectId: id,
        after: { asker: wish.asker, who: wish.who, numbers: e164s.length, dueOn: wish.dueOn },
      });
      await this.addPack(w, actor, businessId, id, 'first');
      this.changed(w, businessId);
    });
    return this.get(businessId, id);
  }

  /** Makes the pack of a request anew; under one key once. */
  async again(actor: Actor, businessId: string, id: string, key: string): Promise<EvidenceRequest> {
    await this.p.db.write(async (w) => {
      if (!(await store.requestById(w, businessId, id))) throw notFound('request');
      await this.addPack(w, actor, businessId, id, key);
      this.changed(w, businessId);
    });
    return this.get(businessId, id);
  }

  async answer(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    answer: string,
  ): Promise<EvidenceRequest> {
    await this.p.db.write(async (w) => {
      const request = await store.requestById(w, businessId, id);
      if (!request) throw notFound('request');
      expectVersion('request', request, seen);
      if (request.answeredAt !== null)
        throw conflict(`It was answered already, by ${request.answeredBy}: “${request.answer}”.`);
      await request.update({
        answeredAt: Math.round(this.p.clock.now()),
        answeredBy: actor.name,
        answer,
        version: request.version + 1,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'evidence handed over',
        objectKind: 'evidence request',
        objectId: id,
        after: { answer },
      });
      this.changed(w, businessId);
    });
    return this.get(businessId, id);
  }

  /** The archive of a pack; that it was fetched is on the trail. @throws Problem 409 where it is not there (any more). */
  async fetch(actor: Actor, businessId: string, id: string): Promise<{ name: string; bytes: Buffer }> {
    const pack = await store.packById(this.p.db, businessId, id);
    if (!pack) throw notFound('evidence pack');
    const bytes = pack.state === 'ready' ? await readFile(this.file(id)).catch(() => null) : null;
    if (bytes === null)
      throw new Problem(
        409,
        'no-pack',
        pack.state === 'making'
          ? 'The pack is still being made. Try again in a few seconds.'
          : pack.state === 'failed'
            ? 'This pack could not be made: the ledger does not hold. Verify the chain first.'
            : 'This pack is not kept any more. Make it anew; it then holds what stands today.',
      );
    await this.p.db.write((w) =>
      record(w, this.p.clock, {
        businessId,
        actor,
        action: 'evidence pack fetched',
        objectKind: 'evidence request',
        objectId: pack.requestId,
        after: { pack: id, sha256: pack.sha256 },
      }),
    );
    const day = new Date(pack.madeAt).toISOString().slice(0, 10);
    return { name: `evidence-${day}-${id.slice(-6)}.zip`, bytes };
  }

  // -- making packs ----------------------------------------------------------------------------------------------

  private async addPack(w: Writer, actor: Actor, businessId: string, requestId: string, key: string): Promise<void> {
    const id = idFrom('evp', requestId, key);
    if (await store.packById(w, businessId, id)) return;
    const now = Math.round(this.p.clock.now());
    const jobId = await this.p.jobs.add(w, {
      kind: 'evidence',
      businessId,
      payload: { packId: id, actor: { id: actor.id, name: actor.name } } satisfies z.infer<typeof Making>,
      title: 'Making an evidence pack',
      key: `evidence:${id}`,
    });
    await store.addPack(w, {
      id,
      businessId,
      requestId,
      jobId,
      madeAt: now,
      madeBy: actor.name,
      keptUntil: now + KEPT_MS,
    });
  }

  private async make({ packId, actor }: z.infer<typeof Making>, { job }: JobContext): Promise<JobOutcome> {
    const { businessId } = job;
    const pack = await store.packById(this.p.db, businessId, packId);
    const request = pack && (await store.requestById(this.p.db, businessId, pack.requestId));
    if (!pack || !request || pack.state !== 'making') return { done: true };
    const made = await this.contentsOf(businessId, request, actor).catch((error: unknown) => error as Error);
    if (made instanceof BrokenLedger) {
      await this.settle(businessId, packId, { state: 'failed' });
      return { done: true, result: made.message };
    }
    if (made instanceof Error) throw made;
    const { files, events, texts, madeAt } = made;
    const archive = await this.write(packId, files);
    const is = await this.settle(businessId, packId, { state: 'ready', madeAt, events, texts, ...archive }, (w) =>
      record(w, this.p.clock, {
        businessId,
        actor,
        action: 'evidence pack made',
        objectKind: 'evidence request',
        objectId: request.id,
        after: { pack: packId, sha256: archive.sha256, numbers: request.numbers.length, events, texts },
      }),
    );
    // Whoever was erased meanwhile is in it: it is not handed out.
    if (!is) await this.drop(packId);
    return { done: true, result: `Evidence of ${events.toLocaleString('en-US')} consent events is ready` };
  }

  private async contentsOf(businessId: string, request: EvidenceRequestModel, actor: Pick<Actor, 'name'>) {
    const b = await this.businesses.row(this.p.db, businessId);
    const madeAt = Math.round(this.p.clock.now());
    const made = await this.contents.files({
      business: { id: businessId, legalName: b.legal_name, timeZone: b.time_zone },
      numbers: request.numbers,
      names: new Map(
        [...(await this.contacts.names(this.p.db, businessId, request.numbers))].map(([e164, x]) => [e164, x.name]),
      ),
      question: [request.who, request.reference, request.question].filter(Boolean).join(', '),
      madeBy: actor.name,
      madeAt,
    });
    return { ...made, madeAt };
  }

  /** Writes an archive beside its place and puts it there whole. */
  private async write(packId: string, files: readonly ArchiveFile[]): Promise<{ size: number; sha256: string }> {
    const digest = createHash('sha256');
    let size = 0;
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
    const part = `${this.file(packId)}.part`;
    const out = await open(part, 'w', 0o600);
    try {
      for (const piece of writeArchive(files)) {
        digest.update(piece);
        size += piece.length;
        await out.write(piece);
      }
      await out.sync();
    } finally {
      await out.close();
    }
    await rename(part, this.file(packId));
    return { size, sha256: digest.digest('hex') };
  }

  /** Says how making a pack ended. @returns false where it is not wanted any more. */
  private settle(
    businessId: string,
    packId: string,
    as: Partial<EvidencePackModel['_attributes']>,
    also: (w: Writer) => Promise<void> = () => Promise.resolve(),
  ): Promise<boolean> {
    return this.p.db.write(async (w) => {
      const pack = await store.packById(w, businessId, packId);
      if (pack?.state !== 'making') return false;
      await pack.update(as);
      await also(w);
      this.changed(w, businessId);
      return true;
    });
  }

  private file(packId: string): string {
    return path.join(this.folder, `${packId}.zip`);
  }

  private drop(packId: string): Promise<void> {
    return rm(this.file(packId), { force: true });
  }

  private async tidy(): Promise<JobOutcome> {
    const now = this.p.clock.now();
    const past = await this.p.db.write(async (w) => {
      const packs = await store.packsPast(w, now);
      for (const pack of packs) await pack.update({ state: 'gone' });
      return packs;
    });
    for (const pack of past) await this.drop(pack.id);
    // What a crash left of packs that are gone; what is being made stays.
    for (const name of await readdir(this.folder).catch(() => [])) {
      const pack = await store.packOfAnybody(this.p.db, name.replace(/\.zip(\.part)?$/, ''));
      const wanted = pack?.state === 'making' || (pack?.state === 'ready' && name.endsWith('.zip'));
      if (!wanted) await rm(path.join(this.folder, name), { force: true });
    }
    return { done: false, at: now + DAY_MS };
  }

  /** Somebody was erased: packs about them go, and what stands in their numbers' place stands in the requests. */
  private async forget(
    w: Writer,
    businessId: string,
    people: readonly (readonly [e164: string, digest: string])[],
  ): Promise<void> {
    const gone = new Map(people.map(([e164, digest]) => [e164, erasedNumber(digest)]));
    const touched = (await store.allRequests(w, businessId)).filter((x) => x.numbers.some((n) => gone.has(n)));
    for (const request of touched)
      await request.update({
        numbers: request.numbers.map((n) => gone.get(n) ?? n),
        version: request.version + 1,
      });
    for (const pack of await store.packsOf(
      w,
      touched.map((x) => x.id),
    )) {
      if (pack.state === 'gone') continue;
      await pack.update({ state: 'gone' });
      w.afterCommit(() => void this.drop(pack.id));
    }
  }

  // -- reading ---------------------------------------------------------------------------------------------------

  private async read(
    r: Reader,
    businessId: string,
    pasted: string,
  ): Promise<{ e164s: string[]; unread: { raw: string; why: string }[] }> {
    const b = await this.businesses.row(r, businessId);
    const read = readPastedNumbers(pasted, { defaultRegion: 'US', allowFictional: Boolean(b.allow_fictional) });
    const e164s = read.flatMap((x) => (x.ok ? [x.e164] : []));
    if (e164s.length > MOST_ASKED_ABOUT)
      throw refused(
        `These are ${e164s.length.toLocaleString('en-US')} numbers; at most ${MOST_ASKED_ABOUT.toLocaleString('en-US')} are answered for in one request. Make several.`,
        [{ field: 'numbers', message: 'Too many for one request.' }],
      );
    return { e164s, unread: read.flatMap((x) => (x.ok ? [] : [{ raw: x.raw.slice(0, 60), why: x.why }])) };
  }

  private async get(businessId: string, id: string): Promise<EvidenceRequest> {
    const request = await store.requestById(this.p.db, businessId, id);
    if (!request) throw notFound('request');
    const [shown] = await this.show(this.p.db, businessId, [request]);
    return shown as EvidenceRequest;
  }

  private async show(r: Reader, businessId: string, rows: readonly EvidenceRequestModel[]): Promise<EvidenceRequest[]> {
    const packs = await store.packsOf(
      r,
      rows.map((x) => x.id),
    );
    const names = await this.contacts.names(
      r,
      businessId,
      rows.flatMap((x) => (x.numbers.length === 1 ? x.numbers : [])),
    );
    return rows.map((x) => ({
      id: x.id,
      asker: x.asker,
      who: x.who,
      reference: x.reference,
      question: x.question,
      dueOn: x.dueOn ?? null,
      e164s: x.numbers,
      name: x.numbers.length === 1 ? (names.get(x.numbers[0] ?? '')?.name ?? '') : '',
      askedAt: x.askedAt,
      askedBy: x.askedBy,
      answeredAt: x.answeredAt ?? null,
      answeredBy: x.answeredBy,
      answer: x.answer,
      packs: packs.filter((k) => k.requestId === x.id).map(shownPack),
      version: x.version,
    }));
  }

  private changed(w: Writer, businessId: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }
}

function shownPack(k: EvidencePackModel): EvidencePack {
  const { id, state, madeBy, madeAt, size, sha256: digest, events, texts, keptUntil, jobId } = k;
  return { id, state, madeBy, madeAt, size, sha256: digest, events, texts, keptUntil, jobId };
}

/** Where a number stands for a purpose, and the event it rests on. */
function standsFor(events: readonly LedgerEvent[], purpose: Purpose, now: number): EvidenceOnFile['promotional'] {
  const { state, eventId } = foldConsent(events, now)[purpose];
  const by = events.find((e) => e.id === eventId);
  // A YES is given to what was asked before it: the words stand there.
  const asked = events.filter((e) => e.kind === 'granted' && e.purposes.includes(purpose) && e.seq <= (by?.seq ?? 0));
  return {
    state,
    proven: state === 'granted',
    by: by
      ? {
          seq: by.seq,
          kind: by.kind,
          how: by.how,
          happenedAt: by.happenedAt,
          disclosed: (by.disclosure || asked.at(-1)?.disclosure || '') !== '',
        }
      : null,
  };
}
