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

/** What asking costs, and how it begins; `again` takes those in whose answer is still good. */
export interface Asking {
  estimate: (again: boolean) => Promise<Estimate>;
  start: (again: boolean) => Promise<unknown>;
}
/** The words of one kind of question about numbers. */
export interface Words {
  title: (numbers: string, again: boolean) => string;
  fresh: string;
  answered: string;
  yes: string;
  nobody: string;
  begun: string;
}
const LOOKUP: Words = {
  title: (numbers, again) => (again ? `Look up ${numbers} again?` : `Look up ${numbers}?`),
  fresh: 'Every answer is still good.',
  answered: 'Answered lookups are not refunded.',
  yes: 'Look up',
  nobody: 'There is no number to ask about.',
  begun: 'The lookup has begun.',
};
export const REASSIGNED: Words = {
  title: (numbers) => `Ask whether ${numbers} changed hands?`,
  fresh: 'They agreed or were asked about lately.',
  answered:
    'Asked by the day of the last consent. A yes voids the consent; where nothing is known, offers are held until a later query says no. Answers are not refunded.',
  yes: 'Ask',
  nobody: 'Nothing these have agreed to is in force, so that there is nothing to ask about.',
  begun: 'The questions have begun.',
};

function question(e: Estimate, again: boolean, words: Words): Question {
  const numbers = e.numbers === 1 ? 'this number' : `${e.numbers.toLocaleString('en-US')} numbers`;
  const short =
    e.cost > e.balance
      ? ` The balance of ${formatAmount(e.balance)} will not reach; the job pauses where it ends.`
      : '';
  return {
    title: words.title(numbers, again),
    line: `${again ? `${words.fresh} ` : ''}${formatAmount(e.cost)} in all, charged as answers come; nothing monthly. About ${durationOf(e.seconds)} at the permitted pace. ${words.answered}${short}`,
    yes: `${words.yes} for ${formatAmount(e.cost)}`,
  };
}

/** Asks what a question about some numbers costs, whether it is wanted, and begins it. */
@Injectable({ providedIn: 'root' })
export class LookUp {
  private readonly confirm = inject(Confirm);

  /**
   * @param of what it costs and how it begins; those whose answer is still good are offered where there are no others.
   * @returns whether it has begun.
   */
  async ask(acting: Acting, of: Asking, words = LOOKUP): Promise<boolean> {
    if (acting.busy()) return false;
    let again = false;
    const e = await acting.run(async () => {
      const due = await of.estimate(false);
      again = due.numbers === 0;
      return again ? of.estimate(true) : due;
    });
    if (!e) return false;
    if (e.numbers === 0) {
      acting.refused(words.nobody);
      return false;
    }
    return (await this.confirm.ask(question(e, again, words))) && acting.did(() => of.start(again), words.begun);
  }
}
