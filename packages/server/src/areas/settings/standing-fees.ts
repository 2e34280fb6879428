import { nextMonthly, type FeeToCome, type RunningFee } from '@long-gate/core';
import { z } from 'zod';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses } from './businesses.js';

/** What could not be paid is tried again so much later. */
const AGAIN_MS = 3_600_000;
/** What is not paid is held so long, tried again meanwhile, and then lost. source: rules.md, Money. */
export const UNPAID_HOLD_MS = 14 * 86_400_000;
/** Kinds of fees, in the order in which they are shown. */
const SHOWN = ['number', 'campaign'] as const;
type Kind = (typeof SHOWN)[number];

/** A fee as it stands when it is due. */
export interface Fee {
  businessId: string;
  amount: number;
  /** What stands in the statement. */
  what: string;
  /** The moment it is due. */
  at: number;
  /** When what it is for began: the day of the month on which it is due. */
  since: number;
}

/** Something that costs every month: what it is called in the statement, and what follows from paying and not paying. */
export interface Feeable {
  /** The fee that is due next; null where none runs any more. */
  due(w: Writer, id: string): Promise<Fee | null>;
  /** It is paid until a moment, when it is due next. */
  paid(w: Writer, id: string, until: number): Promise<void>;
  /** It could not be paid. @returns false where it is over with it. */
  unpaid(w: Writer, id: string): Promise<boolean>;
  /** The fees of this kind that run for a business. */
  running(r: Reader, businessId: string): Promise<RunningFee[]>;
  /** When each of them is due next. */
  toCome(r: Reader, businessId: string): Promise<FeeToCome[]>;
}

/** All standing fees: of numbers, of campaigns. Each is taken on its day, once, and tried again where money is short. */
export class StandingFees {
  private readonly kinds = new Map<Kind, Feeable>();

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.jobs.handle(
      'fee',
      z.object({ kind: z.enum(SHOWN), id: z.string() }),
      ({ kind, id }) => this.take(kind, id),
      'a monthly fee is due',
    );
  }

  of(kind: Kind, feeable: Feeable): void {
    this.kinds.set(kind, feeable);
  }

  /** Begins a fee. @param at when it is first due; now where nothing is said. @param key other than that of its object. */
  async begin(
    w: Writer,
    fee: { kind: Kind; businessId: string; id: string; at?: number; key?: string },
  ): Promise<void> {
    const { kind, businessId, id, at, key } = fee;
    await this.p.jobs.add(w, {
      kind: 'fee',
      businessId,
      payload: { kind, id },
      key: key ?? `fee:${id}`,
      ...(at === undefined ? {} : { at }),
    });
  }

  /** All fees that run for a business. */
  async running(r: Reader, businessId: string): Promise<RunningFee[]> {
    const all: RunningFee[] = [];
    for (const kind of SHOWN) all.push(...((await this.kinds.get(kind)?.running(r, businessId)) ?? []));
    return all;
  }

  /** Every fee of a business with the day it is due next. */
  async toCome(r: Reader, businessId: string): Promise<FeeToCome[]> {
    const all: FeeToCome[] = [];
    for (const kind of SHOWN) all.push(...((await this.kinds.get(kind)?.toCome(r, businessId)) ?? []));
    return all;
  }

  /** The same day of the month on: when a fee of something begun at a moment is due after another. */
  async next(r: Reader, businessId: string, since: number, after: number): Promise<number> {
    return nextMonthly(since, after, (await this.businesses.row(r, businessId)).time_zone);
  }

  private async take(kind: Kind, id: string): Promise<JobOutcome> {
    const feeable = this.kinds.get(kind);
    if (!feeable) throw new Error(`nobody has fees of kind ${kind}`);
    return this.p.db.write(async (w): Promise<JobOutcome> => {
      const fee = await feeable.due(w, id);
      if (!fee) return { done: true };
      const now = this.p.clock.now();
      if (now < fee.at) return { done: false, at: fee.at };
      const { businessId, amount, what, at } = fee;
      const entry = idFrom('mon', id, 'fee', String(at));
      if (!(await this.businesses.booked(w, entry))) {
        await this.businesses.topUpByItself(w, businessId, amount);
        if ((await this.businesses.row(w, businessId)).balance < amount)
          return (await feeable.unpaid(w, id)) ? { done: false, at: now + AGAIN_MS } : { done: true };
        await this.businesses.charge(w, businessId, amount, what, kind, id, entry);
      }
      const next = await this.next(w, businessId, fee.since, at);
      await feeable.paid(w, id, next);
      return { done: false, at: next };
    });
  }
}
