import { dayNumber } from '@long-gate/core';
import { z } from 'zod';
import type { Writer } from '../../platform/db.js';
import type { Job, JobContext, JobOutcome } from '../../platform/jobs.js';
import { Lot } from '../../platform/lot.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses } from '../settings/index.js';
import { personAfter, setTextDays, textMoments, textsCounted } from './text-day-store.js';

const TURN_MS = 5_000;
/** `after`: the person whose texts were looked at last; `cut`: how many texts were looked at. */
const Cut = z.object({ after: z.string(), cut: z.number() });
type Cut = z.infer<typeof Cut>;

/**
 * Puts a business's texts on the days of a time zone, those of the people that come next.
 * @param size about how many texts at once.
 * @returns where to go on; null behind the last person.
 */
export async function cutTextDays(
  w: Writer,
  businessId: string,
  zone: string,
  from: Cut,
  size: number,
): Promise<Cut | null> {
  const last = await personAfter(w, businessId, from.after, size);
  const texts = await textMoments(w, businessId, from.after, last);
  const moved = texts.flatMap(({ id, at, day }) => {
    const right = dayNumber(at, zone);
    return right === day ? [] : [[id, right] as const];
  });
  await setTextDays(w, moved);
  return last === null ? null : { after: last, cut: from.cut + texts.length };
}

/** Counts a business's texts by the days of its time zone, and anew when that is changed: a job in lots. */
export class TextDays {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.jobs.handle('text days', Cut, (cut, context) => this.turn(cut, context));
    p.db.facts.on('business.zone', (w, { businessId }) => this.begin(w, businessId));
  }

  private async begin(w: Writer, businessId: string): Promise<void> {
    const total = await textsCounted(w, businessId);
    if (total === 0) return;
    const business = await this.businesses.row(w, businessId);
    await this.p.jobs.add(w, {
      kind: 'text days',
      businessId,
      payload: { after: '', cut: 0 } satisfies Cut,
      title: `Counting texts by the days of ${business.time_zone}`,
      total,
    });
  }

  private async turn(from: Cut, { job }: JobContext): Promise<JobOutcome> {
    const until = performance.now() + TURN_MS;
    const lot = new Lot(2000);
    let cut: Cut | null = from;
    while (cut !== null && performance.now() < until) {
      const step = await this.step(cut, job, lot);
      if (step === 'stopped') return { done: false };
      cut = step;
    }
    this.p.live.tell({ businessId: job.businessId, topic: 'watch' });
    return cut === null ? { done: true, result: 'Watch counts by these days now' } : { done: false };
  }

  private step(cut: Cut, job: Job, lot: Lot): Promise<Cut | null | 'stopped'> {
    return lot.write(this.p.db, async (w, size) => {
      if (!(await this.p.jobs.isRunning(w, job.id))) return 'stopped';
      const zone = (await this.businesses.row(w, job.businessId)).time_zone;
      const next = await cutTextDays(w, job.businessId, zone, cut, size);
      if (next) await this.p.jobs.keep(w, job, next, next.cut);
      return next;
    });
  }
}
