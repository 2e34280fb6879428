import type { MessageView, Thread } from '@long-gate/contracts';
import { REASONS, type Answer } from '@long-gate/core';
import type { OutsideEvent } from '@long-gate/gateways';
import { CONTACT, record, type Actor } from '../../platform/audit.js';
import { numberCursor } from '../../platform/cursor.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound } from '../../platform/problem.js';
import type { Replies } from '../consent/index.js';
import type { Contacts } from '../contacts/index.js';
import { gateProblem, MESSAGE_SELECT, showMessage, type MessageRecord, type Texts } from '../dispatch/index.js';
import type { Numbers } from '../numbers/index.js';

interface ThreadRow {
  e164: string;
  number_id: string;
  last_at: number;
  last_text: string;
  unread: number;
  name: string | null;
  contact_id: string | null;
}

/** Staff may answer within this time of the person's last word (rules.md, consent; default 24 hours). */
const ANSWER_WITHIN_MS = 24 * 3_600_000;

const SELECT = `SELECT t.*, trim(c.first_name || ' ' || c.last_name) AS name, c.id AS contact_id FROM thread t LEFT JOIN contact_number cn ON cn.business_id = t.business_id AND cn.e164 = t.e164 LEFT JOIN contact c ON c.id = cn.contact_id`;

/** Conversations: what came in, what was answered. */
export class Inbox {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly contacts: Contacts,
    private readonly texts: Texts,
    private readonly replies: Replies,
  ) {
    p.feed.on('text.inbound', (w, e) => this.receive(w, e));
  }

  /** Stores a text that came in, makes it answerable, and lets it mean what it means. All in one transaction. */
  private async receive(w: Writer, e: Extract<OutsideEvent, { kind: 'text.inbound' }>): Promise<void> {
    const ours = await this.numbers.heardAt(w, e.to);
    if (!ours) return;
    const businessId = ours.business_id;
    const contact = await this.contacts.ensure(w, CONTACT, businessId, e.from);
    const id = idFrom('msg', 'in', e.key, e.from, String(e.at));
    const at = Math.round(e.at);
    // The same event again (the outside may tell twice) means nothing twice.
    if (await w.one('SELECT id FROM message WHERE id = $1', [id])) return;
    await this.file(w, {
      id,
      businessId,
      numberId: ours.id,
      from: e.from,
      contactNumberId: contact.id,
      kind: 'reply',
      text: e.text,
      at,
    });
    // A number that is no longer ours cannot answer; another of the business can.
    const numberId = ours.ours ? ours.id : ((await this.numbers.anySender(w, businessId)) ?? ours.id);
    await this.replies.read(w, { businessId, e164: e.from, numberId, messageId: id, text: e.text, at });
  }

  /** Files what came in, a text or a call, in its conversation, and makes the person answerable. */
  async file(
    w: Writer,
    m: {
      id: string;
      businessId: string;
      numberId: string;
      from: string;
      contactNumberId: number;
      kind: 'reply' | 'call';
      text: string;
      at: number;
    },
  ): Promise<void> {
    await w.run(
      `INSERT INTO message (id, business_id, direction, kind, number_id, e164, contact_number_id, text, state, created_at, final_at) VALUES ($1,$2,'in',$3,$4,$5,$6,$7,'received',$8,$8) ON CONFLICT DO NOTHING`,
      [m.id, m.businessId, m.kind, m.numberId, m.from, m.contactNumberId, m.text, m.at],
    );
    await w.run(
      `INSERT INTO thread (business_id, e164, number_id, last_at, last_text, unread) VALUES ($1,$2,$3,$4,$5,1) ON CONFLICT DO UPDATE SET number_id = excluded.number_id, last_at = excluded.last_at, last_text = excluded.last_text, unread = unread + 1`,
      [m.businessId, m.from, m.numberId, m.at, m.text],
    );
    await this.contacts.heardFrom(w, m.businessId, m.from, m.at + ANSWER_WITHIN_MS, m.kind === 'reply');
    this.changed(w, m.businessId, m.from);
  }

  async threads(
    businessId: string,
    unread: boolean,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: Thread[]; next: string | null; total: number; unread: number }> {
    const from = numberCursor(cursor, 0);
    const where = `t.business_id = $1 ${unread ? 'AND t.unread > 0' : ''}`;
    const rows = await this.p.db.all<ThreadRow>(`${SELECT} WHERE ${where} ORDER BY t.last_at DESC LIMIT $2 OFFSET $3`, [
      businessId,
      limit + 1,
      from,
    ]);
    const n = await this.p.db.one<{ total: number; unread: number }>(
      `SELECT count(*) AS total, coalesce(sum(t.unread > 0), 0) AS unread FROM thread t WHERE t.business_id = $1`,
      [businessId],
    );
    return {
      items: rows.slice(0, limit).map(showThread),
      next: rows.length > limit ? String(from + limit) : null,
      total: (unread ? n?.unread : n?.total) ?? 0,
      unread: n?.unread ?? 0,
    };
  }

  private async row(r: Reader, businessId: string, e164: string): Promise<ThreadRow> {
    const row = await r.one<ThreadRow>(`${SELECT} WHERE t.business_id = $1 AND t.e164 = $2`, [businessId, e164]);
    if (!row) throw notFound('conversation');
    return row;
  }

  async thread(
    businessId: string,
    e164: string,
  ): Promise<{
    thread: Thread;
    messages: MessageView[];
    gate: {
      result: 'pass' | 'hold' | 'stop';
      answers: Answer[];
      why: string;
      lift: string;
      answerUntil: number | null;
    };
  }> {
    const row = await this.row(this.p.db, businessId, e164);
    const messages = await this.p.db.all<MessageRecord>(
      `SELECT * FROM (${MESSAGE_SELECT} WHERE m.business_id = $1 AND m.e164 = $2 AND m.text <> '' ORDER BY m.created_at DESC LIMIT 200) ORDER BY created_at`,
      [businessId, e164],
    );
    const verdict = await this.texts.judgeOne(this.p.db, {
      businessId,
      kind: 'answer',
      purpose: 'conversational',
      numberId: row.number_id,
      e164,
      text: 'answer',
    });
    const until = await this.p.db.one<{ at: number | null }>(
      'SELECT conversation_until AS at FROM contact_number WHERE business_id = $1 AND e164 = $2',
      [businessId, e164],
    );
    const reason = verdict.reason ? REASONS[verdict.reason] : null;
    return {
      thread: showThread(row),
      messages: messages.map(showMessage),
      gate: {
        result: verdict.result,
        answers: verdict.answers,
        why: reason?.why ?? '',
        lift: reason?.lift ?? '',
        answerUntil: until?.at ?? null,
      },
    };
  }

  async markRead(actor: Actor, businessId: string, e164: string, read: boolean): Promise<Thread> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, businessId, e164);
      await w.run('UPDATE thread SET unread = $3 WHERE business_id = $1 AND e164 = $2', [
        businessId,
        e164,
        read ? 0 : Math.max(1, before.unread),
      ]);
      if (before.unread > 0 !== !read)
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: read ? 'conversation read' : 'conversation marked unread',
          objectKind: 'thread',
          objectId: e164,
        });
      this.changed(w, businessId, e164);
    });
    return showThread(await this.row(this.p.db, businessId, e164));
  }

  /** Answers once for one key; through the gate like everything else. */
  async answer(actor: Actor, businessId: string, e164: string, text: string, key: string): Promise<MessageView> {
    const id = idFrom('msg', businessId, e164, 'answer', key);
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, e164);
      if (await w.one('SELECT id FROM message WHERE id = $1', [id])) return;
      const verdict = await this.texts.judgeOne(w, {
        businessId,
        kind: 'answer',
        purpose: 'conversational',
        numberId: row.number_id,
        e164,
        text,
      });
      if (verdict.result !== 'pass') throw gateProblem(verdict.reason);
      await this.texts.queue(w, {
        id,
        businessId,
        kind: 'answer',
        purpose: 'conversational',
        numberId: row.number_id,
        e164,
        text,
        sentBy: actor.name,
      });
      await w.run('UPDATE thread SET unread = 0, last_at = $3, last_text = $4 WHERE business_id = $1 AND e164 = $2', [
        businessId,
        e164,
        this.p.clock.now(),
        text,
      ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'answered',
        objectKind: 'thread',
        objectId: e164,
        after: { message: id },
      });
      this.changed(w, businessId, e164);
    });
    const [row] = await this.p.db.all<MessageRecord>(`${MESSAGE_SELECT} WHERE m.id = $1`, [id]);
    if (!row) throw notFound('message');
    return showMessage(row);
  }

  private changed(w: Writer, businessId: string, e164: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'inbox', id: e164 }));
  }
}

function showThread(t: ThreadRow): Thread {
  return {
    e164: t.e164,
    name: t.name ?? '',
    contactId: t.contact_id,
    numberId: t.number_id,
    lastAt: t.last_at,
    lastText: t.last_text,
    unread: t.unread,
  };
}
