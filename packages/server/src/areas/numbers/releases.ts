import { z } from 'zod';
import { formatPhone } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { fromJson } from '../../platform/table.js';
import { conflict, refused } from '../../platform/problem.js';
import { TAKE_BACK_MS } from './number-row.js';
import { BeforeRelease } from './model.js';
import { anyNumber, dropDefaults, isTaken, saveNumber } from './number-store.js';
import type { StandingFees } from '../settings/index.js';
import type { Numbers } from './numbers.js';
import type { Orders } from './orders.js';
import type { Ties } from './ties.js';

/** What hangs on a number in other areas, by their names. */
export interface Uses {
  dispatches: string[];
  pages: string[];
  keywords: string[];
  contacts: number;
}
export type WhatUses = (r: Reader, numberId: string) => Promise<Partial<Uses>>;

/** Giving numbers up: at once for sending, for good after seven days. */
export class Releases {
  private readonly users: WhatUses[] = [];

  constructor(
    private readonly p: Platform,
    private readonly numbers: Numbers,
    private readonly orders: Orders,
    private readonly fees: StandingFees,
    private readonly ties: Ties,
  ) {
    p.jobs.handle(
      'number.release',
      z.object({ numberId: z.string(), releasedAt: z.number() }),
      async ({ numberId, releasedAt }) => {
        await p.db.write(async (w) => {
          const row = await anyNumber(w, numberId);
          if (row?.state !== 'released' || row.released_at !== releasedAt || !row.before_release) return;
          await saveNumber(w, numberId, { beforeRelease: null, ended: 'released' });
          await this.orders.giveBack(w, `release:${numberId}:${releasedAt}`, row.e164);
          await record(w, p.clock, {
            businessId: row.business_id,
            actor: { id: 'system', name: 'Long Gate' },
            action: 'release final: the number may go to somebody else',
            objectKind: 'number',
            objectId: numberId,
          });
          this.numbers.changed(w, row.business_id, numberId);
        });
        return { done: true };
      },
      'the release of a number becomes final',
    );
  }

  /** Whoever hangs something on numbers says what hangs on one. */
  usedBy(whatUses: WhatUses): void {
    this.users.push(whatUses);
  }

  async preview(businessId: string, id: string): Promise<Uses> {
    await this.numbers.row(this.p.db, businessId, id);
    const uses: Uses = { dispatches: [], pages: [], keywords: [], contacts: 0 };
    for (const whatUses of this.users) Object.assign(uses, await whatUses(this.p.db, id));
    return uses;
  }

  /** @param digits the last four of the number, as whoever gives it up wrote them. */
  async release(actor: Actor, businessId: string, id: string, digits: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.numbers.row(w, businessId, id);
      if (row.state === 'released') return;
      if (digits !== row.e164.slice(-4))
        throw refused(`Give the last four digits of ${formatPhone(row.e164)}.`, [
          { field: 'digits', message: 'These are not its last four digits.' },
        ]);
      if (row.state === 'ordered' || row.state === 'failed')
        throw conflict('The order is not filled; there is nothing to release.');
      if (row.kind === 'sender ID') throw conflict('A sender ID is given up in Sender IDs.');
      if (row.source === 'hosted')
        throw conflict('A hosted number is not ours to release; take texting off in Hosted numbers.');
      const now = Math.round(this.p.clock.now());
      await saveNumber(w, id, {
        state: 'released',
        note: `Released by ${actor.name}.`,
        releasedAt: now,
        beforeRelease: BeforeRelease.parse({
          state: row.state,
          campaignId: row.campaign_id,
          tieState: row.tie_state,
        }),
        campaignId: null,
        tieState: 'none',
      });
      await dropDefaults(w, id);
      await this.p.jobs.add(w, {
        kind: 'number.release',
        businessId,
        payload: { numberId: id, releasedAt: now },
        at: now + TAKE_BACK_MS,
        key: `release:${id}:${now}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `${formatPhone(row.e164)} released`,
        objectKind: 'number',
        objectId: id,
        before: { state: row.state, campaign: row.campaign?.name ?? null },
        after: { state: 'released' },
      });
      this.numbers.changed(w, businessId, id);
    });
  }

  /** Takes a release back within seven days: state and fee as they were, and the campaign where it has room still. */
  async takeBack(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await this.numbers.row(w, businessId, id);
      if (row.state !== 'released') return;
      if (row.ended !== '' && row.ended !== 'released')
        throw conflict(`The number is ${row.ended}; it cannot be taken back.`);
      if (!row.before_release) throw conflict('The seven days are over; the number may be somebody else’s already.');
      if (await isTaken(w, row.e164)) throw conflict('The number is in an inventory again already.');
      const { state, ...was } = fromJson(BeforeRelease, row.before_release);
      const stands = await this.ties.again(w, row, was);
      await saveNumber(w, id, { state, ...stands, releasedAt: null, beforeRelease: null });
      // The fee's job ended with the release where its day fell into it.
      await this.fees.begin(w, {
        kind: 'number',
        businessId,
        id,
        at: row.next_fee_at ?? this.p.clock.now(),
        key: `fee:${id}:${row.version}`,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'release taken back',
        objectKind: 'number',
        objectId: id,
        before: { state: 'released' },
        after: { state },
      });
      this.numbers.changed(w, businessId, id);
    });
  }
}
