import type { DispatchView } from '@long-gate/contracts';
import type { Purpose } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import { numberCursor } from '../../platform/cursor.js';
import type { Reader, Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { roleIn, type Person } from '../../platform/http/route.js';
import { conflict, expectVersion, notFound, Problem } from '../../platform/problem.js';

export interface DispatchRow {
  id: string;
  business_id: string;
  title: string;
  text: string;
  purpose: Purpose | null;
  transactional: number;
  stop_line: number;
  number_id: string | null;
  audience: string;
  state: DispatchView['state'];
  created_by: string;
  created_at: number;
  sent_at: number | null;
  ends_at: number | null;
  override_reason: string;
  override_by: string;
  version: number;
}
export interface DispatchDraft {
  title: string;
  text: string;
  purpose: Purpose | null;
  transactional: boolean;
  stopLine: boolean;
  numberId: string | null;
  audience: { include: string[]; exclude: string[] };
  /** An administrator's reason to let words go with another purpose than they read as; empty for none. */
  override: string;
}

/** Dispatches as they are written and shown: drafts, and what is on record of those that were sent. */
export class Drafts {
  constructor(private readonly p: Platform) {}

  async page(
    businessId: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: DispatchView[]; next: string | null; total: number }> {
    const from = numberCursor(cursor, 0);
    const rows = await this.p.db.all<DispatchRow>(
      'SELECT * FROM dispatch WHERE business_id = $1 ORDER BY coalesce(sent_at, created_at) DESC, id LIMIT $2 OFFSET $3',
      [businessId, limit + 1, from],
    );
    const total = await this.p.db.one<{ n: number }>('SELECT count(*) AS n FROM dispatch WHERE business_id = $1', [
      businessId,
    ]);
    const items: DispatchView[] = [];
    for (const row of rows.slice(0, limit)) items.push(await this.show(this.p.db, row));
    return { items, next: rows.length > limit ? String(from + limit) : null, total: total?.n ?? 0 };
  }

  /** Titles of what is written or being sent from a number. */
  async using(r: Reader, numberId: string): Promise<{ dispatches: string[] }> {
    const rows = await r.all<{ title: string }>(
      `SELECT title FROM dispatch WHERE number_id = $1 AND state IN ('draft','sending') ORDER BY created_at`,
      [numberId],
    );
    return { dispatches: rows.map((d) => d.title || 'without a title') };
  }

  async get(businessId: string, id: string): Promise<DispatchView> {
    return this.show(this.p.db, await this.row(this.p.db, businessId, id));
  }

  async row(r: Reader, businessId: string, id: string): Promise<DispatchRow> {
    const row = await r.one<DispatchRow>('SELECT * FROM dispatch WHERE id = $1 AND business_id = $2', [id, businessId]);
    if (!row) throw notFound('dispatch');
    return row;
  }

  async add(actor: Person, businessId: string, d: DispatchDraft): Promise<DispatchView> {
    const id = newId('dis');
    await this.p.db.write(async (w) => {
      await w.run(
        `INSERT INTO dispatch (id, business_id, title, text, purpose, transactional, stop_line, number_id, audience, state, created_by, created_at, override_reason, override_by) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,'draft',$10,$11,$12,$13)`,
        [
          id,
          businessId,
          d.title,
          d.text,
          d.purpose,
          d.transactional ? 1 : 0,
          d.stopLine ? 1 : 0,
          d.numberId,
          JSON.stringify(d.audience),
          actor.name,
          this.p.clock.now(),
          d.override,
          overrideBy(actor, businessId, d, null),
        ],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch begun',
        objectKind: 'dispatch',
        objectId: id,
        after: d,
      });
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  async save(
    actor: Person,
    businessId: string,
    id: string,
    seen: number | null,
    d: DispatchDraft,
  ): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, businessId, id);
      expectVersion('dispatch', before, seen);
      if (before.state !== 'draft') throw conflict('This dispatch has been sent; it can no longer be edited.');
      await w.run(
        'UPDATE dispatch SET title=$2, text=$3, purpose=$4, transactional=$5, stop_line=$6, number_id=$7, audience=$8, override_reason=$9, override_by=$10, version=version+1 WHERE id=$1',
        [
          id,
          d.title,
          d.text,
          d.purpose,
          d.transactional ? 1 : 0,
          d.stopLine ? 1 : 0,
          d.numberId,
          JSON.stringify(d.audience),
          d.override,
          overrideBy(actor, businessId, d, before),
        ],
      );
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch edited',
        objectKind: 'dispatch',
        objectId: id,
        before: draftOf(before),
        after: d,
      });
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  async remove(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (row.state !== 'draft') throw conflict('Only a draft can be thrown away; what was sent stays on record.');
      await w.run('DELETE FROM dispatch WHERE id = $1', [id]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'draft thrown away',
        objectKind: 'dispatch',
        objectId: id,
        before: draftOf(row),
      });
      this.changed(w, businessId, id);
    });
  }

  async show(r: Reader, row: DispatchRow): Promise<DispatchView> {
    const counts =
      row.state === 'draft'
        ? []
        : await r.all<{ state: string; n: number }>(
            'SELECT state, count(*) AS n FROM message WHERE dispatch_id = $1 GROUP BY state',
            [row.id],
          );
    const d = draftOf(row);
    return {
      id: row.id,
      ...d,
      overrideBy: row.override_by,
      state: row.state,
      createdBy: row.created_by,
      createdAt: row.created_at,
      sentAt: row.sent_at,
      endsAt: row.ends_at,
      counts: Object.fromEntries(counts.map((c) => [c.state, c.n])),
      version: row.version,
    };
  }

  /** Tells the open pages. */
  changed(w: Writer, businessId: string, id: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'dispatch', id }));
  }
}

export function draftOf(row: DispatchRow): DispatchDraft {
  return {
    title: row.title,
    text: row.text,
    purpose: row.purpose,
    transactional: row.transactional === 1,
    stopLine: row.stop_line === 1,
    numberId: row.number_id,
    audience: JSON.parse(row.audience) as DispatchDraft['audience'],
    override: row.override_reason,
  };
}

/**
 * Who overrides. Only an administrator may give, change or keep a reason for changed words; a coordinator's edit of the
 * text takes an earlier reason away by not being able to send it.
 */
function overrideBy(actor: Person, businessId: string, d: DispatchDraft, before: DispatchRow | null): string {
  if (d.override === '') return '';
  const same =
    before !== null && before.override_reason === d.override && before.text === d.text && before.purpose === d.purpose;
  if (same) return before.override_by;
  if (roleIn(actor, businessId) !== 'administrator')
    throw new Problem(
      403,
      'forbidden',
      'Only an administrator can let a text go whose words read otherwise than its purpose. Take the reason away to save.',
      [{ field: 'override', message: 'Only an administrator can give a reason here.' }],
    );
  return actor.name;
}
