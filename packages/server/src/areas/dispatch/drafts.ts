import type { Behind, DispatchSort, DispatchView } from '@long-gate/contracts';
import { composeText, MERGE_FIELDS, type MergeField, type Purpose } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { roleIn, type Person } from '../../platform/http/route.js';
import { conflict, expectVersion, notFound, Problem } from '../../platform/problem.js';
import {
  addDispatch,
  countGrouped,
  countShown,
  dispatchesNamed,
  dispatchesOf,
  dispatchOf,
  openDispatches,
  sentLast,
  titlesUsing,
  type DispatchFilter,
} from './dispatch-store.js';
import { scheduleOf, schedulesOf } from './schedule-store.js';
import { statesOf } from './recipient-store.js';
import type { DispatchModel, ScheduleModel } from './model.js';

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
  /** For colleagues: a kind of dispatch, and the larger effort it belongs to. */
  category: string;
  effort: string;
}

/** Merge fields as reviewers like variables. */
const IN_BRACKETS: Partial<Record<MergeField, string>> = Object.fromEntries(
  Object.entries(MERGE_FIELDS).map(([field, words]) => [field, `[${words}]`]),
);

const CALL_OFF_FIRST = 'It is scheduled. Call it off first; then it is a draft again and can be changed.';

/** Dispatches as they are written and shown: drafts, and what is on record of those that were sent. */
export class Drafts {
  constructor(private readonly p: Platform) {}

  async page(
    businessId: string,
    {
      cursor,
      limit,
      sort = '-sent',
      ...filter
    }: DispatchFilter & { cursor?: string | undefined; limit: number; sort?: DispatchSort | undefined },
  ): Promise<{ items: DispatchView[]; next: string | null; total: number }> {
    const { rows, next, total } = await dispatchesOf(this.p.db, businessId, filter, sort, cursor, limit);
    return { items: await Promise.all(rows.map((row) => this.show(this.p.db, row))), next, total };
  }

  /** How many there are of each kind, category and effort. */
  async counts(businessId: string) {
    const r = this.p.db;
    const [shows, categories, efforts] = await Promise.all([
      countShown(r, businessId),
      countGrouped(r, businessId, 'category'),
      countGrouped(r, businessId, 'effort'),
    ]);
    return { shows, categories, efforts };
  }

  /** Titles of what is written or being sent from a number. */
  async using(r: Reader, numberId: string): Promise<{ dispatches: string[] }> {
    return { dispatches: (await titlesUsing(r, numberId)).map((title) => title || 'without a title') };
  }

  /** Those that are written or being sent, the newest first, with how many of their texts are held. */
  async open(
    r: Reader,
    businessId: string,
    limit: number,
  ): Promise<
    { id: string; title: string; state: DispatchView['state']; held: number; schedule: ScheduleModel | null }[]
  > {
    const rows = await openDispatches(r, businessId, limit);
    const schedules = await schedulesOf(r, businessId);
    return Promise.all(
      rows.map(async ({ id, title, state }) => {
        const schedule = schedules.find((s) => s.dispatchId === id) ?? null;
        return { id, title, state, held: (await statesOf(r, id))['held'] ?? 0, schedule };
      }),
    );
  }

  /** Those whose title holds these words, in small letters. */
  find(r: Reader, businessId: string, words: string, limit: number): ReturnType<typeof dispatchesNamed> {
    return dispatchesNamed(r, businessId, words, limit);
  }

  /** What was sent last as people read it, with variables in brackets; the last first. */
  async sentTexts(
    r: Reader,
    businessId: string,
    nameLine: string,
    limit: number,
  ): Promise<{ text: string; at: number; numberId: string }[]> {
    return (await sentLast(r, businessId, limit)).map((d) => ({
      text: composeText(d.text, { nameLine, stopLine: d.stopLine }, IN_BRACKETS),
      at: d.sentAt ?? d.createdAt,
      numberId: d.numberId ?? '',
    }));
  }

  async get(businessId: string, id: string): Promise<DispatchView> {
    return this.show(this.p.db, await this.row(this.p.db, businessId, id));
  }

  async row(r: Reader, businessId: string, id: string): Promise<DispatchModel> {
    const row = await dispatchOf(r, businessId, id);
    if (!row) throw notFound('dispatch');
    return row;
  }

  /** A dispatch as its gate preview is asked. */
  async asWritten(businessId: string, id: string): Promise<Omit<Behind['dispatch'], 'when'>> {
    const d = draftOf(await this.row(this.p.db, businessId, id));
    return { ...d, purpose: d.purpose === 'conversational' ? null : d.purpose };
  }

  /** @param key names the wish: asked again under it the draft that is there already is the answer. */
  async add(actor: Person, businessId: string, d: DispatchDraft, key = ''): Promise<DispatchView> {
    const id = key === '' ? newId('dis') : idFrom('dis', businessId, key);
    await this.p.db.write(async (w) => {
      if (key !== '' && (await dispatchOf(w, businessId, id))) return;
      await addDispatch(w, {
        id,
        businessId,
        ...columnsOf(d),
        state: 'draft',
        createdBy: actor.name,
        createdAt: this.p.clock.now(),
        overrideBy: overrideBy(actor, businessId, d, null),
      });
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
      if (await scheduleOf(w, id)) throw conflict(CALL_OFF_FIRST);
      const was = draftOf(before);
      await before.update({
        ...columnsOf(d),
        overrideBy: overrideBy(actor, businessId, d, before),
        version: before.version + 1,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'dispatch edited',
        objectKind: 'dispatch',
        objectId: id,
        before: was,
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
      if (await scheduleOf(w, id)) throw conflict(CALL_OFF_FIRST);
      await row.destroy();
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

  /** A draft with the same words, sender and audience, to follow one up. */
  async copy(actor: Person, businessId: string, id: string): Promise<DispatchView> {
    const from = draftOf(await this.row(this.p.db, businessId, id));
    const title = `Follow-up: ${from.title.replace(/^Follow-up: /, '')}`.slice(0, 100);
    return this.add(actor, businessId, { ...from, title, override: '' });
  }

  /** Puts a finished dispatch into the archive, or takes it out. What was sent stays on record either way. */
  async archive(actor: Actor, businessId: string, id: string, archived: boolean): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if ((row.archivedAt !== null) === archived) return;
      if (row.state !== 'done' && row.state !== 'cancelled')
        throw conflict('A dispatch is archived once it is done; a draft can be thrown away.');
      await row.update({ archivedAt: archived ? Math.round(this.p.clock.now()) : null, version: row.version + 1 });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: archived ? 'dispatch archived' : 'dispatch taken out of the archive',
        objectKind: 'dispatch',
        objectId: id,
      });
      this.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  async show(r: Reader, row: DispatchModel): Promise<DispatchView> {
    const counts = row.state === 'draft' ? {} : await statesOf(r, row.id);
    const d = draftOf(row);
    const s = row.state === 'draft' ? await scheduleOf(r, row.id) : null;
    return {
      id: row.id,
      ...d,
      overrideBy: row.overrideBy,
      state: s ? 'scheduled' : row.state,
      schedule: s && {
        local: s.local,
        zone: s.zone,
        at: s.at,
        reach: s.reach,
        cost: s.cost,
        by: s.byName,
        held: s.held,
      },
      archivedAt: row.archivedAt,
      createdBy: row.createdBy,
      createdAt: row.createdAt,
      sentAt: row.sentAt,
      endsAt: row.endsAt,
      counts,
      version: row.version,
    };
  }

  /** Tells the open pages. */
  changed(w: Writer, businessId: string, id: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'dispatch', id }));
  }
}

export function draftOf(row: DispatchModel): DispatchDraft {
  return {
    title: row.title,
    text: row.text,
    purpose: row.purpose,
    transactional: row.transactional,
    stopLine: row.stopLine,
    numberId: row.numberId,
    audience: row.audience,
    override: row.overrideReason,
    category: row.category,
    effort: row.effort,
  };
}

function columnsOf({ override, ...d }: DispatchDraft) {
  return { ...d, overrideReason: override };
}

/**
 * Who overrides. Only an administrator may give, change or keep a reason for changed words; a coordinator's edit of the
 * text takes an earlier reason away by not being able to send it.
 */
function overrideBy(actor: Person, businessId: string, d: DispatchDraft, before: DispatchModel | null): string {
  if (d.override === '') return '';
  const same =
    before !== null && before.overrideReason === d.override && before.text === d.text && before.purpose === d.purpose;
  if (same) return before.overrideBy;
  if (roleIn(actor, businessId) !== 'administrator')
    throw new Problem(
      403,
      'forbidden',
      'Only an administrator can let a text go whose words read otherwise than its purpose. Take the reason away to save.',
      [{ field: 'override', message: 'Only an administrator can give a reason here.' }],
    );
  return actor.name;
}
