import { createHash } from 'node:crypto';
import { mkdir, open, readdir, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { dayIn, writeArchive, type ArchiveFile } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../../platform/audit.js';
import { slicesOf } from '../../../platform/bulk.js';
import type { Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import { DAY_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound, Problem } from '../../../platform/problem.js';
import type { Contacts } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import { BrokenLedger } from './chain-lines.js';
import * as store from './evidence-store.js';
import type { EvidencePackModel, EvidenceRequestModel } from './model.js';
import type { PackContents } from './pack-contents.js';

/** A pack can be fetched for so long; it holds what people wrote, and is made anew within seconds. */
const KEPT_MS = 30 * DAY_MS;
const Making = z.object({ packId: z.string(), actor: ActorShape });

/** Evidence packs as files of the data folder: made by a job, fetched, and taken away when their time is over. */
export class EvidencePacks {
  private readonly folder: string;

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly contents: PackContents,
  ) {
    this.folder = path.join(p.config.dataDir, 'evidence');
    // It works for seconds at a time, and no dispatch waits behind it.
    p.jobs.handle('evidence', Making, (making, context) => this.make(making, context), undefined, 'long');
    p.jobs.handle('evidence.tidy', z.unknown(), () => this.tidy(), 'evidence packs whose time is over are taken away');
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

  /** Begins a pack of a request in the caller's transaction; under one key once. */
  async add(w: Writer, actor: Actor, businessId: string, requestId: string, key: string): Promise<void> {
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
      for (const piece of writeArchive(files))
        for await (const slice of slicesOf(piece)) {
          digest.update(slice);
          size += slice.length;
          await out.write(slice);
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
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
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
    const day = dayIn(pack.madeAt, (await this.businesses.row(this.p.db, businessId)).time_zone);
    return { name: `evidence-${day}-${id.slice(-6)}.zip`, bytes };
  }

  /** Takes away the packs of requests about somebody who was erased. */
  async takeAway(w: Writer, requestIds: readonly string[]): Promise<void> {
    for (const pack of await store.packsOf(w, requestIds)) {
      if (pack.state === 'gone') continue;
      await pack.update({ state: 'gone' });
      w.afterCommit(() => void this.drop(pack.id));
    }
  }
}
