import type { MessageView, Thread } from '@long-gate/contracts';
import { ANSWER_WITHIN_MS, REASONS, standingOf, type Answer, type HandledAs, type Standing } from '@long-gate/core';
import type { OutsideEvent } from '@long-gate/gateways';
import { CONTACT, record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, refused } from '../../platform/problem.js';
import type { Replies } from '../consent/index.js';
import type { Contacts } from '../contacts/index.js';
import { gateProblem, type Texts } from '../dispatch/index.js';
import type { Numbers } from '../numbers/index.js';
import type { ThreadModel } from './model.js';
import { countStandings, countWaiting, firstWaiting, noteIncoming, threadOf, threadsOf } from './thread-store.js';

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
    const word = {
      id,
      businessId,
      numberId: ours.id,
      from: e.from,
      contactNumberId: contact.id,
      kind: 'reply' as const,
      text: e.text,
      at,
    };
    if (!(await this.file(w, word))) return;
    // A number that is no longer ours cannot answer; another of the business can.
    const numberId = ours.ours ? ours.id : ((await this.numbers.anySender(w, businessId)) ?? ours.id);
    await this.note(
      w,
      word,
      await this.replies.read(w, { businessId, e164: e.from, numberId, messageId: id, text: e.text, at }),
    );
  }

  /**
   * Keeps what came in, a text or a call, and makes the person answerable. What it means for the conversation is
   * noted apart, once it is known whether it was carried out by itself.
   * @param answered whether somebody or something took a call.
   * @returns false where it was filed before.
   */
  async file(w: Writer, m: Parameters<Texts['receive']>[1], answered = true): Promise<boolean> {
    if (!(await this.texts.receive(w, m))) return false;
    const { businessId, numberId, at } = m;
    w.tell('number.reached', { businessId, numberId, by: m.kind === 'call' ? 'call' : 'text', answered, at });
    await this.contacts.heardFrom(w, m.businessId, m.from, {
      heardAt: m.at,
      answerUntil: m.at + ANSWER_WITHIN_MS,
      wrote: m.kind === 'reply',
    });
    return true;
  }

  /** Puts what came in at the head of its conversation. */
  async note(
    w: Writer,
    m: { businessId: string; from: string; numberId: string; at: number; text: string },
    handled: HandledAs,
  ): Promise<void> {
    await noteIncoming(w, { ...m, e164: m.from, handled });
    this.changed(w, m.businessId, m.from);
  }

  async threads(
    businessId: string,
    which: Standing | undefined,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: Thread[]; next: string | null; total: number; counts: Record<Standing, number> }> {
    const r = this.p.db;
    const now = this.p.clock.now();
    const [{ rows, next }, counts] = await Promise.all([
      threadsOf(r, businessId, which, now, cursor, limit),
      countStandings(r, businessId, now),
    ]);
    return {
      items: await this.show(r, businessId, rows),
      next,
      total: which ? counts[which] : Object.values(counts).reduce((sum, n) => sum + n, 0),
      counts,
    };
  }

  /** How many conversations wait for an answer, and when the first of them is too late. */
  async waiting(businessId: string): Promise<{ n: number; first: number | null }> {
    const now = this.p.clock.now();
    return {
      n: await countWaiting(this.p.db, businessId, now),
      first: await firstWaiting(this.p.db, businessId, now),
    };
  }

  private async row(r: Reader, businessId: string, e164: string): Promise<ThreadModel> {
    const row = await threadOf(r, businessId, e164);
    if (!row) throw notFound('conversation');
    return row;
  }

  private async show(r: Reader, businessId: string, rows: readonly ThreadModel[]): Promise<Thread[]> {
    const names = await this.contacts.names(
      r,
      businessId,
      rows.map((t) => t.e164),
    );
    return rows.map((t) => ({
      e164: t.e164,
      name: names.get(t.e164)?.name ?? '',
      contactId: names.get(t.e164)?.contactId ?? null,
      numberId: t.numberId,
      lastAt: t.lastAt,
      lastText: t.lastText,
      unread: t.unread,
      standing: standingOf(t, this.p.clock.now()),
      waitsUntil: t.waitsUntil,
      handled: t.handled,
    }));
  }

  private async one(r: Reader, businessId: string, e164: string): Promise<Thread> {
    const [thread] = await this.show(r, businessId, [await this.row(r, businessId, e164)]);
    return thread as Thread;
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
    ownPage: string;
  }> {
    const row = await this.row(this.p.db, businessId, e164);
    const messages = await this.texts.conversation(this.p.db, businessId, e164, 200);
    const verdict = await this.texts.judgeOne(this.p.db, {
      businessId,
      kind: 'answer',
      purpose: 'conversational',
      numberId: row.numberId,
      e164,
      text: 'answer',
    });
    const answerUntil = await this.contacts.answerableUntil(this.p.db, businessId, e164);
    const reason = verdict.reason ? REASONS[verdict.reason] : null;
    return {
      thread: await this.one(this.p.db, businessId, e164),
      messages,
      gate: {
        result: verdict.result,
        answers: verdict.answers,
        why: reason?.why ?? '',
        lift: reason?.lift ?? '',
        answerUntil,
      },
      ownPage: await this.texts.ownPages.shown(this.p.db, businessId),
    };
  }

  async markRead(actor: Actor, businessId: string, e164: string, read: boolean): Promise<Thread> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, businessId, e164);
      const wasUnread = before.unread > 0;
      await before.update({ unread: read ? 0 : Math.max(1, before.unread) });
      if (wasUnread !== !read)
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: read ? 'conversation read' : 'conversation marked unread',
          objectKind: 'thread',
          objectId: e164,
        });
      this.changed(w, businessId, e164);
    });
    return this.one(this.p.db, businessId, e164);
  }

  /** Says that a conversation needs no answer, or that it waits for one after all, as long as one may be given. */
  async setWaiting(actor: Actor, businessId: string, e164: string, waits: boolean): Promise<Thread> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, e164);
      if ((row.waitsUntil !== null) === waits) return;
      const until = waits ? await this.contacts.answerableUntil(w, businessId, e164) : null;
      if (waits && until === null) throw refused('They have said nothing that could be answered.');
      await row.update({ waitsUntil: until, handled: '', ...(waits ? {} : { unread: 0 }) });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: waits ? 'conversation waits for an answer' : 'conversation needs no answer',
        objectKind: 'thread',
        objectId: e164,
      });
      this.changed(w, businessId, e164);
    });
    return this.one(this.p.db, businessId, e164);
  }

  /** Answers once for one key; through the gate like everything else. */
  async answer(actor: Actor, businessId: string, e164: string, text: string, key: string): Promise<MessageView> {
    const id = idFrom('msg', businessId, e164, 'answer', key);
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, e164);
      if (await this.texts.has(w, id)) return;
      const verdict = await this.texts.judgeOne(w, {
        businessId,
        kind: 'answer',
        purpose: 'conversational',
        numberId: row.numberId,
        e164,
        text,
      });
      if (verdict.result !== 'pass') throw gateProblem(verdict.reason);
      await this.texts.queue(w, {
        id,
        businessId,
        kind: 'answer',
        purpose: 'conversational',
        numberId: row.numberId,
        e164,
        text,
        sentBy: actor.name,
      });
      await row.update({ unread: 0, waitsUntil: null, handled: '', lastAt: this.p.clock.now(), lastText: text });
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
    const shown = await this.texts.shown(this.p.db, businessId, id);
    if (!shown) throw notFound('message');
    return shown;
  }

  private changed(w: Writer, businessId: string, e164: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'inbox', id: e164 }));
  }
}
