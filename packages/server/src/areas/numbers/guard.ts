import { randomInt } from 'node:crypto';
import type { GuardView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, refused } from '../../platform/problem.js';
import type { Landing } from './landing.js';
import type { NumberRow } from './number-row.js';
import type { Numbers } from './numbers.js';

interface LockRow {
  lock_state: GuardView['lock'];
  unlock_asked_by: string;
  unlock_asked_at: number | null;
  unlocked_until: number | null;
  release_pin: string;
}
type GuardedRow = NumberRow & LockRow;
export interface PortOutRow {
  key: string;
  business_id: string;
  number_id: string;
  carrier: string;
  at: number;
  deadline: number;
  state: 'open' | 'refused' | 'left';
  locked: number;
}

const DAY_MS = 86_400_000;
/** An unlocked number locks itself again after this time. */
const UNLOCKED_MS = 7 * DAY_MS;
/** Where there is only one administrator, a second yes takes a day's wait. source: rules.md, Porting. */
const ALONE_MS = DAY_MS;

/** Keeps our numbers from being ported away: locked by default, unlocked by two, alarms with a deadline. */
export class Guard {
  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly landing: Landing,
  ) {
    p.outbox.carry<{ attempt: string; refuse: boolean }>('port-out.answer', {
      deliver: (key, b) => p.gateways.bureau.answerPortOut(key, b.attempt, b.refuse),
      refused: async () => undefined,
    });
    p.feed.on('port-out.asked', (w, e) => this.asked(w, e));
    p.feed.on('port-out.left', (w, e) => this.left(w, e.key));
    p.jobs.handle<{ key: string }>('port-out.deadline', async ({ key }) => {
      await p.db.write((w) => this.deadline(w, key));
      return { done: true };
    });
  }

  private async row(r: Reader, businessId: string, id: string): Promise<GuardedRow> {
    return (await this.numbers.row(r, businessId, id)) as GuardedRow;
  }

  private lockOf(row: GuardedRow): GuardView['lock'] {
    if (row.lock_state === 'unlocked' && (row.unlocked_until ?? 0) <= this.p.clock.now()) return 'locked';
    return row.lock_state;
  }

  private async otherAdministrators(r: Reader, businessId: string, userId: string): Promise<number> {
    const n = await r.one<{ n: number }>(
      `SELECT count(*) AS n FROM membership WHERE business_id = $1 AND role = 'administrator' AND user_id <> $2`,
      [businessId, userId],
    );
    return n?.n ?? 0;
  }

  async get(actor: Actor, businessId: string, id: string): Promise<GuardView> {
    const row = await this.row(this.p.db, businessId, id);
    const may = await this.mayConfirm(this.p.db, actor, row);
    const attempts = await this.p.db.all<PortOutRow>('SELECT * FROM port_out WHERE number_id = $1 ORDER BY at DESC', [
      id,
    ]);
    const lock = this.lockOf(row);
    const name = await this.p.db.one<{ name: string }>('SELECT name FROM user WHERE id = $1', [row.unlock_asked_by]);
    const alone =
      lock === 'asked' && (await this.otherAdministrators(this.p.db, businessId, row.unlock_asked_by)) === 0;
    return {
      lock,
      askedBy: lock === 'asked' ? (name?.name ?? '') : '',
      askedAt: lock === 'asked' ? row.unlock_asked_at : null,
      aloneFrom: alone ? (row.unlock_asked_at ?? 0) + ALONE_MS : null,
      mayConfirm: lock === 'asked' && may === '',
      whyNot: lock === 'asked' ? may : '',
      unlockedUntil: lock === 'unlocked' ? row.unlocked_until : null,
      attempts: attempts.map((a) => ({
        key: a.key,
        carrier: a.carrier,
        at: a.at,
        deadline: a.deadline,
        state: a.state,
        locked: a.locked === 1,
      })),
    };
  }

  /** Why this person cannot say the second yes; empty where they can. */
  private async mayConfirm(r: Reader, actor: Actor, row: GuardedRow): Promise<string> {
    if (row.unlock_asked_by !== actor.id) return '';
    if ((await this.otherAdministrators(r, row.business_id, actor.id)) > 0)
      return 'Another administrator has to say yes; you asked for it yourself.';
    return this.p.clock.now() < (row.unlock_asked_at ?? 0) + ALONE_MS
      ? 'You are the only administrator: it can be unlocked after a day’s wait.'
      : '';
  }

  async change(
    actor: Actor,
    businessId: string,
    id: string,
    wish: 'ask to unlock' | 'say yes' | 'lock',
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      const lock = this.lockOf(row);
      if (row.state !== 'active') throw refused('Only an active number can be locked or unlocked.');
      const now = this.p.clock.now();
      if (wish === 'lock') {
        if (lock === 'locked') return;
        await this.setLock(w, id, 'locked', '', null, null);
      } else if (wish === 'ask to unlock') {
        if (lock !== 'locked') return;
        await this.setLock(w, id, 'asked', actor.id, now, null);
      } else {
        if (lock === 'unlocked') return;
        if (lock !== 'asked') throw conflict('Nobody has asked to unlock it.');
        const why = await this.mayConfirm(w, actor, row);
        if (why) throw refused(why);
        await this.setLock(w, id, 'unlocked', row.unlock_asked_by, row.unlock_asked_at, now + UNLOCKED_MS);
      }
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: { 'ask to unlock': 'unlocking asked for', 'say yes': 'unlocked by a second yes', lock: 'locked' }[wish],
        objectKind: 'number',
        objectId: id,
        before: { lock },
      });
      this.numbers.changed(w, businessId, id);
    });
  }

  private async setLock(
    w: Writer,
    id: string,
    state: GuardView['lock'],
    by: string,
    at: number | null,
    until: number | null,
  ): Promise<void> {
    await w.run(
      'UPDATE number SET lock_state = $2, unlock_asked_by = $3, unlock_asked_at = $4, unlocked_until = $5, version = version + 1 WHERE id = $1',
      [id, state, by, at, until],
    );
  }

  /** The PIN another carrier asks for; made at the first look, kept sealed, each look on the record. */
  async pin(actor: Actor, businessId: string, id: string): Promise<string> {
    return this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      let pin = this.p.vault.unseal(row.release_pin);
      if (pin === '') {
        pin = String(randomInt(100_000, 1_000_000));
        await w.run('UPDATE number SET release_pin = $2 WHERE id = $1', [id, this.p.vault.seal(pin)]);
      }
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'release PIN looked at',
        objectKind: 'number',
        objectId: id,
      });
      this.numbers.changed(w, businessId, id);
      return pin;
    });
  }

  private async asked(
    w: Writer,
    e: { key: string; e164: string; carrier: string; at: number; deadline: number },
  ): Promise<void> {
    const ours = await this.numbers.byAddress(w, e.e164);
    if (!ours || (await w.one('SELECT key FROM port_out WHERE key = $1', [e.key]))) return;
    const row = await this.row(w, ours.business_id, ours.id);
    const locked = this.lockOf(row) !== 'unlocked';
    await w.run(
      'INSERT INTO port_out (key, business_id, number_id, carrier, at, deadline, locked) VALUES ($1,$2,$3,$4,$5,$6,$7)',
      [e.key, ours.business_id, ours.id, e.carrier, e.at, e.deadline, locked ? 1 : 0],
    );
    await this.p.jobs.add(w, {
      kind: 'port-out.deadline',
      businessId: ours.business_id,
      payload: { key: e.key },
      at: e.deadline - 60_000,
      key: `port-out:${e.key}`,
    });
    await record(w, this.p.clock, {
      businessId: ours.business_id,
      actor: SYSTEM,
      action: `${e.carrier} asks to take the number away`,
      objectKind: 'number',
      objectId: ours.id,
      after: { locked, deadline: new Date(e.deadline).toISOString() },
    });
    this.numbers.changed(w, ours.business_id, ours.id);
  }

  async refuse(actor: Actor, businessId: string, id: string, key: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const a = await w.one<PortOutRow>(
        'SELECT * FROM port_out WHERE key = $1 AND number_id = $2 AND business_id = $3',
        [key, id, businessId],
      );
      if (!a) throw notFound('attempt');
      if (a.state === 'refused') return;
      if (a.state === 'left') throw conflict('The number has left already.');
      await this.answer(w, a, true);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `taking away to ${a.carrier} refused`,
        objectKind: 'number',
        objectId: id,
      });
    });
  }

  /** At the deadline a locked number stays; an unlocked one that nobody kept leaves. */
  private async deadline(w: Writer, key: string): Promise<void> {
    const a = await w.one<PortOutRow>(`SELECT * FROM port_out WHERE key = $1 AND state = 'open'`, [key]);
    if (!a) return;
    const refuse = a.locked === 1;
    if (refuse) await this.answer(w, a, true);
    else await this.p.outbox.put(w, 'port-out.answer', `${key}:answer`, { attempt: key, refuse: false });
    await record(w, this.p.clock, {
      businessId: a.business_id,
      actor: SYSTEM,
      action: refuse
        ? `taking away to ${a.carrier} refused: the number is locked`
        : `taking away to ${a.carrier} let through: the number is unlocked`,
      objectKind: 'number',
      objectId: a.number_id,
    });
  }

  private async answer(w: Writer, a: PortOutRow, refuse: boolean): Promise<void> {
    await w.run(`UPDATE port_out SET state = 'refused' WHERE key = $1`, [a.key]);
    await this.p.outbox.put(w, 'port-out.answer', `${a.key}:answer`, { attempt: a.key, refuse });
    this.numbers.changed(w, a.business_id, a.number_id);
  }

  private async left(w: Writer, key: string): Promise<void> {
    const a = await w.one<PortOutRow>(`SELECT * FROM port_out WHERE key = $1 AND state = 'open'`, [key]);
    if (!a) return;
    await w.run(`UPDATE port_out SET state = 'left' WHERE key = $1`, [key]);
    await this.landing.leave(w, a.number_id, `ported away to ${a.carrier}`);
  }

  /** Attempts that wait for an answer, for Today. */
  async open(businessId: string): Promise<(PortOutRow & { e164: string; shown: string })[]> {
    const rows = await this.p.db.all<PortOutRow & { e164: string }>(
      `SELECT a.*, n.e164 FROM port_out a JOIN number n ON n.id = a.number_id WHERE a.business_id = $1 AND a.state = 'open' ORDER BY a.deadline`,
      [businessId],
    );
    return rows.map((r) => ({ ...r, shown: formatPhone(r.e164) }));
  }
}
