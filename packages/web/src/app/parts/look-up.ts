import { inject, Injectable } from '@angular/core';
import type { LookupEstimate } from '@long-gate/contracts';
import { formatAmount } from '@long-gate/core';
import type * as z from 'zod';
import { Acting } from './acting';
import { Confirm, type Question } from './confirm';

type Estimate = z.output<typeof LookupEstimate>;

/** How long something takes, in words. @param seconds how long. */
export function durationOf(seconds: number): string {
  return seconds < 90 ? `${seconds} seconds` : `${Math.round(seconds / 60)} minutes`;
}

function question(e: Estimate, again: boolean): Question {
  const numbers = e.numbers === 1 ? 'this number' : `${e.numbers.toLocaleString('en-US')} numbers`;
  const short =
    e.cost > e.balance
      ? ` The balance of ${formatAmount(e.balance)} will not reach; the job pauses where it ends.`
      : '';
  return {
    title: again ? `Look up ${numbers} again?` : `Look up ${numbers}?`,
    line: `${again ? 'Every answer is still good. ' : ''}${formatAmount(e.cost)} in all, charged as answers come; nothing monthly. About ${durationOf(e.seconds)} at the permitted pace. Answered lookups are not refunded.${short}`,
    yes: `Look up for ${formatAmount(e.cost)}`,
  };
}

/** Asks what a lookup of some numbers costs, whether it is wanted, and begins it. */
@Injectable({ providedIn: 'root' })
export class LookUp {
  private readonly confirm = inject(Confirm);

  /**
   * @param of what it costs and how it begins; `again` takes those in whose answer is still good, which is offered where
   *   there are no others.
   * @returns whether it has begun.
   */
  async ask(
    acting: Acting,
    of: { estimate: (again: boolean) => Promise<Estimate>; start: (again: boolean) => Promise<unknown> },
  ): Promise<boolean> {
    if (acting.busy()) return false;
    let again = false;
    const e = await acting.run(async () => {
      const due = await of.estimate(false);
      again = due.numbers === 0;
      return again ? of.estimate(true) : due;
    });
    if (!e) return false;
    if (e.numbers === 0) {
      acting.refused('There is no number to ask about.');
      return false;
    }
    return (await this.confirm.ask(question(e, again))) && acting.did(() => of.start(again), 'The lookup has begun.');
  }
}
