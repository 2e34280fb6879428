import type { calendarOfDispatches } from '@long-gate/contracts';
import ical from 'ical-generator';
import { DateTime } from 'luxon';
import type { z } from 'zod';
import type { Platform } from '../../platform/platform.js';
import type { Businesses } from '../settings/index.js';
import { sentBetween } from './dispatch-store.js';
import { statesOf } from './recipient-store.js';
import { schedulesBetween } from './schedule-store.js';
import type { Drafts } from './drafts.js';

type Item = z.output<typeof calendarOfDispatches.answer>['items'][number];
const DAY_MS = 86_400_000;
/** How far back and ahead a calendar file reaches. */
const FILE_DAYS = 366;

/** What goes out and went out, by day. */
export class DispatchCalendar {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly drafts: Drafts,
  ) {}

  /** @param from @param to days in the business's zone, both included. */
  async between(businessId: string, from: string, to: string): Promise<Item[]> {
    const { time_zone: zone } = await this.businesses.row(this.p.db, businessId);
    const start = DateTime.fromISO(from, { zone }).toMillis();
    const end = DateTime.fromISO(to, { zone }).plus({ days: 1 }).toMillis();
    return this.items(businessId, start, end);
  }

  private async items(businessId: string, from: number, to: number): Promise<Item[]> {
    const r = this.p.db;
    const scheduled = await Promise.all(
      (await schedulesBetween(r, businessId, from, to)).map(async (s): Promise<Item> => {
        const { title, category, effort } = await this.drafts.row(r, businessId, s.dispatchId);
        const { at, reach: people, held } = s;
        return { id: s.dispatchId, title, state: 'scheduled', at, people, held, category, effort };
      }),
    );
    const sent = await Promise.all(
      (await sentBetween(r, businessId, from, to)).map(async (d): Promise<Item> => {
        const people = Object.values(await statesOf(r, d.id)).reduce((n, x) => n + x, 0);
        const { id, title, state, category, effort } = d;
        return { id, title, state, at: d.sentAt ?? 0, people, held: '', category, effort };
      }),
    );
    return [...scheduled, ...sent].sort((a, b) => a.at - b.at || a.id.localeCompare(b.id));
  }

  /** What goes out and went out, as a calendar file. source: RFC 5545. */
  async file(businessId: string): Promise<string> {
    const now = this.p.clock.now();
    const { name_line: nameLine } = await this.businesses.row(this.p.db, businessId);
    const calendar = ical({ name: `Dispatches: ${nameLine}`, prodId: '//Long Gate//Dispatches//EN' });
    for (const i of await this.items(businessId, now - FILE_DAYS * DAY_MS, now + FILE_DAYS * DAY_MS))
      calendar.createEvent({
        id: `${i.id}@long-gate`,
        stamp: new Date(now),
        start: new Date(i.at),
        end: new Date(i.at + 15 * 60_000),
        summary: i.title,
        description: `${i.held ? `Held: ${i.held} ` : ''}${i.state}, to ${i.people.toLocaleString('en-US')} people.`,
        ...(i.category ? { categories: [{ name: i.category }] } : {}),
      });
    return calendar.toString();
  }
}
