import type { Reader, Writer } from '../../platform/db.js';
import { erasedNumber, numberDigest, type Contacts } from '../contacts/index.js';
import { offersBetween, type Waiting } from './message-store.js';
import { VERDICT_GOOD_MS } from './round.js';

/** In any 24 hours by anybody's clock: a text is handed over as long as its verdict is good. */
const WINDOW_MS = 86_400_000 + VERDICT_GOOD_MS;
/** At most so many solicitations to a person in any 24 hours (rules.md, the gate). */
const CAP = 3;

type Recipient = Pick<Waiting, 'business_id' | 'e164'>;

/**
 * Offers that left to people in the last 24 hours, those in the air included: to whoever has a number now, by whichever
 * of their numbers, also where it was taken away and came again, or its owner was erased meanwhile.
 */
export class OfferCaps {
  /** By business and number; numbers of one person share what is there. */
  private readonly times = new Map<string, Map<string, number[]>>();

  /** @param beside the other numbers of whoever has each. */
  constructor(private readonly beside: Contacts['numbersBeside']) {}

  /**
   * Reads what left up to a moment to whom these texts are for, where that was not read before.
   * @param but the text that is asked about, where it may have left itself.
   */
  async read(r: Reader, recipients: readonly Recipient[], at: number, but = ''): Promise<void> {
    for (const business of new Set(recipients.map((m) => m.business_id))) {
      const known = this.times.get(business) ?? new Map<string, number[]>();
      this.times.set(business, known);
      const mine = recipients.filter((m) => m.business_id === business);
      const asked = [...new Set(mine.map((m) => m.e164))].filter((e164) => !known.has(e164));
      if (asked.length === 0) continue;
      const beside = await this.beside(r, business, asked);
      const fresh = new Map<string, number[]>();
      for (const e164 of asked) {
        const times = fresh.get(e164) ?? [];
        for (const number of [e164, ...(beside.get(e164) ?? [])]) fresh.set(number, times);
      }
      const under = new Map<string, number[]>();
      for (const [e164, times] of fresh) {
        known.set(e164, times);
        under.set(e164, times).set(erasedNumber(numberDigest(business, e164)), times);
      }
      const offers = await offersBetween(r, business, [...under.keys()], at - WINDOW_MS, at, but);
      for (const x of offers) under.get(x.e164)?.push(x.at);
    }
  }

  /** Until when no further offer goes to whoever has this number; null where one may. */
  until({ business_id, e164 }: Recipient): number | null {
    return until(this.times.get(business_id)?.get(e164) ?? []);
  }

  /** One more leaves now. */
  note({ business_id, e164 }: Recipient, at: number): void {
    this.times.get(business_id)?.get(e164)?.push(at);
  }

  /** Keeps, for previews and lists, until when each of the numbers that were read is solicited no more. */
  async keep(w: Writer, contacts: Contacts): Promise<void> {
    for (const [business, numbers] of this.times)
      await contacts.capSolicitations(
        w,
        business,
        [...numbers].map(([e164, times]) => [e164, until(times)] as const),
      );
  }
}

function until(times: readonly number[]): number | null {
  const last = [...times].sort((a, b) => b - a)[CAP - 1];
  return last === undefined ? null : last + WINDOW_MS;
}
