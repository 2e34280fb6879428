import { addBusinessDays, dayIn, type Purpose } from '@long-gate/core';
import type { READ_AS, ReplyReviewShape } from '@long-gate/contracts';
import type { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import { newId } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';
import type { Contacts } from '../contacts/index.js';

type ReadAs = (typeof READ_AS)[number];
interface Reading {
  matched: string;
  confidence: number;
  purposes: Purpose[];
  stopped: boolean;
}
interface ReviewRow {
  id: string;
  e164: string;
  message_id: string;
  reading: string;
  about: 'stop' | 'yes';
  at: number;
}

/** 47 CFR 64.1200(a)(10): within a reasonable time, not longer than ten business days. */
const BUSINESS_DAYS = 10;

/** Replies the reader left in doubt, and what people decide of them. */
export class Reviews {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
  ) {}

  /** Shows a reply to staff; one that may be a wish to stop holds offers until it is read. */
  async open(
    w: Writer,
    r: { businessId: string; e164: string; messageId: string; at: number; about: 'stop' | 'yes'; reading: Reading },
  ): Promise<void> {
    await w.run(
      `INSERT INTO reply_review (id, business_id, e164, message_id, reading, about, at) VALUES ($1,$2,$3,$4,$5,$6,$7)`,
      [newId('rev'), r.businessId, r.e164, r.messageId, JSON.stringify(r.reading), r.about, r.at],
    );
    if (r.about === 'stop' && !r.reading.stopped) await this.contacts.setWishInReview(w, r.businessId, r.e164, true);
    w.afterCommit(() => this.p.live.tell({ businessId: r.businessId, topic: 'consent' }));
  }

  /** The person's own START answers what was in doubt before it. */
  async answered(w: Writer, businessId: string, e164: string): Promise<void> {
    await w.run(
      `UPDATE reply_review SET state = 'answered', decided_at = $3 WHERE business_id = $1 AND e164 = $2 AND state = 'open'`,
      [businessId, e164, this.p.clock.now()],
    );
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
      const row = await w.one<ReviewRow>(
        `SELECT * FROM reply_review WHERE id = $1 AND business_id = $2 AND state = 'open'`,
        [id, businessId],
      );
      if (!row) throw notFound('review');
      const reading = JSON.parse(row.reading) as Reading;
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
      if (purposes.length > 0 && !reading.stopped) await revoke(w, row.e164, purposes, row.at, row.message_id);
      await w.run(`UPDATE reply_review SET state = $2, decided_at = $3 WHERE id = $1`, [
        id,
        readAs,
        this.p.clock.now(),
      ]);
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
        after: { message: row.message_id },
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
  }

  /** Offers go on when nothing about this number is in doubt any more: one decision lifts no hold another needs. */
  private async release(w: Writer, businessId: string, e164: string): Promise<void> {
    const open = await w.one(
      `SELECT 1 FROM reply_review WHERE business_id = $1 AND e164 = $2 AND state = 'open' AND about = 'stop' LIMIT 1`,
      [businessId, e164],
    );
    if (!open) await this.contacts.setWishInReview(w, businessId, e164, false);
  }

  /** What waits to be read, oldest first, with the last texts beside it; and how often the reader was right. */
  async list(
    businessId: string,
  ): Promise<{ items: z.output<typeof ReplyReviewShape>[]; right: number; decided: number }> {
    const rows = await this.p.db.all<ReviewRow & { text: string; name: string | null; zone: string; sent: string }>(
      `SELECT v.*, m.text, trim(c.first_name || ' ' || c.last_name) AS name, b.time_zone AS zone,
         (SELECT json_group_array(json_object('direction', x.direction, 'text', x.text, 'at', x.created_at)) FROM (SELECT direction, text, created_at FROM message
            WHERE business_id = v.business_id AND e164 = v.e164 AND created_at <= m.created_at AND id <> m.id AND text <> '' AND state NOT IN ('stopped','cancelled','held') ORDER BY created_at DESC LIMIT 3) x) AS sent
       FROM reply_review v JOIN message m ON m.id = v.message_id JOIN business b ON b.id = v.business_id
       LEFT JOIN contact_number cn ON cn.business_id = v.business_id AND cn.e164 = v.e164 LEFT JOIN contact c ON c.id = cn.contact_id
       WHERE v.business_id = $1 AND v.state = 'open' ORDER BY v.at LIMIT 100`,
      [businessId],
    );
    const counted = await this.p.db.one<{ decided: number; right: number }>(
      `SELECT count(*) AS decided, coalesce(sum(state IN ('stop','offers')), 0) AS "right" FROM reply_review WHERE business_id = $1 AND about = 'stop' AND state IN ('stop','offers','no wish')`,
      [businessId],
    );
    return {
      items: rows.map((r) => {
        const reading = JSON.parse(r.reading) as Reading;
        return {
          id: r.id,
          e164: r.e164,
          contactName: r.name ?? '',
          text: r.text,
          at: r.at,
          about: r.about,
          ...reading,
          before: (JSON.parse(r.sent) as { direction: 'in' | 'out'; text: string; at: number }[]).reverse(),
          dueBy: Date.parse(`${addBusinessDays(dayIn(r.at, r.zone), BUSINESS_DAYS)}T23:59:59Z`),
        };
      }),
      right: counted?.right ?? 0,
      decided: counted?.decided ?? 0,
    };
  }
}
