import type { GuardView } from '@long-gate/contracts';
import { hash, randomBytes, randomInt } from 'node:crypto';

import { formatPhone } from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Flag, Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, refused } from '../../platform/problem.js';
import type { Businesses, People } from '../settings/index.js';
import {
  addAttempt,
  attemptBy,
  attemptsOn,
  setReleasePin,
  byUnlockMail,
  noteUnlockAnswer,
  openPortOuts,
  unlockingOf,
  setLock,
  setUnlockMail,
} from './guard-store.js';
import { heldBy } from './number-store.js';
import type { PortOutModel } from './model.js';
import type { Landing } from './landing.js';
import type { NumberRow } from './number-row.js';
import type { Numbers } from './numbers.js';

export interface PortOutRow {
  key: string;
  business_id: string;
  number_id: string;
  carrier: string;
  at: number;
  deadline: number;
  state: 'open' | 'refused' | 'left';
  locked: Flag;
}

/** What of the guarding of a business's numbers waits for somebody. */
export interface OpenGuard {
  attempts: (Omit<PortOutRow, 'locked'> & { e164: string; locked: boolean })[];
  asked: (NumberRow & { askedBy: string; alone: boolean; lapsesAt: number })[];
  unlocked: NumberRow[];
}

const DAY_MS = 86_400_000;
const ANSWERED_BEFORE_MS = 60_000;
/** An unlocked number locks itself again after this time. */
const UNLOCKED_MS = 7 * DAY_MS;
/** What nobody answered lapses after this time. */
const ASKED_MS = 7 * DAY_MS;
/** Where there is only one administrator, a second yes takes a day's wait and the answer to a mail. source: rules.md, Porting. */
const ALONE_MS = DAY_MS;

/** Whether a number can be ported away at all: a short code and a sender ID cannot. */
const isGuarded = (row: NumberRow): boolean => row.kind === 'local' || row.kind === 'toll-free';

/** Keeps our numbers from being ported away: locked by default, unlocked by two, alarms with a deadline. */
export class Guard {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly people: People,
    private readonly numbers: Numbers,
    private readonly landing: Landing,
  ) {
    p.outbox.carry('port-out.answer', z.object({ attempt: z.string(), refuse: z.boolean() }), {
      deliver: (key, b) => p.gateways.bureau.answerPortOut(key, b.attempt, b.refuse),
      refused: async () => undefined,
    });
    p.feed.on('port-out.asked', (w, e) => this.asked(w, e));
    p.feed.on('port-out.left', (w, e) => this.left(w, e.key));
    p.jobs.handle(
      'port-out.deadline',
      z.object({ key: z.string() }),
      async ({ key }) => {
        const again = await p.db.write((w) => this.deadline(w, key));
        return again === null ? { done: true } : { done: false, at: again };
      },
      'the deadline of a wish to take a number away',
    );
  }

  private async row(r: Reader, businessId: string, id: string): Promise<NumberRow> {
    return this.numbers.row(r, businessId, id);
  }

  private lockOf(row: NumberRow): GuardView['lock'] {
    const now = this.p.clock.now();
    if (row.lock_state === 'unlocked' && (row.unlocked_until ?? 0) <= now) return 'locked';
    if (row.lock_state === 'asked' && (row.unlock_asked_at ?? 0) + ASKED_MS <= now) return 'locked';
    return row.lock_state;
  }

  async get(actor: Actor, businessId: string, id: string): Promise<GuardView> {
    const row = await this.row(this.p.db, businessId, id);
    const may = await this.mayConfirm(this.p.db, actor, row);
    const attempts = await attemptsOn(this.p.db, id);
    const lock = this.lockOf(row);
    const alone = lock === 'asked' && (await this.people.alone(this.p.db, businessId, row.unlock_asked_by));
    return {
      lock,
      askedBy: lock === 'asked' ? await this.people.nameOf(this.p.db, row.unlock_asked_by) : '',
      askedAt: lock === 'asked' ? row.unlock_asked_at : null,
      lapsesAt: lock === 'asked' ? (row.unlock_asked_at ?? 0) + ASKED_MS : null,
      aloneFrom: alone ? (row.unlock_asked_at ?? 0) + ALONE_MS : null,
      answered: alone ? row.unlock_answered_at !== null : null,
      mayConfirm: lock === 'asked' && may === '',
      whyNot: lock === 'asked' ? may : '',
      unlockedUntil: lock === 'unlocked' ? row.unlocked_until : null,
      attempts: attempts.map((a) => ({
        key: a.key,
        carrier: a.carrier,
        at: a.at,
        deadline: a.deadline,
        state: a.state,
        // What is judged at the deadline is the lock as it stands then.
        locked: a.state === 'open' ? lock !== 'unlocked' : a.locked,
      })),
    };
  }

  /** Why this person cannot say the second yes; empty where they can. */
  private async mayConfirm(r: Reader, actor: Actor, row: NumberRow): Promise<string> {
    const now = this.p.clock.now();
    if (row.unlock_asked_by !== actor.id) {
      const from = await this.people.secondYesFrom(r, row.business_id, actor.id);
      if (from === null) return 'Only an administrator can say the second yes.';
      return now < from ? 'Whoever says the second yes has to be an administrator for a day; you are not yet.' : '';
    }
    if (!(await this.people.alone(r, row.business_id, actor.id)))
      return 'Another administrator has to say yes; you asked for it yourself.';
    const wanted = [
      ...(now < (row.unlock_asked_at ?? 0) + ALONE_MS ? ['a day’s wait'] : []),
      ...(row.unlock_answered_at === null ? ['the answer to the mail that went to the status address'] : []),
    ];
    return wanted.length > 0 ? `You are the only administrator: it takes ${wanted.join(' and ')}.` : '';
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
      if (!isGuarded(row)) throw refused(`A ${row.kind} cannot be ported away; there is nothing to lock.`);
      const now = this.p.clock.now();
      if (wish === 'lock') {
        if (lock === 'locked') return;
        await setLock(w, id, { state: 'locked', by: '', at: null, until: null });
      } else if (wish === 'ask to unlock') {
        if (lock !== 'locked') return;
        await setLock(w, id, { state: 'asked', by: actor.id, at: now, until: null });
        if (await this.people.alone(w, businessId, actor.id)) await this.askByMail(w, actor, row);
      } else {
        if (lock === 'unlocked') return;
        if (lock !== 'asked') throw conflict('Nobody has asked to unlock it.');
        const why = await this.mayConfirm(w, actor, row);
        if (why) throw refused(why);
        await setLock(w, id, {
          state: 'unlocked',
          by: row.unlock_asked_by,
          at: row.unlock_asked_at,
          until: now + UNLOCKED_MS,
        });
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

  /** The business itself is asked, at an address that has been its for a day at least. */
  private async askByMail(w: Writer, actor: Actor, row: NumberRow): Promise<void> {
    const business = await this.businesses.row(w, row.business_id);
    if (business.contact_email === '')
      throw refused(
        'You are the only administrator: the business’s contact e-mail is asked. Give it in Settings first.',
        [{ field: 'contactEmail', message: 'Needed to ask the business.' }],
      );
    if (this.p.clock.now() < business.contact_email_at + ALONE_MS)
      throw refused(
        'The business’s contact e-mail was changed less than a day ago; wait until it has stood for a day.',
      );
    const token = randomBytes(32).toString('base64url');
    await setUnlockMail(w, row.id, hash('sha256', token, 'hex'));
    await this.p.mailer.put(w, `unlock:${row.id}:${row.version}`, {
      to: business.contact_email,
      subject: `${business.legal_name}: may ${formatPhone(row.e164)} be unlocked?`,
      text: `${actor.name} asks to unlock ${formatPhone(row.e164)}, so that it can be taken to another carrier. Nothing happens without an answer. Open this link to agree, or to keep the number locked:\n\n${this.p.mailer.link(`/unlock/${token}`)}\n\nIf nobody at ${business.legal_name} knows of this, keep it locked.`,
    });
  }

  private async byMail(r: Reader, token: string): Promise<NumberRow> {
    const row = await byUnlockMail(r, hash('sha256', token, 'hex'));
    if (!row || this.lockOf(row) !== 'asked' || row.unlock_answered_at !== null) throw notFound('link');
    return row;
  }

  /** What the mail asks. @throws Problem 404 for a link that is answered, outrun by events, or made up. */
  async seeMail(token: string): Promise<{ business: string; number: string; askedBy: string }> {
    const row = await this.byMail(this.p.db, token);
    return {
      business: (await this.businesses.row(this.p.db, row.business_id)).legal_name,
      number: formatPhone(row.e164),
      askedBy: await this.people.nameOf(this.p.db, row.unlock_asked_by),
    };
  }

  /** The business answers: its yes is one of the two things an only administrator needs, its no locks the number. */
  async answerMail(token: string, agree: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.byMail(w, token);
      if (agree) await noteUnlockAnswer(w, row.id, Math.round(this.p.clock.now()));
      else await setLock(w, row.id, { state: 'locked', by: '', at: null, until: null });
      await record(w, this.p.clock, {
        businessId: row.business_id,
        actor: { id: 'status-address', name: 'the status address' },
        action: agree ? 'unlocking agreed to by mail' : 'unlocking refused by mail',
        objectKind: 'number',
        objectId: row.id,
      });
      this.numbers.changed(w, row.business_id, row.id);
    });
  }

  /** The PIN another carrier asks for; made at the first look, kept sealed, each look on the record. */
  async pin(actor: Actor, businessId: string, id: string): Promise<string> {
    return this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (!isGuarded(row)) throw refused(`A ${row.kind} cannot be ported away; it has no PIN.`);
      let pin = this.p.vault.unseal(row.release_pin);
      if (pin === '') {
        pin = String(randomInt(100_000, 1_000_000));
        await setReleasePin(w, id, this.p.vault.seal(pin));
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
    const ours = await heldBy(w, e.e164);
    if (!ours || (await attemptBy(w, e.key))) return;
    const row = await this.row(w, ours.business_id, ours.id);
    const locked = this.lockOf(row) !== 'unlocked';
    const { key, carrier, at, deadline } = e;
    await addAttempt(w, { key, businessId: ours.business_id, numberId: ours.id, carrier, at, deadline, locked });
    // A locked number is refused a minute before, so that the answer is there in time.
    await this.p.jobs.add(w, {
      kind: 'port-out.deadline',
      businessId: ours.business_id,
      payload: { key: e.key },
      at: e.deadline - ANSWERED_BEFORE_MS,
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
      const a = await attemptBy(w, key);
      if (a?.numberId !== id || a.businessId !== businessId) throw notFound('attempt');
      if (a.state === 'refused') return;
      if (a.state === 'left') throw conflict('The number has left already.');
      if (this.p.clock.now() >= a.deadline)
        throw conflict('The deadline has passed: the number was let through, and is on its way out.');
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

  /**
   * At the deadline a locked number stays; an unlocked one that nobody kept leaves. What counts is the lock as it stands
   * then, however it stood when the carrier asked: until the last moment it can be locked or refused.
   * @returns when to look again; null where it is answered.
   */
  private async deadline(w: Writer, key: string): Promise<number | null> {
    const a = await attemptBy(w, key);
    if (a?.state !== 'open') return null;
    const row = await this.row(w, a.businessId, a.numberId);
    const refuse = this.lockOf(row) !== 'unlocked';
    if (!refuse && this.p.clock.now() < a.deadline) return a.deadline;
    await a.update({ locked: refuse });
    if (refuse) await this.answer(w, a, true);
    else await this.p.outbox.put(w, 'port-out.answer', `${key}:answer`, { attempt: key, refuse: false });
    await record(w, this.p.clock, {
      businessId: a.businessId,
      actor: SYSTEM,
      action: refuse
        ? `taking away to ${a.carrier} refused: the number is locked`
        : `taking away to ${a.carrier} let through: the number is unlocked`,
      objectKind: 'number',
      objectId: a.numberId,
    });
    this.numbers.changed(w, a.businessId, a.numberId);
    return null;
  }

  private async answer(w: Writer, a: PortOutModel, refuse: boolean): Promise<void> {
    await a.update({ state: 'refused' });
    await this.p.outbox.put(w, 'port-out.answer', `${a.key}:answer`, { attempt: a.key, refuse });
    this.numbers.changed(w, a.businessId, a.numberId);
  }

  private async left(w: Writer, key: string): Promise<void> {
    const a = await attemptBy(w, key);
    // Also where it was refused: the refusal may have come too late.
    if (!a || a.state === 'left') return;
    await a.update({ state: 'left' });
    await this.landing.leave(w, a.numberId, 'ported away', `ported away to ${a.carrier}`);
  }

  /** What waits for somebody: attempts to take a number away, wishes to unlock one, numbers that stand unlocked. */
  async open(businessId: string): Promise<OpenGuard> {
    const r = this.p.db;
    const rows = await unlockingOf(r, businessId);
    const lockNow = (id: string): GuardView['lock'] => {
      const row = rows.find((n) => n.id === id);
      return row ? this.lockOf(row) : 'locked';
    };
    const attempts = await openPortOuts(r, businessId);
    return {
      attempts: attempts.map((a) => ({ ...a, locked: lockNow(a.number_id) !== 'unlocked' })),
      asked: await Promise.all(
        rows
          .filter((n) => this.lockOf(n) === 'asked')
          .map(async (n) => ({
            ...n,
            askedBy: await this.people.nameOf(r, n.unlock_asked_by),
            alone: await this.people.alone(r, businessId, n.unlock_asked_by),
            lapsesAt: (n.unlock_asked_at ?? 0) + ASKED_MS,
          })),
      ),
      unlocked: rows.filter((n) => this.lockOf(n) === 'unlocked'),
    };
  }
}
