import { randomBytes } from 'node:crypto';
import { addDays, formatPhone, lastDayToChange } from '@long-gate/core';
import ical from 'ical-generator';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import { portDay, withNumbers, type PortRow } from './port-row.js';

/** FOC dates and the last day for changes as an iCalendar (RFC 5545), as a file or as a feed by a secret address. */
export class PortCalendar {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {}

  /** The secret address of the feed; made at the first asking. */
  async path(businessId: string): Promise<string> {
    const known = await this.p.db.one<{ token: string }>('SELECT token FROM calendar_feed WHERE business_id = $1', [
      businessId,
    ]);
    if (known) return `/api/v1/public/calendars/${known.token}`;
    await this.p.db.write((w) =>
      w.run('INSERT INTO calendar_feed (token, business_id) VALUES ($1,$2) ON CONFLICT DO NOTHING', [
        randomBytes(18).toString('base64url'),
        businessId,
      ]),
    );
    return this.path(businessId);
  }

  async byToken(token: string): Promise<string> {
    const row = await this.p.db.one<{ business_id: string }>('SELECT business_id FROM calendar_feed WHERE token = $1', [
      token,
    ]);
    if (!row) throw notFound('calendar');
    return this.file(row.business_id);
  }

  async file(businessId: string): Promise<string> {
    const business = await this.businesses.row(this.p.db, businessId);
    const rows = await this.p.db.all<PortRow>(
      `SELECT * FROM port WHERE business_id = $1 AND foc_at IS NOT NULL AND state IN ('accepted','cutting over','done') ORDER BY foc_at`,
      [businessId],
    );
    const calendar = ical({ name: `Port desk: ${business.name_line}`, prodId: '//Long Gate//Port desk//EN' });
    const stamp = new Date(this.p.clock.now());
    for (const row of rows) {
      const { numbers } = await withNumbers(this.p.db, this.p.vault, row);
      const which = numbers.map((n) => formatPhone(n.e164)).join(', ');
      const foc = portDay(row.foc_at ?? 0);
      const event = (id: string, day: string, summary: string, description: string): void => {
        calendar.createEvent({
          id: `${row.id}-${id}@long-gate`,
          sequence: row.version,
          stamp,
          allDay: true,
          start: new Date(`${day}T00:00:00Z`),
          end: new Date(`${addDays(day, 1)}T00:00:00Z`),
          timezone: 'UTC',
          summary,
          description,
        });
      };
      event(
        'foc',
        foc,
        `FOC date: ${which}`,
        `The numbers change over from ${row.losing_carrier}. Keep the old service running until the port has completed; texts may pause for up to three days.`,
      );
      if (row.state === 'accepted')
        event(
          'change',
          lastDayToChange(foc),
          `Last day to move or cancel the port of ${which}`,
          'Two business days before the FOC date.',
        );
    }
    return calendar.toString();
  }
}
