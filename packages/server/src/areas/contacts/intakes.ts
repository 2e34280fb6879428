import type { beginIntake, IntakeRow, IntakeView } from '@long-gate/contracts';
import { parsePhone } from '@long-gate/core';
import { z } from 'zod';
import { ActorShape, record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Documents } from '../../platform/documents.js';
import { newId } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound } from '../../platform/problem.js';
import * as store from './intake-store.js';
import type { Consenting, IntakeStoring } from './intake-storing.js';
import type { IntakeUndo } from './intake-undo.js';
import type { Lists } from './lists.js';
import type { IntakeModel } from './model.js';

type Draft = z.output<typeof beginIntake.body>;
/** An intake as others name it. */
export interface NamedIntake {
  fileName: string;
  broughtAt: number;
  broughtBy: string;
  attestation: string;
  /** What it says of all its people; empty where it says nothing. */
  claim: string;
  undone: boolean;
}
/** Nothing was stored of it for so long: whoever handed it in was cut off, or went away. */
const CUT_OFF_MS = 10 * 60_000;

/** Bringing contacts in: rows are handed in, checked again here, and stored by a job that a crash does not disturb. */
export class Intakes {
  /** How many rows that are handed in are kept in one write, whoever hands them in. */
  private readonly taking = new Lot();

  constructor(
    private readonly p: Platform,
    private readonly lists: Lists,
    private readonly documents: Documents,
    private readonly storing: IntakeStoring,
    undo: IntakeUndo,
  ) {
    p.jobs.handle(
      'intake.store',
      z.object({ intakeId: z.string(), actor: ActorShape }),
      async ({ intakeId, actor }, context) =>
        storing.run(intakeId, actor, (done, total) => context.progress(done, total)),
    );
    p.jobs.handle('intake.settle', z.object({ intakeId: z.string() }), ({ intakeId }) => storing.settle(intakeId));
    p.jobs.handle('intake.undo', z.object({ intakeId: z.string(), actor: ActorShape }), ({ intakeId, actor }) =>
      undo.run(intakeId, actor),
    );
    p.jobs.handle('intake.clear', z.object({ intakeId: z.string() }), ({ intakeId }) => this.clear(intakeId));
  }

  /** Whoever keeps the ledger records what a list says of its people. */
  recordConsent(consenting: Consenting): void {
    this.storing.consenting = consenting;
  }

  async begin(
    actor: Actor,
    businessId: string,
    draft: Pick<Draft, 'fileName' | 'total' | 'listName' | 'consentClaim'> & Partial<Draft>,
  ): Promise<IntakeView> {
    const id = newId('int');
    await this.p.db.write(async (w) => {
      const listId =
        draft.listName === '' ? null : await this.lists.ensure(w, actor, businessId, draft.listName, 'list');
      const document = draft.proof
        ? await this.documents.keep(
            w,
            { objectKind: 'intake', objectId: id, businessId },
            {
              what: 'proof of consent',
              name: draft.proof.name,
              bytes: Buffer.from(draft.proof.base64, 'base64'),
              by: actor.name,
            },
          )
        : null;
      await store.addIntake(w, {
        id,
        businessId,
        fileName: draft.fileName,
        total: draft.total,
        listId,
        consentClaim: draft.consentClaim,
        digest: draft.digest ?? '',
        attestation: draft.attestation ?? '',
        region: draft.region ?? 'US',
        tags: draft.tags ?? [],
        known: draft.known ?? {},
        purposes: draft.proof?.purposes ?? [],
        documentId: document?.id ?? '',
        documentDigest: document?.sha256 ?? '',
        createdBy: actor.name,
        createdAt: this.p.clock.now(),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'intake begun',
        objectKind: 'intake',
        objectId: id,
        after: {
          fileName: draft.fileName,
          rows: draft.total,
          ...(draft.attestation ? { attestation: draft.attestation } : {}),
          ...(document ? { document: document.sha256 } : {}),
        },
      });
    });
    return this.get(businessId, id);
  }

  /** What some intakes were called, who brought them in and what they say of their people; by their ids. */
  async named(r: Reader, businessId: string, ids: readonly string[]): Promise<Map<string, NamedIntake>> {
    return new Map(
      (await store.intakesByIds(r, businessId, ids)).map((x) => [
        x.id,
        {
          fileName: x.fileName,
          broughtAt: x.createdAt,
          broughtBy: x.createdBy,
          attestation: x.attestation,
          claim: x.consentClaim,
          undone: x.undo !== '' || x.state === 'cancelled',
        },
      ]),
    );
  }

  /** Takes rows; each is checked here again, whatever the browser said. Handing a row in twice changes nothing. */
  async take(businessId: string, id: string, rows: readonly IntakeRow[]): Promise<{ received: number }> {
    const { region } = await this.record(this.p.db, businessId, id);
    const checked = rows.map((r): store.CheckedRow => {
      const phone = parsePhone(r.phone, { defaultRegion: region, allowFictional: true });
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
        JSON.stringify(r.more ?? {}),
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

  /** Nothing of it is stored: what was handed in is forgotten, and what a job has stored of it already goes. */
  async cancel(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const intake = await this.record(w, businessId, id);
      if (intake.state === 'storing') return this.takeBack(w, intake, actor);
      if (intake.state !== 'reading') throw conflict('This intake is stored already. Take it back instead.');
      await intake.update({ state: 'cancelled' });
      await this.p.jobs.add(w, {
        kind: 'intake.clear',
        businessId,
        payload: { intakeId: id },
        key: `intake.clear:${id}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'intake cancelled',
        objectKind: 'intake',
        objectId: id,
      });
    });
  }

  /**
   * Takes a stored intake back.
   * @throws Problem 409 where it is not stored, was taken back already, or something it brought was touched since.
   */
  async undo(actor: Actor, businessId: string, id: string): Promise<IntakeView> {
    await this.p.db.write(async (w) => {
      const intake = await this.record(w, businessId, id);
      if (intake.undo !== '') return;
      if (intake.state !== 'stored') throw conflict('Only an intake that is stored can be taken back.');
      const why = await store.touchedSince(w, id);
      if (why !== '')
        throw conflict(`It cannot be taken back as a whole: ${why}. Delete those you do not want from the list.`);
      await this.takeBack(w, intake, actor);
    });
    return this.get(businessId, id);
  }

  private async takeBack(w: Writer, intake: IntakeModel, actor: Actor): Promise<void> {
    const { id, businessId } = intake;
    if (intake.undo !== '') return;
    await intake.update({ undo: 'undoing' });
    await this.p.jobs.add(w, {
      kind: 'intake.undo',
      businessId,
      payload: { intakeId: id, actor: { id: actor.id, name: actor.name } },
      title: `Taking back ${intake.fileName}`,
      key: `intake.undo:${id}`,
    });
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: 'taking an intake back',
      objectKind: 'intake',
      objectId: id,
    });
  }

  /** Which of these numbers are contacts already. */
  known(businessId: string, e164s: readonly string[]): Promise<string[]> {
    return store.knownOf(this.p.db, businessId, e164s);
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
    const { after: _, ...result } = row.result;
    return {
      id: row.id,
      fileName: row.fileName,
      state: row.undo !== '' && row.state !== 'cancelled' ? row.undo : row.state,
      total: row.total,
      received: row.state === 'reading' ? row.received : row.total,
      listId: row.listId,
      digest: row.digest,
      attestation: row.attestation,
      undo: row.state === 'stored' && row.undo === '' ? '' : null,
      createdAt: row.createdAt,
      createdBy: row.createdBy,
      result: row.state === 'stored' ? result : null,
    };
  }

  /** What was handed in goes when the intake is over: by a job, since it may be a million rows. */
  private async clear(id: string): Promise<JobOutcome> {
    const lot = new Lot();
    while (await lot.write(this.p.db, (w, size) => store.dropRows(w, id, size)));
    return { done: true };
  }
}
