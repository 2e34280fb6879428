import { hash, randomBytes } from 'node:crypto';
import { addDays, formatPhone, lastDayToChange } from '@long-gate/core';
import ical from 'ical-generator';
import { record, type Actor } from '../../../platform/audit.js';
import type { Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { notFound } from '../../../platform/problem.js';
import type { Businesses, People } from '../../settings/index.js';
import { addFeed, endFeed, feedByHash, feedOf } from './calendar-store.js';
import { portDay, unsealed } from './port-row.js';
import { portsWithDay } from './port-store.js';

/** FOC dates and the last day for changes as an iCalendar (RFC 5545), as a file or as a feed by a secret address. */
export class PortCalendar {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly people: People,
  ) {}

  /** The secret address of a person's own feed; made at the first asking. */
  async path(businessId: string, userId: string): Promise<string> {
    if ((await feedOf(this.p.db, businessId, userId)) === undefined)
      await this.p.db.write((w) => this.make(w, businessId, userId));
    const sealed = await feedOf(this.p.db, businessId, userId);
    return `/api/v1/public/calendars/${this.p.vault.unseal(sealed ?? '')}`;
  }

  /** A new address; the earlier one is good for nothing. */
  async renew(actor: Actor, businessId: string): Promise<string> {
    await this.p.db.write(async (w) => {
      await endFeed(w, businessId, actor.id);
      await this.make(w, businessId, actor.id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'calendar address made anew',
        objectKind: 'person',
        objectId: actor.id,
      });
    });
    return this.path(businessId, actor.id);
  }

  private async make(w: Writer, businessId: string, userId: string): Promise<void> {
    const token = randomBytes(24).toString('base64url');
    // Shown again to its owner, so it is kept sealed; found by its hash.
    await addFeed(w, {
      tokenHash: hash('sha256', token, 'hex'),
      token: this.p.vault.seal(token),
      businessId,
      userId,
    });
  }

  /** The feed ends with the role of the person it was made for. */
  async byToken(token: string): Promise<string> {
    const row = await feedByHash(this.p.db, hash('sha256', token, 'hex'));
    if (!row || (await this.people.roleOf(this.p.db, row.userId, row.businessId)) === null) throw notFound('calendar');
    return this.file(row.businessId);
  }

  async file(businessId: string): Promise<string> {
    const business = await this.businesses.row(this.p.db, businessId);
    const rows = await portsWithDay(this.p.db, businessId);
    const calendar = ical({ name: `Port desk: ${business.name_line}`, prodId: '//Long Gate//Port desk//EN' });
    const stamp = new Date(this.p.clock.now());
    for (const row of rows) {
      const { numbers } = unsealed(this.p.vault, row);
      const which = numbers.map((n) => formatPhone(n.e164)).join(', ');
      const foc = portDay(row.focAt ?? 0);
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
        `The numbers change over from ${row.losingCarrier}. Keep the old service running until the port has completed; texts may pause for up to three days.`,
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
