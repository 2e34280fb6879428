import { addBusinessDays, dayIn, formatPhone, REFUSAL_WITHIN_DAYS, type Purpose } from '@long-gate/core';
import type { READ_AS, ReplyReviewShape } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import type { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';
import type { Contacts } from '../contacts/index.js';
import { saidBefore } from '../dispatch/index.js';
import type { Businesses } from '../settings/index.js';
import {
  addReview,
  closeReviewsOf,
  decidedReviews,
  forgetReviews,
  inDoubt,
  openReview,
  openReviews,
  unreadAmong,
  waitingReviews,
} from './review-store.js';
import type { Reading } from './model.js';

type ReadAs = (typeof READ_AS)[number];

/** Replies the reader left in doubt, and what people decide of them. */
export class Reviews {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
  ) {}

  /** Shows a reply to staff; one that may be a wish to stop holds offers until it is read. */
  async open(
    w: Writer,
    r: {
      businessId: string;
      e164: string;
      messageId: string;
      at: number;
      about: 'stop' | 'yes';
      reading: z.output<typeof Reading>;
    },
  ): Promise<void> {
    await addReview(w, { id: newId('rev'), ...r });
    if (r.about === 'stop' && !r.reading.stopped) await this.contacts.setWishInReview(w, r.businessId, r.e164, true);
    w.afterCommit(() => this.p.live.tell({ businessId: r.businessId, topic: 'consent' }));
  }

  /** The person's own START answers what was in doubt before it. */
  async answered(w: Writer, businessId: string, e164: string): Promise<void> {
    await closeReviewsOf(w, businessId, e164, 'answered', this.p.clock.now());
    await this.release(w, businessId, e164);
  }

  /**
   * A person read one. What is a wish counts from when it was written.
   * @param revoke records the wish for these purposes.
   */
  async decide(
    actor: Actor,
    businessId: string,
    id: string,
    readAs: ReadAs,
    revoke: (w: Writer, e164: string, purposes: Purpose[], at: number, messageId: string) => Promise<void>,
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await openReview(w, businessId, id);
      if (!row) throw notFound('review');
      const reading = row.reading;
      if (reading.stopped && readAs !== 'stop')
        throw refused('They were stopped at once; only they can come back, with START.', [
          { field: 'readAs', message: 'Nobody can lift an opt-out but the contact.' },
        ]);
      const purposes: Purpose[] =
        readAs === 'offers'
          ? ['promotional']
          : readAs === 'stop'
            ? ['conversational', 'informational', 'promotional']
            : [];
      if (purposes.length > 0 && !reading.stopped) await revoke(w, row.e164, purposes, row.at, row.messageId);
      await row.update({ state: readAs, decidedAt: this.p.clock.now() });
      await this.release(w, businessId, row.e164);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: {
          stop: 'reply read as a wish to stop',
          offers: 'reply read as a wish for no more offers',
          'no wish': 'reply read as no wish to stop',
        }[readAs],
        objectKind: 'consent',
        objectId: row.e164,
        after: { message: row.messageId },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
  }

  /** Why somebody cannot be erased yet: their words go with them, and with those whether they meant to stop. */
  async holds(w: Writer, businessId: string, e164s: readonly string[]): Promise<string> {
    const [unread] = await unreadAmong(w, businessId, e164s);
    if (!unread) return '';
    const zone = (await this.businesses.row(w, businessId)).time_zone;
    return `What ${formatPhone(unread.e164)} wrote on ${DateTime.fromMillis(unread.at, { zone }).toFormat('d LLL yyyy')} may be a wish to stop, and nobody has read it yet. Say what it meant under Consent, Replies to read; then erase them, and their words go with them.`;
  }

  /** Nothing of a person who was erased is left in what was read, or was to be. @param inPlace stands for their number. */
  async forget(w: Writer, businessId: string, e164: string, inPlace: string): Promise<void> {
    await forgetReviews(w, businessId, e164, inPlace, this.p.clock.now());
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }

  /** Offers go on when nothing about this number is in doubt any more: one decision lifts no hold another needs. */
  private async release(w: Writer, businessId: string, e164: string): Promise<void> {
    if (!(await inDoubt(w, businessId, e164))) await this.contacts.setWishInReview(w, businessId, e164, false);
  }

  /** How many wait to be read, and since when the oldest does. */
  waiting(businessId: string): ReturnType<typeof waitingReviews> {
    return waitingReviews(this.p.db, businessId);
  }

  /** What waits to be read, oldest first, with the last texts beside it; and how often the reader was right. */
  async list(
    businessId: string,
  ): Promise<{ items: z.output<typeof ReplyReviewShape>[]; right: number; decided: number }> {
    const r = this.p.db;
    const rows = await openReviews(r, businessId, 100);
    const counted = await decidedReviews(r, businessId);
    const zone = (await this.businesses.row(r, businessId)).time_zone;
    const names = await this.contacts.names(
      r,
      businessId,
      rows.map((x) => x.e164),
    );
    const items: z.output<typeof ReplyReviewShape>[] = [];
    for (const row of rows) {
      const said = await saidBefore(r, businessId, row.messageId, 3);
      items.push({
        id: row.id,
        e164: row.e164,
        contactName: names.get(row.e164)?.name ?? '',
        text: said?.text ?? '',
        at: row.at,
        about: row.about,
        ...row.reading,
        before: (said?.before ?? []).map((x) => ({ direction: x.direction, text: x.text, at: x.created_at })).reverse(),
        dueBy: DateTime.fromISO(addBusinessDays(dayIn(row.at, zone), REFUSAL_WITHIN_DAYS), { zone })
          .endOf('day')
          .toMillis(),
      });
    }
    return {
      items,
      ...counted,
    };
  }
}
