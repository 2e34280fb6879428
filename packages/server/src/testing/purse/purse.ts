import { randomUUID } from 'node:crypto';
import { DEFAULT_PRICES, nextMonthly } from '@long-gate/core';
import type { MoneyEntry } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { Problem } from '../../platform/problem.js';
import { Office } from '../office.js';
import { BOTH_KINDS, heronPage } from '../opt-in-page.js';

export const ZONE = 'America/New_York';
const DAY = 86_400_000;
/** Who gets the texts. */
const PHONES = ['+12125550101', '+12125550102', '+12125550103'] as const;
/** What is not paid is held so long. */
const HELD = 14 * DAY;

interface Owned {
  id: string;
  e164: string;
  source: string;
  state: string;
  setup: number;
  monthly: number;
  active_at: number | null;
  ended: string;
  released_at: number | null;
  unpaid_since: number | null;
}

/** A business that spends in all the ways there are, another that may pay for its questions, and an accountant's eye on both. */
export class Purse {
  private serial = 0;
  other = '';
  /** Statements of months that were over when they were taken. */
  private readonly closed = new Map<string, string>();
  readonly wrongs: string[] = [];
  private constructor(readonly o: Office) {}

  static async open(): Promise<Purse> {
    const p = new Purse(await Office.open());
    const { o } = p;
    const { db } = o.app.platform;
    p.other = await db.write(async (w) => {
      const names = { legalName: 'Larch Desk LLC', nameLine: 'Larch Desk', form: 'private company' } as const;
      const id = await o.app.businesses.add(w, { id: o.admin.id, name: o.admin.name }, names);
      await o.member(w, o.admin.id, 'administrator', id);
      await w.run('UPDATE business SET time_zone = $1', [ZONE]);
      await w.run('UPDATE campaign SET decided_at = $1, next_fee_at = $1', [o.now]);
      await o.app.fees.begin(w, { kind: 'campaign', businessId: o.business, id: o.campaign });
      return id;
    });
    await o.app.businesses.topUp(o.admin, p.other, 2_000_000, 'first');
    for (const e164 of PHONES) await o.contact(e164, ['informational', 'promotional']);
    await o.app.pages.add(o.admin, o.business, heronPage(o.number, { purposes: BOTH_KINDS }));
    await o.settle();
    return p;
  }

  next(): number {
    return ++this.serial;
  }

  async balance(businessId = this.o.business): Promise<number> {
    return (await this.o.app.businesses.row(this.o.app.platform.db, businessId)).balance;
  }

  owned(): Promise<Owned[]> {
    return this.o.app.platform.db.all<Owned>(
      'SELECT id, e164, source, state, setup, monthly, active_at, ended, released_at, unpaid_since FROM number WHERE id <> $1 ORDER BY ordered_at, id',
      [this.o.number],
    );
  }

  /** Lines of other carriers for which texting is wanted, or on. */
  lines(): Promise<{ id: string; e164: string; state: string; attempt: number }[]> {
    return this.o.app.platform.db.all('SELECT id, e164, state, attempt FROM hosted ORDER BY begun_at, id');
  }

  /** Does what is to be done with the first number in a state. @throws Problem where there is none. */
  async first(states: readonly string[]): Promise<string> {
    const row = (await this.owned()).find((n) => states.includes(n.state));
    if (!row) throw new Problem(404, 'not-found', 'No number is so.');
    return row.id;
  }

  async send(purpose: 'informational' | 'promotional'): Promise<void> {
    const { o } = this;
    const wish = await o.draft({ title: `Bread ${this.next()}`, text: `Loaf ${this.serial} is back.`, purpose });
    const d = await o.app.drafts.add(o.admin, o.business, wish);
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
  }

  /** Somebody fills in the page, of whom it is asked what line they have. */
  async optIn(): Promise<void> {
    const { words } = await this.o.app.publicPages.publicPage('heron');
    const phone = `+1212555${String(200 + this.next()).padStart(4, '0')}`;
    const form = { phone, firstName: 'Ada', purposes: ['informational' as const], words };
    await this.o.app.publicPages.optIn('heron', form, { ip: '192.0.2.9', agent: 'somebody' });
  }

  async answer(): Promise<void> {
    const { o } = this;
    await o.text(PHONES[0], `Is there bread ${this.next()}?`);
    await o.app.inbox.answer(o.admin, o.business, PHONES[0], `There is, ${this.serial}.`, randomUUID());
  }

  /** The network says of the last text that its carrier will never take it. */
  async refuseLast(): Promise<void> {
    const text = this.o.outside.sent.at(-1);
    if (!text) return;
    const fault = { failure: 'refused-by-owner' as const, code: '21', reason: 'Refused.' };
    await this.o.hear({ kind: 'text.failed', key: text.key, carrier: 'Tessary Wireless', ...fault });
  }

  // -- what is looked at ------------------------------------------------------------------------------------------

  async look(): Promise<void> {
    for (const id of [this.o.business, this.other]) {
      const entries = await this.statement(id);
      await this.addsUp(id, entries);
      this.topsUpSeldom(entries);
      await this.pastStays(id);
    }
    const entries = await this.statement(this.o.business);
    await this.textsArePaid(entries);
    await this.numbersArePaid(entries);
    await this.arrivalsArePaid(entries);
    await this.ownership();
    this.questionsArePaid([...entries, ...(await this.statement(this.other))]);
    const { daysLeft, perDay } = await this.o.app.money.outlook(this.o.business);
    this.want('the outlook is none', daysLeft === null || daysLeft >= 0, perDay);
  }

  private want(what: string, so: boolean, is: unknown = ''): void {
    if (!so) this.wrongs.push(`${what}: ${String(is)}`);
  }

  /** All entries, the first first. */
  private async statement(businessId: string): Promise<MoneyEntry[]> {
    const all: MoneyEntry[] = [];
    for (let cursor: string | undefined; ;) {
      const page = await this.o.app.money.page(businessId, { cursor, limit: 7 });
      all.push(...page.items);
      if (page.next === null) return all.reverse();
      cursor = page.next;
    }
  }

  private async addsUp(id: string, entries: readonly MoneyEntry[]): Promise<void> {
    let balance = 0;
    let at = 0;
    for (const e of entries) {
      balance += e.amount;
      this.want(`balance behind ${e.what}`, e.balanceAfter === balance, `${e.balanceAfter}, not ${balance}`);
      this.want(`below nothing after ${e.what}`, balance >= 0, balance);
      this.want(`${e.what} stands behind what came later`, e.at >= at);
      at = e.at;
    }
    this.want('the balance is the sum of the entries', balance === (await this.balance(id)), balance);
    this.want('an entry stands twice', new Set(entries.map((e) => e.id)).size === entries.length);
  }

  private topsUpSeldom(entries: readonly MoneyEntry[]): void {
    const tops = entries.filter((e) => e.what === 'automatic top-up').map((e) => e.at);
    for (const [i, at] of tops.entries())
      this.want('topped up four times in a day', (tops[i + 3] ?? Infinity) - at >= DAY, new Date(at).toISOString());
  }

  /** A month that is over stands for good. */
  private async pastStays(id: string): Promise<void> {
    const now = DateTime.fromMillis(this.o.now, { zone: ZONE }).startOf('month');
    for (let m = DateTime.fromISO('2030-03-01', { zone: ZONE }); m < now; m = m.plus({ months: 1 })) {
      const month = m.toFormat('yyyy-MM');
      const csv = await this.o.app.money.csv(id, month);
      const before = this.closed.get(`${id} ${month}`) ?? csv;
      this.want(`the statement of ${month} changed`, csv === before, `${before}\n${csv}`);
      this.closed.set(`${id} ${month}`, before);
    }
  }

  /** What texts cost is what stands on the statement for them, dispatch by dispatch. */
  private async textsArePaid(entries: readonly MoneyEntry[]): Promise<void> {
    const of = new Map<string, number>();
    for (const e of entries)
      if (['dispatch', 'thread'].includes(e.objectKind)) of.set(e.objectId, (of.get(e.objectId) ?? 0) - e.amount);
    const rows = await this.o.app.platform.db.all<{ id: string; cost: number }>(
      `SELECT coalesce(dispatch_id, '') AS id, sum(cost) AS cost FROM message WHERE direction = 'out' GROUP BY 1`,
    );
    for (const { id, cost } of rows) {
      this.want(`texts of ${id || 'no dispatch'}`, cost === (of.get(id) ?? 0), `cost ${cost}, paid ${of.get(id) ?? 0}`);
      of.delete(id);
    }
    this.want(
      'paid for dispatches that have no text',
      [...of.values()].every((x) => x === 0),
    );
  }

  /** Each number is paid when it is ordered, and then once for each month that it is held. */
  private async numbersArePaid(entries: readonly MoneyEntry[]): Promise<void> {
    for (const n of await this.owned()) {
      const of = entries.filter((e) => e.objectId === n.id);
      const fees = of.filter((e) => e.what.endsWith('monthly fee'));
      const rest = of.filter((e) => !fees.includes(e)).reduce((sum, e) => sum + e.amount, 0);
      const ordered = n.source !== 'bought' || n.state === 'failed' ? 0 : -n.setup - n.monthly;
      this.want(`what was paid for ordering ${n.id}`, rest === ordered, rest);
      this.want(
        `a fee of ${n.id}`,
        fees.every((e) => e.amount === -n.monthly),
      );
      if (n.active_at !== null && n.state === 'active')
        this.want(`fees of ${n.id}`, fees.length === this.monthsOf(n.active_at), fees.length);
      if (n.ended === 'unpaid')
        this.want(`${n.id} was lost early`, (n.released_at ?? 0) >= (n.unpaid_since ?? Infinity) + HELD);
    }
    const campaign = await this.o.app.platform.db.one<{
      decided_at: number;
      state: string;
      unpaid_since: number | null;
    }>('SELECT decided_at, state, unpaid_since FROM campaign');
    const fees = entries.filter((e) => e.objectKind === 'campaign').length;
    if (campaign?.state === 'registered' && campaign.unpaid_since === null)
      this.want('fees of the campaign', fees === this.monthsOf(campaign.decided_at) + 1, fees);
  }

  /** The first month of each number that comes from elsewhere is paid while it is on its way, and when it is here. */
  private async arrivalsArePaid(entries: readonly MoneyEntry[]): Promise<void> {
    const { app, business } = this.o;
    const paid = (id: string): number =>
      -entries.filter((e) => e.objectId === id && !e.what.startsWith('call ')).reduce((sum, e) => sum + e.amount, 0);
    for (const x of await app.ports.list(business, true)) {
      const so = x.attempt === 0 || x.state === 'cancelled' ? 0 : x.numbers.length * DEFAULT_PRICES.localMonthly;
      // Where it was cancelled too late the balance may not have reached for it any more.
      const free = paid(x.id) === 0 && entries.some((e) => e.objectId === x.id && e.what.includes('cancelled'));
      if (x.state !== 'rejected' && !free)
        this.want(`port ${x.id}, ${x.state}`, paid(x.id) === so, `${paid(x.id)}, not ${so}`);
    }
    for (const x of await this.lines()) {
      const so = x.attempt === 0 || x.state === 'cancelled' ? 0 : DEFAULT_PRICES.hostedMonthly;
      this.want(`line ${x.id}, ${x.state}`, paid(x.id) === so, `${paid(x.id)}, not ${so}`);
    }
  }

  /** A number is ours once at most; what is nobody's here any more is not kept from others, nor given back while it is ours. */
  private async ownership(): Promise<void> {
    const { outside } = this.o;
    const all = await this.owned();
    const lines = await this.lines();
    for (const e164 of new Set(all.map((n) => n.e164))) {
      const here = all.filter((n) => n.e164 === e164);
      const ours = here.filter((n) => ['ordered', 'active', 'paused'].includes(n.state));
      this.want(`${e164} is ours so often`, ours.length <= 1, ours.length);
      const back = here.filter((n) => ['released', 'unpaid'].includes(n.ended) && n.source !== 'hosted').length;
      const given = outside.givenBack.filter((x) => x === e164).length;
      this.want(`${e164} was given back so often`, given === back, `${given}, not ${back}`);
      const on = lines.filter((x) => x.e164 === e164 && x.state === 'on').length;
      const hosted = ours.filter((n) => n.source === 'hosted').length;
      this.want(`texting is on for ${e164}`, on === hosted, `${on}, where ${hosted} are ours`);
    }
  }

  /** How many monthly days there were since something began. */
  private monthsOf(since: number): number {
    let n = 0;
    for (let at = nextMonthly(since, since, ZONE); at <= this.o.now; at = nextMonthly(since, at, ZONE)) n++;
    return n;
  }

  /** Each question about a number is paid once, by whomever. */
  private questionsArePaid(entries: readonly MoneyEntry[]): void {
    const { lookups, reassignedAsked } = this.o.outside;
    const keys = (all: readonly { key: string }[]): number => new Set(all.map((x) => x.key)).size;
    const cost = keys(lookups) * DEFAULT_PRICES.lookup + keys(reassignedAsked) * DEFAULT_PRICES.reassignedQuery;
    const paid = -entries.filter((e) => e.objectKind === 'lookups').reduce((sum, e) => sum + e.amount, 0);
    this.want('questions about numbers', paid === cost, `cost ${cost}, paid ${paid}`);
  }
}
