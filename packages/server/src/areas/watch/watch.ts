import type { Carried, NumberWatch } from '@long-gate/contracts';
import { dayNumber, dayStart, isoOfDay, reachesLevel, wilson, type Rate } from '@long-gate/core';
import type { Reader, Writer } from '../../platform/db.js';
import type { Kept } from '../../platform/kept-counts-store.js';
import type { Platform } from '../../platform/platform.js';
import type { Ledger } from '../consent/index.js';
import { erasedNumber, numberDigest } from '../contacts/index.js';
import { dayCounts, lastNumbers, latencySteps, type DayCount } from '../dispatch/index.js';
import type { Numbers } from '../numbers/index.js';
import type { Businesses } from '../settings/index.js';
import {
  bookedDepartures,
  countDepartures,
  departuresByDay,
  departuresByNumber,
  departuresOf,
  forgetDepartures,
  noteDepartures,
  rebookDepartures,
} from './watch-store.js';

interface Counts {
  delivered: number;
  filtered: number;
  failed: number;
  notTextable: number;
  pending: number;
}

/** Fixed levels (rules.md, reputation): a level counts when the interval's lower end passes it with three events behind. */
const LEVELS = { optOutWatch: 0.005, optOutStop: 0.03, notTextable: 0.03, filtered: 0.01 };

/** Delivery and reputation: added up from what is counted by day, with intervals, over final receipts only. */
export class Watch {
  /** Counts that are being read. */
  private readonly asked = new Map<string, Promise<DayCount[]>>();

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbersArea: Numbers,
    private readonly ledger: Ledger,
  ) {
    p.db.facts.on('consent.left', (w, { businessId, people }) => this.noteLeft(w, businessId, people));
    // Who left while a text was in the air may have been booked on it.
    p.db.facts.on('texts.returned', async (w, { businessId, e164s }) => {
      const left = await departuresOf(w, businessId, e164s);
      if (left.length > 0) await rebookDepartures(w, businessId, await this.placed(w, businessId, left));
    });
  }

  /** An opt-out is booked on the number that wrote to the person last; one whom nobody wrote to is nobody's. */
  private async noteLeft(
    w: Writer,
    businessId: string,
    people: readonly (readonly [e164: string, at: number])[],
  ): Promise<void> {
    await noteDepartures(w, businessId, await this.placed(w, businessId, people));
  }

  private async placed(
    r: Reader,
    businessId: string,
    people: readonly (readonly [e164: string, at: number])[],
  ): Promise<(readonly [e164: string, at: number, numberId: string])[]> {
    const numbers = await lastNumbers(r, businessId, people);
    // Texts with somebody who was erased since stand under what is left of their number.
    const unknown = people.filter((_, i) => numbers[i] === null);
    const asErased = unknown.map(([e164, at]) => [erasedNumber(numberDigest(businessId, e164)), at] as const);
    const before = await lastNumbers(r, businessId, asErased);
    const then = new Map(unknown.map((x, i) => [x, before[i]]));
    return people.map((x, i) => [...x, numbers[i] ?? then.get(x) ?? ''] as const);
  }

  /** How many opt-outs of the ledger are booked elsewhere than they belong, or not, or without being in the ledger. */
  private async misplaced(r: Reader, businessId: string): Promise<number> {
    const key = (e164: string, at: number): string => `${e164} ${at}`;
    // Two events of one moment are one departure, and may stand far apart in the chain.
    const [right, elsewhere, missing] = [new Set<string>(), new Set<string>(), new Set<string>()];
    for await (const people of this.ledger.departures(businessId)) {
      const booked = await bookedDepartures(r, businessId, people);
      const at = new Map(booked.map((x) => [key(x.e164, x.at), x.numberId]));
      for (const [e164, when, numberId] of await this.placed(r, businessId, people)) {
        const k = key(e164, when);
        const is = at.get(k);
        (is === undefined ? missing : is === numberId ? right : elsewhere).add(k);
      }
    }
    const unfounded = (await countDepartures(r, businessId)) - right.size - elsewhere.size;
    return elsewhere.size + missing.size + unfounded;
  }

  /** Opt-outs by the number that had written last, as something that is counted: held against the ledger, booked anew. */
  kept(): Kept {
    return {
      what: 'opt-outs by the number that had written last',
      differing: async (r) => {
        let n = 0;
        for (const id of await this.businesses.ids(r)) n += await this.misplaced(r, id);
        return n;
      },
      recount: async (_, w) => {
        for (const id of await this.businesses.ids(w)) {
          await forgetDepartures(w, id);
          for await (const people of this.ledger.departures(id)) await this.noteLeft(w, id, people);
        }
      },
    };
  }

  /** The first day that is looked at, and the zone of the business, in which days are: today is the last of `days`. */
  private async firstDay(businessId: string, days: number): Promise<{ first: number; zone: string }> {
    const zone = (await this.businesses.row(this.p.db, businessId)).time_zone;
    return { first: dayNumber(this.p.clock.now(), zone) - days + 1, zone };
  }

  private async counts(businessId: string, days: number, numberId?: string): Promise<DayCount[]> {
    const { first } = await this.firstDay(businessId, days);
    const key = `${businessId} ${first}`;
    // A page asks for several things that are added up of the same counts at once.
    const rows = await (this.asked.get(key) ?? this.ask(key, dayCounts(this.p.db, businessId, first)));
    return numberId ? rows.filter((x) => x.numberId === numberId) : rows;
  }

  private ask(key: string, rows: Promise<DayCount[]>): Promise<DayCount[]> {
    this.asked.set(key, rows);
    return rows.finally(() => this.asked.delete(key));
  }

  async numbers(businessId: string, days: number): Promise<NumberWatch[]> {
    const r = this.p.db;
    const { first, zone } = await this.firstDay(businessId, days);
    const [rows, all, optOuts, steps] = await Promise.all([
      this.counts(businessId, days),
      this.numbersArea.list(r, businessId),
      departuresByNumber(r, businessId, dayStart(first, zone)),
      latencySteps(r, businessId, first),
    ]);
    const by = groupBy(rows, (x) => x.numberId);
    return all
      .filter((n) => n.state === 'active' || n.state === 'paused')
      .map((n) => {
        const mine = by.get(n.id) ?? [];
        const c = add(mine);
        const final = c.delivered + c.filtered + c.failed;
        const rates = {
          delivered: wilson(c.delivered, final),
          filtered: wilson(c.filtered, final),
          failed: wilson(c.failed, final),
          optOuts: wilson(Math.min(optOuts.get(n.id) ?? 0, c.delivered), c.delivered),
        };
        return {
          numberId: n.id,
          e164: n.e164,
          label: n.label,
          sent: final + c.pending,
          pending: c.pending,
          ...rates,
          replies: mine.reduce((sum, x) => sum + (x.outcome === 'received' ? x.n : 0), 0),
          medianSeconds: median(steps.filter((x) => x.numberId === n.id)),
          ...level(rates, wilson(c.notTextable, final)),
        };
      });
  }

  /** What each number sent and received on each of the last days, the first day first; numbers with nothing are not in it. */
  async carried(businessId: string, days: number): Promise<Carried> {
    const { first } = await this.firstDay(businessId, days);
    const by = groupBy(await this.counts(businessId, days), (x) => x.numberId);
    const daily = (rows: readonly DayCount[]): number[] => {
      const out = Array.from({ length: days }, () => 0);
      for (const x of rows) out[x.day - first] = (out[x.day - first] ?? 0) + x.n;
      return out;
    };
    return {
      from: isoOfDay(first),
      items: [...by].map(([numberId, mine]) => ({
        numberId,
        sent: daily(mine.filter((x) => x.outcome !== 'received')),
        received: daily(mine.filter((x) => x.outcome === 'received')),
      })),
    };
  }

  async reasons(
    businessId: string,
    days: number,
    numberId: string | undefined,
  ): Promise<{ key: string; final: number; count: number; rate: Rate | null }[]> {
    const rows = await this.counts(businessId, days, numberId);
    const c = add(rows);
    const final = c.delivered + c.filtered + c.failed;
    const failed = groupBy(
      rows.filter((x) => x.outcome === 'failed'),
      (x) => x.reason,
    );
    return [...failed]
      .map(([key, mine]) => ({ key, count: mine.reduce((n, x) => n + x.n, 0) }))
      .sort((a, b) => b.count - a.count)
      .slice(0, 12)
      .map(({ key, count }) => ({ key, final, count, rate: wilson(count, final) }));
  }

  async carriers(
    businessId: string,
    days: number,
    numberId: string | undefined,
  ): Promise<{ carrier: string; delivered: Rate | null; filtered: Rate | null; failed: Rate | null }[]> {
    const rows = (await this.counts(businessId, days, numberId)).filter((x) => x.carrier !== '');
    return [...groupBy(rows, (x) => x.carrier)]
      .map(([carrier, mine]) => ({ carrier, ...add(mine) }))
      .sort((a, b) => b.delivered + b.filtered + b.failed - (a.delivered + a.filtered + a.failed))
      .map((c) => {
        const final = c.delivered + c.filtered + c.failed;
        return {
          carrier: c.carrier,
          delivered: wilson(c.delivered, final),
          filtered: wilson(c.filtered, final),
          failed: wilson(c.failed, final),
        };
      });
  }

  async days(
    businessId: string,
    days: number,
    numberId: string | undefined,
  ): Promise<{ day: string; delivered: number; filtered: number; failed: number; optOuts: number }[]> {
    const { first, zone } = await this.firstDay(businessId, days);
    const begins = Array.from({ length: days + 1 }, (_, i) => dayStart(first + i, zone));
    const [rows, left] = await Promise.all([
      this.counts(businessId, days, numberId),
      departuresByDay(this.p.db, businessId, begins),
    ]);
    const outs = new Map<number, number>();
    for (const x of left)
      if (!numberId || x.numberId === numberId) outs.set(first + x.nth, (outs.get(first + x.nth) ?? 0) + x.n);
    const sent = groupBy(
      rows.filter((x) => x.outcome !== 'received'),
      (x) => x.day,
    );
    return [...sent]
      .sort(([a], [b]) => a - b)
      .map(([day, mine]) => {
        const { delivered, filtered, failed } = add(mine);
        return {
          day: isoOfDay(day),
          delivered,
          filtered,
          failed,
          optOuts: outs.get(day) ?? 0,
        };
      });
  }
}

function add(rows: readonly DayCount[]): Counts {
  const c: Counts = { delivered: 0, filtered: 0, failed: 0, notTextable: 0, pending: 0 };
  for (const x of rows) {
    if (x.outcome === 'delivered') c.delivered += x.n;
    else if (x.outcome === 'pending') c.pending += x.n;
    else if (x.outcome === 'failed') {
      if (x.failure === 'filtered') c.filtered += x.n;
      else c.failed += x.n;
      if (x.failure === 'not-textable') c.notTextable += x.n;
    }
  }
  return c;
}

function groupBy<T, K>(rows: readonly T[], key: (row: T) => K): Map<K, T[]> {
  const out = new Map<K, T[]>();
  for (const row of rows) {
    const list = out.get(key(row));
    if (list) list.push(row);
    else out.set(key(row), [row]);
  }
  return out;
}

/** The middle of counted steps of latency, in seconds; null where nothing was delivered. */
function median(steps: readonly { step: number; n: number }[]): number | null {
  const all = steps.reduce((n, x) => n + x.n, 0);
  let before = 0;
  for (const { step, n } of steps) {
    before += n;
    if (before > all / 2) return secondsOf(step);
  }
  return null;
}

/** Where a step of latency begins, in seconds: the inverse of the count's trigger. */
function secondsOf(step: number): number {
  if (step < 100) return step / 10;
  if (step < 190) return step - 90;
  return step < 280 ? (step - 180) * 10 : (step - 270) * 100;
}

function level(
  r: { filtered: Rate | null; optOuts: Rate | null },
  notTextable: Rate | null,
): Pick<NumberWatch, 'level' | 'because'> {
  if (reachesLevel(r.optOuts, LEVELS.optOutStop)) return { level: 'stop and look', because: 'opt-outs above 3%' };
  const because = [
    ...(reachesLevel(r.optOuts, LEVELS.optOutWatch) ? ['opt-outs above 0.5%'] : []),
    ...(reachesLevel(r.filtered, LEVELS.filtered) ? ['filtered above 1%'] : []),
    ...(reachesLevel(notTextable, LEVELS.notTextable) ? ['texts to numbers that cannot be texted above 3%'] : []),
  ];
  return because.length > 0 ? { level: 'watch', because: because.join(', ') } : { level: 'quiet', because: '' };
}
