import type { IntakeRow, IntakeView } from '@long-gate/contracts';
import { parsePhone, placeOf } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import { jsonRows, type Reader, type Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound } from '../../platform/problem.js';
import { sortName, type Contacts } from './contacts.js';

interface IntakeRecord {
  id: string;
  business_id: string;
  file_name: string;
  state: IntakeView['state'];
  total: number;
  list_id: string | null;
  consent_claim: string;
  created_by: string;
  created_at: number;
  result: string;
}

/** Files claims of consent that came with a list; given by the consent area. */
export type ClaimFiler = (
  w: Writer,
  actor: Actor,
  businessId: string,
  e164s: string[],
  claim: string,
  intakeId: string,
) => Promise<void>;

const CHUNK = 4000;

/** Bringing contacts in: rows are handed in, checked again here, and stored by a job that a crash does not disturb. */
export class Intakes {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly fileClaims: ClaimFiler,
  ) {
    p.jobs.handle<{ intakeId: string; actor: Actor }>('intake.store', async ({ intakeId, actor }, context) =>
      this.storeChunks(intakeId, actor, (done, total) => context.progress(done, total)),
    );
  }

  async begin(
    actor: Actor,
    businessId: string,
    draft: { fileName: string; total: number; listName: string; consentClaim: string },
  ): Promise<IntakeView> {
    const id = newId('int');
    await this.p.db.write(async (w) => {
      const listId =
        draft.listName === '' ? null : await this.contacts.ensureList(w, actor, businessId, draft.listName, 'list');
      await w.run(
        `INSERT INTO intake (id, business_id, file_name, state, total, list_id, consent_claim, created_by, created_at) VALUES ($1,$2,$3,'reading',$4,$5,$6,$7,$8)`,
        [id, businessId, draft.fileName, draft.total, listId, draft.consentClaim, actor.name, this.p.clock.now()],
      );
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
    const checked = rows.map((r) => {
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
    return this.p.db.write(async (w) => {
      const intake = await this.record(w, businessId, id);
      if (intake.state !== 'reading') throw conflict('This intake takes no more rows.');
      await w.run(
        `INSERT INTO intake_row (intake_id, row, phone, first_name, last_name, email, state_code, e164, outcome, reason, keep)
         SELECT $1, value->>0, value->>1, value->>2, value->>3, value->>4, value->>5, value->>6, value->>7, value->>8, value->>9 FROM json_each($2) WHERE true ON CONFLICT DO NOTHING`,
        [id, jsonRows(checked)],
      );
      return { received: await this.received(w, id) };
    });
  }

  async store(actor: Actor, businessId: string, id: string): Promise<IntakeView> {
    await this.p.db.write(async (w) => {
      const intake = await this.record(w, businessId, id);
      if (intake.state !== 'reading') return;
      const received = await this.received(w, id);
      if (received !== intake.total)
        throw conflict(`${received} of ${intake.total} rows have arrived; hand in the rest first.`);
      await w.run(`UPDATE intake SET state = 'storing' WHERE id = $1`, [id]);
      await this.p.jobs.add(w, {
        kind: 'intake.store',
        businessId,
        payload: { intakeId: id, actor: { id: actor.id, name: actor.name } },
        title: `Storing ${intake.file_name}`,
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
      await w.run('DELETE FROM intake_row WHERE intake_id = $1', [id]);
      await w.run(`UPDATE intake SET state = 'cancelled' WHERE id = $1`, [id]);
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
    const rows = await this.p.db.all<IntakeRecord>(
      `SELECT * FROM intake WHERE business_id = $1 ORDER BY created_at DESC LIMIT 50`,
      [businessId],
    );
    return Promise.all(rows.map((r) => this.show(this.p.db, r)));
  }

  async get(businessId: string, id: string): Promise<IntakeView> {
    return this.show(this.p.db, await this.record(this.p.db, businessId, id));
  }

  private async record(r: Reader, businessId: string, id: string): Promise<IntakeRecord> {
    const row = await r.one<IntakeRecord>('SELECT * FROM intake WHERE id = $1 AND business_id = $2', [id, businessId]);
    if (!row) throw notFound('intake');
    return row;
  }

  private async received(r: Reader, id: string): Promise<number> {
    return (await r.one<{ n: number }>('SELECT count(*) AS n FROM intake_row WHERE intake_id = $1', [id]))?.n ?? 0;
  }

  private async show(r: Reader, row: IntakeRecord): Promise<IntakeView> {
    const result = JSON.parse(row.result) as Partial<NonNullable<IntakeView['result']>> & { after?: number };
    return {
      id: row.id,
      fileName: row.file_name,
      state: row.state,
      total: row.total,
      received: row.state === 'reading' ? await this.received(r, row.id) : row.total,
      listId: row.list_id,
      createdAt: row.created_at,
      createdBy: row.created_by,
      result:
        row.state === 'stored'
          ? {
              stored: result.stored ?? 0,
              known: result.known ?? 0,
              repeats: result.repeats ?? 0,
              refused: result.refused ?? 0,
              dropped: result.dropped ?? 0,
            }
          : null,
    };
  }

  /** Chunk by chunk; the place reached is kept in the same transaction as the chunk. */
  private async storeChunks(
    id: string,
    actor: Actor,
    progress: (done: number, total: number) => Promise<boolean>,
  ): Promise<JobOutcome> {
    for (;;) {
      const step = await this.p.db.write((w) => this.storeChunk(w, id, actor));
      if (step.done) return { done: true, result: step.result };
      if (!(await progress(step.after, step.total))) return { done: false };
    }
  }

  private async storeChunk(
    w: Writer,
    id: string,
    actor: Actor,
  ): Promise<{ done: boolean; after: number; total: number; result: string }> {
    const intake = await w.one<IntakeRecord>('SELECT * FROM intake WHERE id = $1', [id]);
    if (!intake || intake.state !== 'storing') return { done: true, after: 0, total: 0, result: '' };
    const so = {
      stored: 0,
      known: 0,
      repeats: 0,
      refused: 0,
      dropped: 0,
      after: 0,
      ...(JSON.parse(intake.result) as object),
    };
    const rows = await w.all<{
      row: number;
      first_name: string;
      last_name: string;
      email: string;
      state_code: string;
      e164: string | null;
      keep: number;
    }>(
      `SELECT row, first_name, last_name, email, state_code, e164, keep FROM intake_row WHERE intake_id = $1 AND row > $2 ORDER BY row LIMIT ${CHUNK}`,
      [id, so.after],
    );
    if (rows.length === 0) {
      await w.run(`UPDATE intake SET state = 'stored' WHERE id = $1`, [id]);
      await w.run('DELETE FROM intake_row WHERE intake_id = $1', [id]);
      await record(w, this.p.clock, {
        businessId: intake.business_id,
        actor,
        action: 'intake stored',
        objectKind: 'intake',
        objectId: id,
        after: so,
      });
      w.afterCommit(() => this.p.live.tell({ businessId: intake.business_id, topic: 'contacts' }));
      return {
        done: true,
        after: intake.total,
        total: intake.total,
        result: `${so.stored} stored, ${so.known} known already, ${so.repeats} repeats, ${so.refused} refused, ${so.dropped} dropped`,
      };
    }
    const kept = new Map<string, unknown[]>();
    for (const r of rows) {
      if (r.e164 === null) so.refused++;
      else if (r.keep === 0) so.dropped++;
      else if (kept.has(r.e164)) so.repeats++;
      else {
        const place = placeOf(r.e164, r.state_code);
        kept.set(r.e164, [
          idFrom('con', intake.business_id, r.e164),
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
    const before = await w.all<{ e164: string; mine: number }>(
      `SELECT cn.e164, EXISTS (SELECT 1 FROM intake_row i WHERE i.intake_id = $3 AND i.row <= $4 AND i.e164 = cn.e164 AND i.keep = 1) AS mine FROM json_each($1) j CROSS JOIN contact_number cn ON cn.business_id = $2 AND cn.e164 = j.value`,
      [jsonRows([...kept.keys()]), intake.business_id, so.after === 0 ? '' : id, so.after],
    );
    for (const b of before) b.mine === 1 ? so.repeats++ : so.known++;
    so.stored += kept.size - before.length;
    const known = new Set(before.map((b) => b.e164));
    const fresh = jsonRows([...kept].filter(([e164]) => !known.has(e164)).map(([, row]) => row));
    await w.run(
      `INSERT INTO contact (id, business_id, first_name, last_name, email, state_code, sort_name, created_at) SELECT value->>0, $2, value->>1, value->>2, value->>3, value->>4, value->>5, $3 FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
      [fresh, intake.business_id, this.p.clock.now()],
    );
    await w.run(
      `INSERT INTO contact_number (business_id, contact_id, e164, country, zones, states) SELECT $2, value->>0, value->>6, value->>7, value->>8, value->>9 FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
      [fresh, intake.business_id],
    );
    if (intake.list_id) {
      await w.run(
        `INSERT INTO list_member (list_id, contact_id) SELECT $1, cn.contact_id FROM json_each($2) j CROSS JOIN contact_number cn ON cn.business_id = $3 AND cn.e164 = j.value WHERE true ON CONFLICT DO NOTHING`,
        [intake.list_id, jsonRows([...kept.keys()]), intake.business_id],
      );
    }
    if (intake.consent_claim !== '')
      await this.fileClaims(w, actor, intake.business_id, [...kept.keys()], intake.consent_claim, id);
    so.after = rows[rows.length - 1]?.row ?? so.after;
    await w.run('UPDATE intake SET result = $2 WHERE id = $1', [id, JSON.stringify(so)]);
    return {
      done: false,
      after: so.stored + so.known + so.repeats + so.refused + so.dropped,
      total: intake.total,
      result: '',
    };
  }
}
