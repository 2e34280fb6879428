import { randomInt } from 'node:crypto';
import { DEFAULT_PRICES, formatPhone } from '@long-gate/core';
import { z } from 'zod';
import { SYSTEM } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Person } from '../../../platform/http/route.js';
import { idFrom } from '../../../platform/ids.js';
import { DAY_MS } from '../../../platform/limits.js';
import type { Platform } from '../../../platform/platform.js';
import { refused } from '../../../platform/problem.js';
import type { Businesses } from '../businesses.js';
import { confirmPendingMobile, countMobileTry, dropPendingMobile, setPendingMobile, userById } from './people-store.js';
import { trailOfPerson } from './person-trail.js';

/** Wrong codes after which a new one is needed. */
const CODE_TRIES = 5;
/** Codes a day: to one number, for one account, from one address. */
const CODES_A_DAY = { number: 5, account: 5, address: 20 };

/** What a code on its way is about; those that waited when this was put in do not say to where, nor who paid. */
const Waiting = z.object({
  userId: z.string(),
  mobile: z.string().optional(),
  paid: z.object({ by: z.string(), entry: z.string() }).optional(),
});
type Waiting = z.infer<typeof Waiting>;

/** A person's own mobile, confirmed by a code: tests go to it, and it says who buys. */
export class OwnMobile {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.outbox.carry('staff.code', Waiting, {
      deliver: async (key, { userId }) => {
        const row = await userById(p.db, userId);
        // Taken away again meanwhile: nothing is sent.
        if (!row || row.mobilePending === '') return;
        const code = p.vault.unseal(row.mobileCode);
        await p.gateways.network.sendCode(
          key,
          row.mobilePending,
          `Long Gate: your code is ${code}. Nobody will ask you for it.`,
        );
      },
      refused: (w, _key, about, error) => this.notSent(w, about, error.message),
    });
  }

  /** The network takes no code to this mobile: none is waited for, and what it cost comes back. */
  private async notSent(w: Writer, { userId, mobile, paid }: Waiting, why: string): Promise<void> {
    const row = await userById(w, userId);
    if (row && row.mobilePending === mobile) await dropPendingMobile(w, userId);
    if (paid)
      await this.businesses.move(
        w,
        paid.by,
        DEFAULT_PRICES.segment,
        `code to the mobile of ${row?.name ?? 'somebody'} not sent: paid back`,
        'person',
        userId,
        idFrom('mon', paid.entry, 'back'),
      );
    await trailOfPerson(w, this.p, SYSTEM, 'code to own mobile not sent', undefined, { why }, userId);
  }

  async of(r: Reader, userId: string): Promise<{ mobile: string; pending: string }> {
    const row = await userById(r, userId);
    return { mobile: row?.mobile ?? '', pending: row?.mobilePending ?? '' };
  }

  /**
   * A mobile just given gets a code; it counts only once the code is given back. The empty text takes the mobile away.
   * Once for one key.
   * @param payer the business that pays for the code, as for any text.
   */
  async set(actor: Person, mobile: string, payer: string, address: string, key: string): Promise<void> {
    const wish = idFrom('cod', actor.id, key);
    await this.p.db.write(async (w) => {
      if (await this.businesses.booked(w, wish)) return;
      const before = await this.of(w, actor.id);
      if (mobile !== '') {
        await this.p.limits.take(
          w,
          [
            { act: 'code number', who: mobile, most: CODES_A_DAY.number, withinMs: DAY_MS },
            { act: 'code account', who: actor.id, most: CODES_A_DAY.account, withinMs: DAY_MS },
            { act: 'code address', who: address, most: CODES_A_DAY.address, withinMs: DAY_MS },
          ],
          'Enough codes were sent today. Try again tomorrow.',
        );
        await this.businesses.charge(
          w,
          payer,
          DEFAULT_PRICES.segment,
          `code to the mobile of ${actor.name}`,
          'person',
          actor.id,
          wish,
        );
        await this.p.outbox.put(w, 'staff.code', `${actor.id}:${wish}`, {
          userId: actor.id,
          mobile,
          paid: { by: payer, entry: wish },
        });
      }
      const code = mobile === '' ? '' : String(randomInt(100_000, 1_000_000));
      await setPendingMobile(w, actor.id, mobile, this.p.vault.seal(code));
      await trailOfPerson(
        w,
        this.p,
        actor,
        mobile === '' ? 'own mobile taken away' : 'code sent to own mobile',
        { mobile: before.mobile },
        { pending: mobile === '' ? '' : formatPhone(mobile) },
      );
    });
  }

  /** The code is given back: the mobile is theirs. After five wrong ones a new code is needed. */
  async confirm(actor: Person, code: string): Promise<void> {
    const right = await this.p.db.write(async (w) => {
      const row = await userById(w, actor.id);
      if (!row || row.mobilePending === '' || row.mobileTries >= CODE_TRIES) return 'none' as const;
      if (code.replace(/\D/g, '') !== this.p.vault.unseal(row.mobileCode)) {
        await countMobileTry(w, actor.id);
        return 'wrong' as const;
      }
      await confirmPendingMobile(w, actor.id);
      await trailOfPerson(w, this.p, actor, 'own mobile confirmed', undefined, { mobile: row.mobilePending });
      return 'right' as const;
    });
    if (right === 'wrong')
      throw refused('This is not the code of the last text.', [
        { field: 'code', message: 'Not the code of the last text.' },
      ]);
    if (right === 'none')
      throw refused('There is no code to give back; save the mobile again and a new one comes.', [
        { field: 'code', message: 'Ask for a new code.' },
      ]);
  }
}
