import type { Matter } from '@long-gate/contracts';
import { DOLLAR, formatCents } from '@long-gate/core';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses } from './businesses.js';
import type { MoneyBook } from './money-book.js';
import type { SetAsideDesk } from './set-aside-desk.js';

const LOW_BALANCE = 20 * DOLLAR;
/** A balance that lasts no longer than this at the current pace is said. */
const LOW_DAYS = 14;
const matter = mattersOf('settings');

export function tellSettings(p: Platform, businesses: Businesses, money: MoneyBook, aside: SetAsideDesk): void {
  p.matters.tell((id) => ofAccount(p, businesses, money, id));
  p.matters.tell(() => ofConnections(aside));
}

async function ofAccount(p: Platform, businesses: Businesses, money: MoneyBook, id: string): Promise<Matter[]> {
  const b = await businesses.row(p.db, id);
  const out: Matter[] = [];
  if (b.account_state === 'provisional')
    out.push(
      matter(
        'stop',
        'Open the account',
        'A provisional account may search and draft, but not buy, register or send.',
        'settings/business',
      ),
    );
  if (b.account_state === 'in review')
    out.push(
      matter(
        'hold',
        'The provider looks at the account',
        b.account_note || 'Numbers can be bought and brands registered as soon as it is open.',
        'settings/business',
      ),
    );
  if (b.account_state === 'restricted' || b.account_state === 'suspended')
    out.push(matter('stop', `The account is ${b.account_state}`, 'Talk to the provider.', 'settings/business'));
  if (Boolean(b.texts_off))
    out.push(
      matter(
        'hold',
        'All texts are switched off',
        'Whatever would be sent is held until they are switched on again.',
        'settings/business',
      ),
    );
  const { daysLeft, perDay } = await money.outlook(id);
  if (b.balance >= LOW_BALANCE && daysLeft !== null && daysLeft < LOW_DAYS)
    out.push(
      matter(
        'hold',
        `The balance lasts ${daysLeft} more ${daysLeft === 1 ? 'day' : 'days'}`,
        `${formatCents(b.balance)}, at the pace of use and with the monthly fees to come on their days (${formatCents(perDay)} a day). Top up, or let it top up by itself.`,
        'settings/money',
      ),
    );
  if (b.balance < LOW_BALANCE)
    out.push(
      matter(
        b.balance === 0 ? 'stop' : 'hold',
        `The balance is ${formatCents(b.balance)}`,
        'Numbers, registrations, lookups and texts are paid from it.',
        'settings/money',
      ),
    );
  return out;
}

/** What could not be worked off; it may have been anybody's, so it is said in every business. */
async function ofConnections(aside: SetAsideDesk): Promise<Matter[]> {
  const n = await aside.count();
  return n === 0
    ? []
    : [
        matter(
          'stop',
          `${n} ${n === 1 ? 'matter' : 'matters'} from outside could not be understood`,
          'Set aside so that nothing else waits; look at the cause and take them up again.',
          'settings/connections',
          { count: n },
        ),
      ];
}
