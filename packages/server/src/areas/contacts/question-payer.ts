import { formatAmount, type Micros } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { notFound, Problem } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { paidByOf, policiesPaidBy, policyRow } from './textability-store.js';

/** Questions about numbers that were answered, and what they cost. */
export interface Bill {
  /** What they are called in a statement, “lookups”. */
  what: string;
  price: Micros;
  /** How many were answered now. */
  answered: number;
  objectId: string;
  entryId: string;
}

/** Where another pays, its entry has a name of its own: whoever pays may change while a job runs. */
const paidEntry = (entryId: string, payer: string): string => `${entryId}-${payer}`;

/** Who pays for questions about the numbers of a business: itself, or another that has taken it on. */
export class QuestionPayer {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {}

  async of(r: Reader, businessId: string): Promise<string> {
    return (await paidByOf(r, businessId)) || businessId;
  }

  async balance(r: Reader, businessId: string): Promise<Micros> {
    return (await this.businesses.row(r, await this.of(r, businessId))).balance;
  }

  /** @throws Problem 422 where the payer's balance does not reach. Takes nothing. */
  async afford(w: Writer, businessId: string, amount: Micros): Promise<void> {
    const payer = await this.of(w, businessId);
    try {
      await this.businesses.afford(w, payer, amount);
    } catch (error) {
      if (!(error instanceof Problem) || payer === businessId) throw error;
      const { legal_name } = await this.businesses.row(w, payer);
      throw new Problem(error.status, error.code, `${legal_name} pays for this: ${error.message}`, error.fields);
    }
  }

  /**
   * Takes what was answered from whoever pays. Where that is another, it stands on both statements: with its amount on
   * the payer's, and with who paid it on that of the business it was for.
   */
  async pay(w: Writer, businessId: string, bill: Bill): Promise<void> {
    const payer = await this.of(w, businessId);
    const { what, price, answered, objectId, entryId } = bill;
    if (payer === businessId) {
      await this.businesses.charge(w, businessId, answered * price, what, 'lookups', objectId, entryId);
      return;
    }
    await this.afford(w, businessId, answered * price);
    const [of, by] = [await this.businesses.row(w, businessId), await this.businesses.row(w, payer)];
    const entry = paidEntry(entryId, payer);
    const words = `${what} for ${of.legal_name}`;
    const part = await this.businesses.charge(w, payer, answered * price, words, 'lookups', objectId, entry);
    const paid = -part.amount;
    const count = Math.round(paid / price).toLocaleString('en-US');
    await this.businesses.note(
      w,
      businessId,
      `${what}: ${count} for ${formatAmount(paid)}, paid by ${by.legal_name}`,
      'lookups',
      objectId,
      `${part.id}-note`,
    );
  }

  /** Whether what stands under an entry was paid, by whomever. */
  isPaid(r: Reader, entryId: string): Promise<boolean> {
    return this.businesses.bookedUnder(r, entryId);
  }

  /** The businesses that another pays for. */
  async clientsOf(r: Reader, payer: string): Promise<{ id: string; name: string }[]> {
    const ids = await policiesPaidBy(r, payer);
    return Promise.all(ids.map(async (id) => ({ id, name: (await this.businesses.row(r, id)).legal_name })));
  }

  /** A business pays no longer for another, which pays for itself from now on. */
  async end(actor: Actor, payer: string, client: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const row = await policyRow(w, client);
      if (row?.paidBy !== payer) throw notFound('business that is paid for');
      await row.update({ paidBy: '', version: row.version + 1 });
      for (const businessId of [payer, client])
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'lookups paid by themselves again',
          objectKind: 'business',
          objectId: client,
          before: { paidBy: payer },
          after: { paidBy: '' },
        });
      w.afterCommit(() => this.p.live.tell({ businessId: client, topic: 'contacts' }));
    });
  }
}
