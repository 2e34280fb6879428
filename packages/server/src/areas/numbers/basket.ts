import type { Basket, NumberView, OfferView } from '@long-gate/contracts';
import { areaCodesAt, formatAmount, formatPhone, neighboursOf, readDigitPattern } from '@long-gate/core';
import { GatewayRefused } from '@long-gate/gateways';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Person } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, refused } from '../../platform/problem.js';
import type { Registration } from '../registration/index.js';
import type { Businesses, OwnMobile } from '../settings/index.js';
import { dropStale, emptyBasket, isOrdered, itemOf, itemsOf, putItem } from './basket-store.js';
import type { BasketItemModel } from './model.js';
import type { Numbers } from './numbers.js';
import type { Orders } from './orders.js';

export interface NumberSearch {
  country: 'US' | 'CA';
  kind: OfferView['kind'];
  where: string;
  digits: string;
  can: string;
  count: number;
}

/** Chosen numbers are kept aside so long. */
const HOLD_MS = 10 * 60_000;

/** Looking for numbers, keeping them aside, and what an order of them would cost and still need. */
export class BasketDesk {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly ownMobile: OwnMobile,
    private readonly numbers: Numbers,
    private readonly orders: Orders,
    private readonly registration: Registration,
  ) {}

  async search(q: NumberSearch): Promise<{
    place: string;
    problem: string;
    offers: OfferView[];
    neighbours: { code: string; state: string; km: number; count: number }[];
  }> {
    const nothing = { place: '', offers: [], neighbours: [] };
    const pattern = readDigitPattern(q.digits);
    if (!pattern.ok) return { ...nothing, problem: pattern.why };
    const place = q.kind === 'local' && q.where !== '' ? areaCodesAt(q.where, q.country) : { codes: [], label: '' };
    if (!place)
      return {
        ...nothing,
        problem: `“${q.where}” is no area code or state ${q.country === 'US' ? 'of the United States' : 'or province of Canada'}.`,
      };
    const offers = await this.p.gateways.exchange.search(
      {
        country: q.country,
        kind: q.kind,
        areaCodes: place.codes,
        pattern: pattern.pattern,
        capabilities: q.can.split(',').filter((c) => c !== ''),
      },
      q.count,
    );
    const near = offers.length === 0 && place.codes[0] ? neighboursOf(place.codes[0], 16) : [];
    const stock = near.length > 0 ? await this.p.gateways.exchange.stock(near.map((n) => n.code)) : {};
    return {
      place: place.label,
      problem: '',
      offers,
      neighbours: near
        .map((n) => ({ ...n, count: stock[n.code] ?? 0 }))
        .filter((n) => n.count > 0 && !place.codes.includes(n.code))
        .slice(0, 6),
    };
  }

  private items(r: Reader, businessId: string): Promise<BasketItemModel[]> {
    return itemsOf(r, businessId, this.p.clock.now());
  }

  async basket(person: Person, businessId: string): Promise<Basket> {
    const items = await this.items(this.p.db, businessId);
    const b = await this.businesses.row(this.p.db, businessId);
    const costNow = items.reduce((sum, i) => sum + i.setup + i.monthly, 0);
    return {
      items: items.map((i) => ({
        e164: i.e164,
        kind: i.kind,
        setup: i.setup,
        monthly: i.monthly,
        capabilities: i.capabilities,
        heldUntil: i.heldUntil,
      })),
      costNow,
      costMonthly: items.reduce((sum, i) => sum + i.monthly, 0),
      balance: b.balance,
      missing: Math.max(0, costNow - b.balance),
      steps: await this.steps(businessId, items),
      accountState: b.account_state,
      mobileConfirmed: (await this.ownMobile.of(this.p.db, person.id)).mobile !== '',
    };
  }

  /** What still has to happen before these numbers may send. source: rules.md: account, identity, brand, campaign, number. */
  private async steps(businessId: string, items: readonly BasketItemModel[]): Promise<Basket['steps']> {
    const b = await this.businesses.row(this.p.db, businessId);
    const { brand, campaigns } = await this.registration.standing(this.p.db, businessId);
    const registered = [...campaigns.values()].some((c) => c.state === 'registered');
    const kinds = new Set(items.map((i) => i.kind));
    return [
      { title: 'The account is open.', done: b.account_state === 'open', link: 'settings/business' },
      { title: 'The brand is registered.', done: brand?.state === 'registered', link: 'registration/brand' },
      { title: 'A campaign is registered.', done: registered, link: 'registration' },
      ...(kinds.has('local')
        ? [
            {
              title: 'Each number is tied to a campaign; the networks confirm in about a day.',
              done: false,
              link: 'numbers',
            },
          ]
        : []),
      ...(kinds.has('toll-free')
        ? [{ title: 'The toll-free number is verified for its use, in about a week.', done: false, link: 'numbers' }]
        : []),
      ...(kinds.has('short code')
        ? [{ title: 'The short code is approved, in two to three months.', done: false, link: 'numbers' }]
        : []),
    ];
  }

  /** Keeps a number aside for ten minutes; asking again starts them anew. */
  async put(actor: Person, businessId: string, e164: string, kind: OfferView['kind']): Promise<Basket> {
    const [offer] = (
      await this.p.gateways.exchange.search(
        {
          country: 'US',
          kind,
          areaCodes: kind === 'local' ? [e164.slice(2, 5)] : [],
          pattern: '',
          capabilities: [],
        },
        100,
      )
    )
      .concat(
        kind === 'local'
          ? await this.p.gateways.exchange.search(
              { country: 'CA', kind, areaCodes: [e164.slice(2, 5)], pattern: '', capabilities: [] },
              100,
            )
          : [],
      )
      .filter((o) => o.e164 === e164);
    const known = (await this.items(this.p.db, businessId)).find((i) => i.e164 === e164);
    const found = offer ?? known;
    if (!found) throw conflict(`${formatPhone(e164)} is no longer for sale; somebody else was faster. Search again.`);
    const until = this.p.clock.now() + HOLD_MS;
    await this.p.gateways.exchange.hold(`hold:${businessId}:${e164}`, e164, until).catch((error: unknown) => {
      if (error instanceof GatewayRefused)
        throw conflict(`${formatPhone(e164)} is no longer for sale; ${error.message} Search again.`);
      throw error;
    });
    await this.p.db.write(async (w) => {
      await this.forget(w, businessId);
      await putItem(w, {
        businessId,
        e164,
        kind: found.kind,
        setup: found.setup,
        monthly: found.monthly,
        capabilities: found.capabilities,
        heldUntil: Math.round(until),
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers' }));
    });
    return this.basket(actor, businessId);
  }

  /** What was kept aside too long is not kept any more; the exchange forgets it by itself. */
  private async forget(w: Writer, businessId: string): Promise<void> {
    await dropStale(w, businessId, this.p.clock.now());
  }

  async takeOut(actor: Person, businessId: string, e164: string): Promise<Basket> {
    await this.p.db.write(async (w) => {
      const item = await itemOf(w, businessId, e164);
      if (!item) return;
      await item.destroy();
      await this.orders.giveBack(w, `unhold:${businessId}:${e164}:${item.heldUntil}`, e164);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers' }));
    });
    return this.basket(actor, businessId);
  }

  /** Orders everything that is kept aside: all of it is paid, or nothing. Once for one key. */
  async order(actor: Person, businessId: string, key: string): Promise<{ orderId: string; numbers: NumberView[] }> {
    const orderId = idFrom('ord', businessId, key);
    await this.p.db.write(async (w) => {
      if (await isOrdered(w, businessId, orderId)) return;
      const b = await this.businesses.row(w, businessId);
      if (b.account_state !== 'open')
        throw refused(
          b.account_state === 'in review'
            ? 'The provider still looks at the account; numbers can be bought once it is open. What you chose stays aside meanwhile.'
            : `The account is ${b.account_state}; numbers can be bought once it is open.`,
          [{ field: 'account', message: 'Open the account in Settings.' }],
        );
      if ((await this.ownMobile.of(w, actor.id)).mobile === '')
        throw refused('Confirm your own mobile first: a code is sent to it.', [
          { field: 'mobile', message: 'Not confirmed yet.' },
        ]);
      const items = await this.items(w, businessId);
      if (items.length === 0)
        throw conflict('Nothing is kept aside any more; the ten minutes are over. Search again and choose anew.');
      const cost = items.reduce((sum, i) => sum + i.setup + i.monthly, 0);
      if (b.balance < cost && b.auto_below === 0)
        throw refused(
          `The order costs ${formatAmount(cost)}, the balance is ${formatAmount(b.balance)}: ${formatAmount(cost - b.balance)} is missing. Top up; what you chose stays aside.`,
          [{ field: 'balance', message: 'Top up first.' }],
        );
      for (const i of items)
        await this.orders.add(w, actor, businessId, orderId, {
          e164: i.e164,
          kind: i.kind,
          setup: i.setup,
          monthly: i.monthly,
          capabilities: i.capabilities,
        });
      await emptyBasket(w, businessId);
      await record(w, this.p.clock, {
        businessId,
        actor: actor satisfies Actor,
        action: `order of ${items.length} ${items.length === 1 ? 'number' : 'numbers'} placed, terms accepted`,
        objectKind: 'order',
        objectId: orderId,
        after: { numbers: items.map((i) => i.e164), cost: formatAmount(cost) },
      });
    });
    const all = await this.numbers.list(this.p.db, businessId);
    return { orderId, numbers: all.filter((n) => n.orderId === orderId) };
  }
}
