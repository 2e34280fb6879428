import type { IntakeRow, IntakeView } from '@long-gate/contracts';
import { parsePhone, placeOf } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound } from '../../platform/problem.js';
import { sortName } from './sort-name.js';
import * as store from './intake-store.js';
import type { Contacts } from './contacts.js';
import type { Lists } from './lists.js';
import type { IntakeModel } from './model.js';

/** Nothing was stored of it for so long: whoever handed it in was cut off, or went away. */
const CUT_OFF_MS = 10 * 60_000;

/** Files claims of consent that came with a list; given by the consent area. */
export type ClaimFiler = (
  w: Writer,
  actor: Actor,
  businessId: string,
  e164s: string[],
  claim: string,
  intakeId: string,
) => Promise<void>;

/** Bringing contacts in: rows are handed in, checked again here, and stored by a job that a crash does not disturb. */
export class Intakes {
  private file: ClaimFiler = () => Promise.resolve();
  /** How many rows that are handed in are kept in one write, whoever hands them in. */
  private readonly taking = new Lot();

  constructor(
    private readonly p: Platform,
    private readonly lists: Lists,
    private readonly contacts: Contacts,
  ) {
    p.jobs.handle(
      'intake.store',
      z.object({ intakeId: z.string(), actor: ActorShape }),
      async ({ intakeId, actor }, context) =>
        this.storeChunks(intakeId, actor, (done, total) => context.progress(done, total)),
    );
    p.jobs.handle('intake.clear', z.object({ intakeId: z.string() }), ({ intakeId }) => this.clear(intakeId));
  }

  /** Whoever keeps the ledger records what a list says of its people. */
  fileClaims(filer: ClaimFiler): void {
    this.file = filer;
  }

  async begin(
    actor: Actor,
    businessId: string,
    draft: { fileName: string; total: number; listName: string; consentClaim: string; digest?: string },
  ): Promise<IntakeView> {
    const id = newId('int');
    await this.p.db.write(async (w) => {
      const listId =
        draft.listName === '' ? null : await this.lists.ensure(w, actor, businessId, draft.listName, 'list');
      await store.addIntake(w, {
        id,
        businessId,
        fileName: draft.fileName,
        total: draft.total,
        listId,
        consentClaim: draft.consentClaim,
        digest: draft.digest ?? '',
        createdBy: actor.name,
        createdAt: this.p.clock.now(),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'intake begun',
        objectKind: 'intake',
        objectId: id,
        after: { fileName: draft.fileName, rows: draft.total },
      });
    });
    return this.get(businessId, id);
  }

  /** Takes rows; each is checked here again, whatever the browser said. Handing a row in twice changes nothing. */
  async take(businessId: string, id: string, rows: readonly IntakeRow[]): Promise<{ received: number }> {
    const checked = rows.map((r): store.CheckedRow => {
      const phone = parsePhone(r.phone, { defaultRegion: 'US', allowFictional: true });
      return [
        r.row,
        r.phone,
        r.firstName.trim(),
        r.lastName.trim(),
        r.email.trim(),
        r.stateCode.trim().toUpperCase(),
        phone.ok ? phone.e164 : null,
        phone.ok ? (phone.notes.length > 0 ? 'look' : 'ok') : 'refused',
        phone.ok ? phone.notes.join(',') : phone.reason,
        r.keep && phone.ok ? 1 : 0,
      ];
    });
    // Others write between; whoever was cut off hands the same rows in again.
    let kept = 0;
    let received = 0;
    do {
      await this.taking.write(
        this.p.db,
        async (w, size) => {
          const intake = await this.record(w, businessId, id);
          if (intake.state !== 'reading') throw conflict('This intake takes no more rows.');
          const lot = checked.slice(kept, kept + size);
          await store.addRows(w, intake, lot);
          kept += lot.length;
          received = intake.received;
        },
        Math.min(this.taking.size, checked.length - kept),
      );
    } while (kept < checked.length);
    return { received };
  }

  async store(actor: Actor, businessId: string, id: string): Promise<IntakeView> {
    await this.p.db.write(async (w) => {
      const intake = await this.record(w, businessId, id);
      if (intake.state !== 'reading') return;
      if (intake.received !== intake.total)
        throw conflict(`${intake.received} of ${intake.total} rows have arrived; hand in the rest first.`);
      await intake.update({ state: 'storing' });
      await this.p.jobs.add(w, {
        kind: 'intake.store',
        businessId,
        payload: { intakeId: id, actor: { id: actor.id, name: actor.name } },
        title: `Storing ${intake.fileName}`,
        total: intake.total,
        key: `intake:${id}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'intake storing',
        objectKind: 'intake',
        objectId: id,
      });
    });
    return this.get(businessId, id);
  }

  async cancel(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const intake = await this.record(w, businessId, id);
      if (intake.state !== 'reading') throw conflict('This intake is already being stored.');
      await intake.update({ state: 'cancelled' });
      await this.clearLater(w, intake);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'intake cancelled',
        objectKind: 'intake',
        objectId: id,
      });
    });
  }

  async list(businessId: string): Promise<IntakeView[]> {
    const rows = await store.latestIntakes(this.p.db, businessId, 50);
    return rows.map((r) => this.show(r));
  }

  /** Intakes that were cut off: begun a while ago, and neither stored nor thrown away. */
  async unfinished(businessId: string): Promise<IntakeView[]> {
    const rows = await store.readingIntakes(this.p.db, businessId, this.p.clock.now() - CUT_OFF_MS);
    return rows.map((r) => this.show(r));
  }

  async get(businessId: string, id: string): Promise<IntakeView> {
    return this.show(await this.record(this.p.db, businessId, id));
  }

  private async record(r: Reader, businessId: string, id: string): Promise<IntakeModel> {
    const row = await store.intakeOf(r, businessId, id);
    if (!row) throw notFound('intake');
    return row;
  }

  private show(row: IntakeModel): IntakeView {
    const { stored, known, repeats, refused, dropped } = row.result;
    return {
      id: row.id,
      fileName: row.fileName,
      state: row.state,
      total: row.total,
      received: row.state === 'reading' ? row.received : row.total,
      listId: row.listId,
      digest: row.digest,
      createdAt: row.createdAt,
      createdBy: row.createdBy,
      result: row.state === 'stored' ? { stored, known, repeats, refused, dropped } : null,
    };
  }

  /** What was handed in goes when the intake is over: by a job, since it may be a million rows. */
  private async clearLater(w: Writer, { id, businessId }: IntakeModel): Promise<void> {
    await this.p.jobs.add(w, { kind: 'intake.clear', businessId, payload: { intakeId: id }, key: `clear:${id}` });
  }

  private async clear(id: string): Promise<JobOutcome> {
    const lot = new Lot();
    while (await lot.write(this.p.db, (w, size) => store.dropRows(w, id, size)));
    return { done: true };
  }

  /** Chunk by chunk; the place reached is kept in the same transaction as the chunk. */
  private async storeChunks(
    id: string,
    actor: Actor,
    progress: (done: number, total: number) => Promise<boolean>,
  ): Promise<JobOutcome> {
    const lot = new Lot();
    for (;;) {
      const step = await lot.write(this.p.db, (w, size) => this.storeChunk(w, id, actor, size));
      if (step.done) return { done: true, result: step.result };
      if (!(await progress(step.after, step.total))) return { done: false };
    }
  }

  private async storeChunk(
    w: Writer,
    id: string,
    actor: Actor,
    size: number,
  ): Promise<{ done: boolean; after: number; total: number; result: string }> {
    const intake = await store.intakeById(w, id);
    if (!intake || intake.state !== 'storing') return { done: true, after: 0, total: 0, result: '' };
    const { businessId, listId } = intake;
    const so = { ...intake.result };
    const rows = await store.rowsAfter(w, id, so.after, size);
    if (rows.length === 0) {
      await intake.update({ state: 'stored' });
      await this.clearLater(w, intake);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'intake stored',
        objectKind: 'intake',
        objectId: id,
        after: so,
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'contacts' }));
      return {
        done: true,
        after: intake.total,
        total: intake.total,
        result: `${so.stored} stored, ${so.known} known already, ${so.repeats} repeats, ${so.refused} refused, ${so.dropped} dropped`,
      };
    }
    const kept = new Map<string, store.FreshContact>();
    for (const r of rows) {
      if (r.e164 === null) so.refused++;
      else if (!r.keep) so.dropped++;
      else if (kept.has(r.e164)) so.repeats++;
      else {
        const place = placeOf(r.e164, r.state_code);
        kept.set(r.e164, [
          idFrom('con', businessId, r.e164),
          r.first_name,
          r.last_name,
          r.email,
          r.state_code,
          sortName(r.first_name, r.last_name, r.e164),
          r.e164,
          place.country,
          place.zones.join(','),
          place.states.join(','),
        ]);
      }
    }
    // A number stored by an earlier chunk of this same intake is a repeat, any other known one was here before.
    const before = await store.knownAmong(w, businessId, [...kept.keys()], id, so.after);
    for (const b of before) b.mine ? so.repeats++ : so.known++;
    so.stored += kept.size - before.length;
    const known = new Set(before.map((b) => b.e164));
    await store.storeContacts(
      w,
      businessId,
      [...kept].filter(([e164]) => !known.has(e164)).map(([, row]) => row),
      this.p.clock.now(),
      id,
    );
    await this.contacts.arrived(
      w,
      businessId,
      [...kept.keys()].filter((e164) => !known.has(e164)),
    );
    if (listId !== null) await store.listNumbers(w, businessId, listId, [...kept.keys()]);
    if (intake.consentClaim !== '') await this.file(w, actor, businessId, [...kept.keys()], intake.consentClaim, id);
    so.after = rows[rows.length - 1]?.row ?? so.after;
    await intake.update({ result: so });
    return {
      done: false,
      after: so.stored + so.known + so.repeats + so.refused + so.dropped,
      total: intake.total,
      result: '',
    };
  }
}
