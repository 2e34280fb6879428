import type { DispatchView, When } from '@long-gate/contracts';
import { DEFAULT_PRICES, formatCents, momentOf } from '@long-gate/core';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, Problem, refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { draftOf, type Drafts } from './drafts.js';
import type { GatePreview } from './gate-preview.js';
import { dispatchById } from './dispatch-store.js';
import type { ScheduleModel } from './model.js';
import { addSchedule, dropSchedule, scheduleOf } from './schedule-store.js';
import type { Sending } from './sending.js';

const HOUR_MS = 3_600_000;
/** Nobody plans farther ahead. */
const AHEAD_MS = 366 * 24 * HOUR_MS;
/** What was not sent by so much later, because nothing was running, is not sent without being asked about. */
const LATE_MS = 6 * HOUR_MS;
/** More people, or more money, than this above what was confirmed asks again: both have to be passed. */
const MORE_PART = 0.02;
const MORE_PEOPLE = 20;

/**
 * Dispatches that leave at a date and time. The audience is resolved anew when it leaves; what would then go beyond what
 * was confirmed, or could not go as it was confirmed, is held and asked about.
 */
export class Scheduling {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly drafts: Drafts,
    private readonly preview: GatePreview,
    private readonly sending: Sending,
  ) {
    p.jobs.handle(
      'dispatch.leave',
      z.object({ dispatchId: z.string(), at: z.number() }),
      async ({ dispatchId, at }) => {
        await this.leave(dispatchId, at);
        return { done: true };
      },
      'a scheduled dispatch leaves',
    );
  }

  /** @param confirmed whom it would reach and what it would cost at most, as the confirmation named it. */
  async schedule(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    when: When,
    confirmed: { reach: number; cost: number },
  ): Promise<DispatchView> {
    const at = await this.begins(businessId, id, when);
    await this.p.db.write(async (w) => {
      const row = await this.drafts.row(w, businessId, id);
      const before = await scheduleOf(w, id);
      // A second click, or the wish again after a lost answer.
      if (before && before.local === when.local && before.zone === when.zone && before.held === '') return;
      if (row.state !== 'draft') throw conflict('This dispatch has been sent already.');
      expectVersion('dispatch', row, seen);
      const now = this.p.clock.now();
      if (at <= now)
        throw refused('This moment has passed. Choose a time to come, or send it now.', [
          { field: 'local', message: 'Choose a time to come.' },
        ]);
      if (at > now + AHEAD_MS)
        throw refused('A dispatch is scheduled for a year ahead at most.', [
          { field: 'local', message: 'Choose a day within a year.' },
        ]);
      await this.sending.requireSendable(w, businessId, draftOf(row));
      if (before) await dropSchedule(w, id);
      await addSchedule(w, {
        dispatchId: id,
        businessId,
        ...when,
        at,
        ...confirmed,
        byId: actor.id,
        byName: actor.name,
      });
      await row.update({ version: row.version + 1 });
      await this.p.jobs.add(w, {
        kind: 'dispatch.leave',
        businessId,
        payload: { dispatchId: id, at },
        at,
        key: `leave:${id}:${row.version}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `dispatch scheduled for ${DateTime.fromISO(when.local).toFormat('d LLL yyyy, HH:mm', { locale: 'en-US' })}${when.zone === 'own' ? ', where each recipient is' : ''}`,
        objectKind: 'dispatch',
        objectId: id,
        before: before ? { at: new Date(before.at).toISOString() } : { state: 'draft' },
        after: { at: new Date(at).toISOString(), reach: confirmed.reach, cost: formatCents(confirmed.cost) },
      });
      this.drafts.changed(w, businessId, id);
    });
    return this.drafts.get(businessId, id);
  }

  /** When it begins to leave: at the time in the business's zone, or where that time comes first among its audience. */
  private async begins(businessId: string, id: string, when: When): Promise<number> {
    const { time_zone: zone } = await this.businesses.row(this.p.db, businessId);
    if (when.zone === 'business') return momentOf(when.local, zone);
    const d = draftOf(await this.drafts.row(this.p.db, businessId, id));
    return this.preview.firstOwn(businessId, d, when.local);
  }

  /** Until it begins it can be called off: it is a draft again. */
  async callOff(actor: Actor, businessId: string, id: string): Promise<DispatchView> {
    await this.p.db.write(async (w) => {
      const row = await this.drafts.row(w, businessId, id);
      const schedule = await scheduleOf(w, id);
      if (!schedule) {
        if (row.state !== 'draft') throw conflict('It has begun to leave. What has not left can still be stopped.');
        return;
      }
      await dropSchedule(w, id);
      await row.update({ version: row.version + 1 });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'scheduled dispatch called off',
        objectKind: 'dispatch',
        objectId: id,
        before: { at: new Date(schedule.at).toISOString() },
        after: { state: 'draft' },
      });
      this.drafts.changed(w, businessId, id);
    });
    return this.drafts.get(businessId, id);
  }

  /** Its time has come: it leaves as it was confirmed, or is held and asked about. Once, whatever happens in between. */
  private async leave(id: string, at: number): Promise<void> {
    const r = this.p.db;
    const schedule = await scheduleOf(r, id);
    const row = await dispatchById(r, id);
    if (!row || schedule?.at !== at || schedule.held !== '' || row.state !== 'draft') return;
    const why = await this.whyNot(schedule);
    const actor = { id: schedule.byId, name: schedule.byName };
    const ownTime = schedule.zone === 'own' ? schedule.local : null;
    if (why === '')
      try {
        await this.sending.send(actor, row.businessId, id, row.version, ownTime);
        return;
      } catch (error) {
        // Somebody changed it in this moment: then their wish stands, and its own job follows.
        if (!(error instanceof Problem) || error.status === 412) throw error;
        return this.hold(id, at, error.message);
      }
    return this.hold(id, at, why);
  }

  /** What stands against leaving as it was confirmed, in words; empty where nothing does. */
  private async whyNot(s: ScheduleModel): Promise<string> {
    const now = this.p.clock.now();
    if (now > s.at + LATE_MS)
      return 'Nothing was running at the time that was chosen, and that is hours ago. Send it now, or choose another time.';
    const d = draftOf(await this.drafts.row(this.p.db, s.businessId, s.dispatchId));
    const { reach, costAtMost: cost } = await this.preview.preview(s.businessId, d, null);
    const more = (is: number, was: number, least: number): boolean => is > was * (1 + MORE_PART) && is - was > least;
    if (more(reach, s.reach, MORE_PEOPLE))
      return `It would reach ${reach.toLocaleString('en-US')} people, ${(reach - s.reach).toLocaleString('en-US')} more than the ${s.reach.toLocaleString('en-US')} that were confirmed.`;
    if (more(cost, s.cost, MORE_PEOPLE * DEFAULT_PRICES.segment))
      return `It would cost ${formatCents(cost)}, ${formatCents(cost - s.cost)} more than the ${formatCents(s.cost)} that were confirmed.`;
    const b = await this.businesses.row(this.p.db, s.businessId);
    if (b.balance < cost && b.auto_below === 0)
      return `The balance of ${formatCents(b.balance)} does not reach for ${formatCents(cost)}. Top up first.`;
    return '';
  }

  private async hold(id: string, at: number, why: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const schedule = await scheduleOf(w, id);
      if (schedule?.at !== at || schedule.held !== '') return;
      await schedule.update({ held: why });
      const row = await dispatchById(w, id);
      await row?.update({ version: row.version + 1 });
      await record(w, this.p.clock, {
        businessId: schedule.businessId,
        actor: SYSTEM,
        action: 'scheduled dispatch held and asked about',
        objectKind: 'dispatch',
        objectId: id,
        after: { why },
      });
      this.drafts.changed(w, schedule.businessId, id);
    });
  }
}
