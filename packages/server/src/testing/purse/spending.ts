import { randomUUID } from 'node:crypto';
import { GatewayDown, GatewayNotTaken } from '@long-gate/gateways';
import type { Purse } from './purse.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const topUp = async ({ o }: Purse, dollars: number, key: string = randomUUID()): Promise<void> =>
  o.app.businesses.topUp(o.admin, o.business, dollars * 1_000_000, key);
const told = async ({ o }: Purse, id: string, how: { filled: boolean }): Promise<void> => {
  const e164 = (await o.app.numbers.get(o.app.platform.db, o.business, id)).e164;
  const reason = 'Somebody else was quicker.';
  await o.hear(how.filled ? { kind: 'order.filled', key: id, e164 } : { kind: 'order.failed', key: id, e164, reason });
};
const payer = async ({ o, other }: Purse, id: string): Promise<void> => {
  const { textability, platform } = o.app;
  const { version, ...policy } = await textability.policy(platform.db, o.business);
  const both = { ...o.admin, roles: { ...o.admin.roles, [other]: 'administrator' } };
  await textability.save(both, o.business, version, { ...policy, paidBy: id });
};

/** All that moves money, and all that goes on meanwhile. */
export const SPENDING: Readonly<Record<string, (p: Purse) => Promise<unknown>>> = {
  'a dollar comes in': (p) => topUp(p, 1),
  'five dollars come in': (p) => topUp(p, 5),
  'sixty dollars come in, asked twice': async (p) => {
    const key = randomUUID();
    await topUp(p, 60, key);
    await topUp(p, 60, key);
  },
  'it is topped up by itself from now on': ({ o }) => o.app.money.setAuto(o.admin, o.business, 3_000_000, 4_000_000),
  'it is topped up by itself no more': ({ o }) => o.app.money.setAuto(o.admin, o.business, 0, 0),
  'all but a cent is spent': async (p) => {
    const { o } = p;
    const left = (await p.balance()) - 10_000;
    if (left > 0)
      await o.app.platform.db.write((w) =>
        o.app.businesses.charge(w, o.business, left, 'bread', 'business', o.business),
      );
  },
  'a number is ordered': (p) => p.o.buy([`+1551555${String(100 + p.next()).padStart(4, '0')}`], randomUUID()),
  'two numbers are ordered': (p) => {
    const of = (n: number): string => `+1551555${String(100 + n).padStart(4, '0')}`;
    return p.o.buy([of(p.next()), of(p.next())], randomUUID());
  },
  'an order is filled': async (p) => told(p, await p.first(['ordered']), { filled: true }),
  'an order is filled, which is told twice': async (p) => {
    const id = await p.first(['ordered']);
    await told(p, id, { filled: true });
    await told(p, id, { filled: true });
  },
  'an order fails, which is told twice': async (p) => {
    const id = await p.first(['ordered']);
    await told(p, id, { filled: false });
    await told(p, id, { filled: false });
  },
  'a number is released': async (p) => {
    const { o } = p;
    const id = await p.first(['active', 'paused']);
    const { e164 } = await o.app.numbers.get(o.app.platform.db, o.business, id);
    await o.app.releases.release(o.admin, o.business, id, e164.slice(-4));
  },
  'a release is taken back': async (p) => {
    await p.o.app.releases.takeBack(p.o.admin, p.o.business, await p.first(['released']));
  },
  'a notice goes out': (p) => p.send('informational'),
  'an offer goes out': (p) => p.send('promotional'),
  'somebody is answered': (p) => p.answer(),
  'somebody opts in': (p) => p.optIn(),
  'the last text is refused by its owner': (p) => p.refuseLast(),
  'the network answers once that it is down': ({ o }) =>
    Promise.resolve(void (o.outside.nextSend = new GatewayDown('no answer'))),
  'the network does not take one': ({ o }) =>
    Promise.resolve(void (o.outside.nextSend = new GatewayNotTaken('Not now.', 'unread'))),
  'answers are lost': ({ o }) => Promise.resolve(void (o.outside.lostLots = 1)),
  'lines are asked about': ({ o }) => o.app.lookups.start(o.admin, o.business, { again: true }, randomUUID()),
  'whose numbers they are is asked': ({ o }) =>
    o.app.reassigned.start(
      o.admin,
      o.business,
      { listId: null, filter: null, e164s: null, behind: null, again: true },
      randomUUID(),
    ),
  'another pays for questions from now on': (p) => payer(p, p.other),
  'it pays for questions itself': (p) => payer(p, ''),
  'a minute goes by': ({ o }) => o.later(60_000),
  'seven hours go by': ({ o }) => o.later(7 * HOUR),
  'a day goes by': ({ o }) => o.later(DAY),
  'nine days go by': ({ o }) => o.later(9 * DAY),
  'a month goes by': ({ o }) => o.later(31 * DAY),
  'three months go by while it stands still': async ({ o }) => {
    await o.app.platform.clock.moveTo(o.now + 92 * DAY);
  },
  'the application ends and begins anew': ({ o }) => o.again(),
};
