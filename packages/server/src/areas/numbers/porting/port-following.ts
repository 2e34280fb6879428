import {
  addBusinessDays,
  blocks,
  formatAmount,
  formatPhone,
  lastDayToChange,
  portAfter,
  SNAPBACK_MS,
  type PortEvent,
} from '@long-gate/core';
import type { PortFiling } from '@long-gate/gateways';
import { z } from 'zod';
import { SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Writer } from '../../../platform/db.js';
import { idFrom } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, Problem, refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import type { Landing } from '../landing.js';
import type { Numbers } from '../numbers.js';
import { trailPort } from './port-edit.js';
import { portDay, readPort, unsealed, type Port, type PortRow } from './port-row.js';
import { closeNumbers, portById, savePort, savePortNumber } from './port-store.js';
import { endLinks } from '../letters/letter-store.js';
import { changedSince, costNow, findingsOf, monthlyOf, reasonsOf, submittedShape } from './port-view.js';

/** From submission to landing: what the losing carrier answers, what it costs, and where the numbers are. */
export class PortFollowing {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly landing: Landing,
  ) {
    p.outbox.carry('port.submit', z.object({ businessId: z.string(), portId: z.string() }), {
      deliver: async (key, { businessId, portId }) => {
        // Account number and PIN are unsealed only on their way out; the outbox never holds them.
        const port = await readPort(p.db, p.vault, businessId, portId);
        await p.gateways.bureau.submit(key, filingOf(port));
      },
      refused: (w, key, _b, error) =>
        this.answered(w, key, 'reject', [{ field: 'numbers', code: error.code, message: error.message }]),
    });
    p.outbox.carry('port.date', z.object({ portKey: z.string(), day: z.string() }), {
      deliver: (key, b) => p.gateways.bureau.moveDate(key, b.portKey, b.day),
      refused: (w, _key, b, error) => this.dateAnswered(w, b.portKey, null, error.message),
    });
    p.outbox.carry('port.cancel', z.object({ portKey: z.string() }), {
      deliver: (key, b) => p.gateways.bureau.cancel(key, b.portKey),
      refused: async () => undefined,
    });
    p.outbox.carry('port.return', z.object({ portKey: z.string() }), {
      deliver: (key, b) => p.gateways.bureau.snapBack(key, b.portKey),
      refused: (w, _key, b, error) =>
        this.happened(w, b.portKey, 'stay', `the numbers cannot go back: ${error.message}`),
    });
    p.feed.on('port.rejected', (w, e) => this.answered(w, e.key, 'reject', e.reasons));
    p.feed.on('port.accepted', (w, e) => this.answered(w, e.key, 'accept', [], e.focAt));
    p.feed.on('port.date-moved', (w, e) => this.dateAnswered(w, e.key, e.focAt, ''));
    p.feed.on('port.date-refused', (w, e) => this.dateAnswered(w, e.key, null, e.reason));
    p.feed.on('port.cutting-over', (w, e) => this.happened(w, e.key, 'cut over', 'numbers changing over'));
    p.feed.on('port.completed', (w, e) => this.landed(w, e.key));
    p.feed.on('port.returned', (w, e) => this.returned(w, e.key));
  }

  /**
   * Submits, or resubmits after a rejection. The first month of each number is paid with the first
   * submission it is part of, and comes back where it is part of none any more.
   * @param sameAgain what was rejected goes again although nothing of it was changed.
   * @throws Problem 409 `unchanged` where it is the same and that was not said.
   */
  async submit(
    actor: Actor,
    businessId: string,
    id: string,
    key: string,
    seen: number | null = null,
    sameAgain = false,
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const port = await readPort(w, this.p.vault, businessId, id);
      const { row } = port;
      // A second click, or a repeated request, also where the answer has come in between.
      if (row.state === 'submitted' || row.submitKey === key) return;
      const state = portAfter(row.state, 'submit');
      if (!state) throw conflict(`The request is ${row.state}; it cannot be submitted.`);
      expectVersion('port request', row, seen);
      const business = await this.businesses.row(w, businessId);
      if (business.account_state !== 'open')
        throw refused(`The account is ${business.account_state}; numbers can be brought in once it is open.`, [
          { field: 'account', message: 'Open the account in Settings.' },
        ]);
      if (row.state === 'rejected' && !sameAgain && changedSince(port).length === 0)
        throw new Problem(
          409,
          'unchanged',
          `Nothing was changed since it was rejected: ${reasonsOf(row)} The same again is likely to be rejected again.`,
        );
      const findings = findingsOf(port, this.p.clock.now());
      if (blocks(findings))
        throw new Problem(
          422,
          'findings',
          'The request would be rejected; mend what is found first.',
          findings.filter((f) => f.severity === 'block').map((f) => ({ field: f.field, message: f.message })),
        );
      for (const n of port.numbers)
        if (await this.numbers.byAddress(w, n.e164))
          throw conflict(`${formatPhone(n.e164)} is in an inventory here already.`);
      const cost = costNow(port);
      const entry = idFrom('mon', id, 'first month', String(row.attempt));
      if (cost > 0) await this.businesses.charge(w, businessId, cost, firstMonthOf(port), 'port', id, entry);
      else if (cost < 0)
        await this.businesses.move(
          w,
          businessId,
          -cost,
          'port-in: first month of numbers taken off, refunded',
          'port',
          id,
          entry,
        );
      const attempt = row.attempt + 1;
      await savePort(w, id, {
        state,
        attempt,
        submittedAt: Math.round(this.p.clock.now()),
        answeredAt: null,
        focAt: null,
        askedDate: '',
        reasons: [],
        lastSubmitted: submittedShape(port),
        lastSecrets: row.secrets,
        charged: row.charged + cost,
        submitKey: key,
      });
      await endLinks(w, 'port', id, 'withdrawn');
      await this.p.outbox.put(w, 'port.submit', `${id}:${attempt}`, { businessId, portId: id });
      await trailPort(
        this.p,
        w,
        row,
        actor,
        attempt > 1 ? 'port request resubmitted' : 'port request submitted',
        state,
        {
          cost: formatAmount(cost),
        },
      );
    });
  }

  /** Cancels before the last day for changes; what was paid for the first month comes back. */
  async cancel(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const { row } = await readPort(w, this.p.vault, businessId, id);
      if (row.state === 'cancelled') return;
      const state = portAfter(row.state, 'cancel');
      if (!state) throw conflict(`The request is ${row.state}; it cannot be cancelled any more.`);
      this.requireTime(row, 'cancelled');
      if (row.attempt > 0 && row.state !== 'rejected')
        await this.p.outbox.put(w, 'port.cancel', `${id}:cancel`, { portKey: `${id}:${row.attempt}` });
      if (row.charged > 0)
        await this.businesses.move(
          w,
          businessId,
          row.charged,
          'port-in cancelled: first month refunded',
          'port',
          id,
          idFrom('mon', id, 'refund'),
        );
      await savePort(w, id, { state, charged: 0 });
      await this.close(w, id);
      await trailPort(this.p, w, row, actor, 'port request cancelled', state, { refunded: formatAmount(row.charged) });
    });
  }

  /** source: rules.md, Porting: changes and cancellation until two business days before the FOC date. */
  private requireTime(row: PortRow, what: string): void {
    if (row.state !== 'accepted' || row.focAt === null) return;
    const last = lastDayToChange(portDay(row.focAt));
    if (portDay(this.p.clock.now()) > last)
      throw refused(
        `It could be ${what} until ${last}, two business days before the numbers change over. After landing there are 72 hours to have them go back.`,
      );
  }

  async moveDate(actor: Actor, businessId: string, id: string, day: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const { row } = await readPort(w, this.p.vault, businessId, id);
      if (row.state !== 'accepted') throw conflict(`The request is ${row.state}; there is no date to move.`);
      this.requireTime(row, 'moved');
      const today = portDay(this.p.clock.now());
      if (addBusinessDays(day, 0) !== day)
        throw refused(`${day} is no business day; the next one is ${addBusinessDays(day, 0)}.`, [
          { field: 'day', message: 'Not a business day.' },
        ]);
      if (day < addBusinessDays(today, 2))
        throw refused(`The earliest day is ${addBusinessDays(today, 2)}.`, [{ field: 'day', message: 'Too early.' }]);
      await savePort(w, id, { askedDate: day });
      await this.p.outbox.put(w, 'port.date', `${id}:${row.attempt}:date:${row.version}`, {
        portKey: `${id}:${row.attempt}`,
        day,
      });
      await trailPort(this.p, w, row, actor, `asked to move the FOC date to ${day}`, row.state, {});
    });
  }

  private async dateAnswered(w: Writer, key: string, focAt: number | null, reason: string): Promise<void> {
    const row = await this.current(w, key);
    if (row?.state !== 'accepted') return;
    await savePort(w, row.id, { askedDate: '', ...(focAt === null ? {} : { focAt }) });
    await trailPort(
      this.p,
      w,
      row,
      SYSTEM,
      focAt === null ? `the losing carrier keeps the FOC date: ${reason}` : `FOC date moved to ${portDay(focAt)}`,
      row.state,
      {},
    );
  }

  /** Has landed numbers go back, within 72 hours of landing. */
  async snapBack(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const { row } = await readPort(w, this.p.vault, businessId, id);
      if (row.state === 'returning') return;
      const state = portAfter(row.state, 'snap back');
      if (!state || row.completedAt === null) throw conflict(`The request is ${row.state}; nothing can go back.`);
      if (this.p.clock.now() > row.completedAt + SNAPBACK_MS)
        throw refused('The 72 hours in which the numbers could go back are over; a port away is the way now.');
      await savePort(w, id, { state });
      await this.p.outbox.put(w, 'port.return', `${id}:return:${row.version}`, { portKey: `${id}:${row.attempt}` });
      await trailPort(this.p, w, row, actor, 'asked for the numbers to go back', state, {});
    });
  }

  // -- what the outside tells ----------------------------------------------------------------------------------------

  /** The request an answer is about, if it is an answer to its latest submission. */
  private async current(w: Writer, key: string): Promise<PortRow | null> {
    const [id = '', attempt = ''] = key.split(':');
    const row = await portById(w, id);
    return row?.attempt === Number(attempt) ? row : null;
  }

  private async answered(
    w: Writer,
    key: string,
    event: 'accept' | 'reject',
    reasons: { field: string; code: string; message: string }[],
    focAt: number | null = null,
  ): Promise<void> {
    const row = await this.current(w, key);
    const state = row && portAfter(row.state, event);
    if (!row || !state) return;
    await savePort(w, row.id, {
      state,
      reasons,
      focAt,
      answeredAt: Math.round(this.p.clock.now()),
    });
    await trailPort(
      this.p,
      w,
      row,
      SYSTEM,
      focAt === null ? 'rejected by the losing carrier' : `accepted, FOC date ${portDay(focAt)}`,
      state,
      focAt === null ? { reasons } : {},
    );
  }

  private async happened(w: Writer, key: string, event: PortEvent, action: string): Promise<void> {
    const row = await this.current(w, key);
    const state = row && portAfter(row.state, event);
    if (!row || !state) return;
    await this.notCancelled(w, row);
    await savePort(w, row.id, { state });
    await trailPort(this.p, w, row, SYSTEM, action, state, {});
  }

  /**
   * The cancellation of a request came too late: its numbers come, and their first month is paid after all. Where the
   * balance does not reach they come without; the next month is tried as for any number.
   */
  private async notCancelled(w: Writer, row: PortRow): Promise<void> {
    if (row.state !== 'cancelled') return;
    const { id, businessId } = row;
    const port = unsealed(this.p.vault, row);
    const [cost, what] = [monthlyOf(port), `${firstMonthOf(port)}, which could not be cancelled any more`];
    await this.businesses.topUpByItself(w, businessId, cost);
    const { balance } = await this.businesses.row(w, businessId);
    if (balance >= cost) {
      await this.businesses.charge(w, businessId, cost, what, 'port', id, idFrom('mon', id, 'not cancelled'));
      await savePort(w, id, { charged: cost });
    }
    const why = { cost: formatAmount(balance >= cost ? cost : 0) };
    await trailPort(this.p, w, row, SYSTEM, 'it was too late to cancel', row.state, why);
  }

  /** The numbers are ours: into the inventory, with the label and the campaign that were prepared. */
  private async landed(w: Writer, key: string): Promise<void> {
    const row = await this.current(w, key);
    const state = row && portAfter(row.state, 'complete');
    if (!row || !state) return;
    await this.notCancelled(w, row);
    const port = unsealed(this.p.vault, row);
    for (const n of port.numbers) {
      const numberId = await this.landing.land(w, {
        businessId: row.businessId,
        e164: n.e164,
        kind: n.kind === 'toll-free' ? 'toll-free' : 'local',
        source: 'ported',
        label: n.label,
        campaignId: n.campaignId,
        forwardTo: n.forwardTo,
        from: row.id,
      });
      await savePortNumber(w, row.id, n.e164, { numberId, open: false });
    }
    await savePort(w, row.id, { state, completedAt: Math.round(this.p.clock.now()) });
    await trailPort(this.p, w, row, SYSTEM, 'numbers landed', state, {});
  }

  private async returned(w: Writer, key: string): Promise<void> {
    const row = await this.current(w, key);
    const state = row && portAfter(row.state, 'return');
    if (!row || !state) return;
    for (const n of row.numbers ?? [])
      if (n.numberId) await this.landing.leave(w, n.numberId, 'gone back', 'gone back to the old carrier');
    await savePort(w, row.id, { state });
    await this.close(w, row.id);
    await trailPort(this.p, w, row, SYSTEM, 'numbers went back to the old carrier', state, {});
  }

  private async close(w: Writer, id: string): Promise<void> {
    await closeNumbers(w, id);
    await endLinks(w, 'port', id, 'withdrawn');
  }
}

/** What is paid with a submission, as the statement calls it. */
function firstMonthOf({ row, numbers: [first, ...more] }: Port): string {
  if (row.charged > 0) return 'port-in: first month of numbers added';
  return `port-in: first month of ${more.length === 0 ? formatPhone(first?.e164 ?? '') : `${more.length + 1} numbers`}`;
}

function filingOf({ facts, numbers, letter }: Port): PortFiling {
  return {
    numbers: numbers.map((n) => n.e164),
    accountNumber: facts.accountNumber,
    pin: facts.pin,
    holderName: facts.holderName,
    authorisedName: facts.authorisedName,
    street: facts.street,
    unit: facts.unit,
    city: facts.city,
    state: facts.state,
    postalCode: facts.postalCode,
    billingNumber: facts.billingNumber,
    newBillingNumber: facts.newBillingNumber,
    responsibleOrganisation: facts.responsibleOrganisation,
    letterSignedOn: letter?.signedOn ?? '',
  };
}
