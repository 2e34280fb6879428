import type { Basket, NumberView, OfferView, Programme, searchNumbers } from '@long-gate/contracts';
import {
  allAreaCodes,
  areaCodeOf,
  areaCodesAt,
  formatAmount,
  formatPhone,
  neighboursOf,
  readDigitPattern,
  reviewShortCode,
  type Finding,
} from '@long-gate/core';
import { GatewayRefused, type NumberWish } from '@long-gate/gateways';
import type { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom } from '../../platform/ids.js';
import type { Person } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, notFound, refused } from '../../platform/problem.js';
import type { Registration } from '../registration/index.js';
import type { Businesses, OwnMobile, People } from '../settings/index.js';
import { dropStale, emptyBasket, isOrdered, itemOf, itemsOf, putItem } from './basket-store.js';
import type { CampaignRoom, Room } from './campaign-room.js';
import type { BasketItemModel } from './model.js';
import { ownedNumbers } from './number-store.js';
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
/** What was chosen stays in the basket so long, while account or money are waited for. */
const KEPT_MS = 14 * 86_400_000;
/** So many neighbouring area codes are asked for what is not to be had. */
const NEIGHBOURS_ASKED = 40;
const KM_A_MILE = 1.609344;

/** Whether a business is at home in Canada, by the province of its address. */
const isCanadian = (state: string): boolean => allAreaCodes().some((a) => a.region === 'CA' && a.state === state);

/** Numbers somebody prepares to bring here, of whatever business. */
export type NumbersOnTheirWay = (r: Reader) => Promise<string[]>;

type Found = z.output<typeof searchNumbers.answer>;

/** Looking for numbers, keeping them aside, and what an order of them would cost and still need. */
export class BasketDesk {
  private readonly onTheirWay: NumbersOnTheirWay[] = [];

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly ownMobile: OwnMobile,
    private readonly numbers: Numbers,
    private readonly orders: Orders,
    private readonly registration: Registration,
    private readonly people: People,
    private readonly room: CampaignRoom,
  ) {}

  /** Whoever prepares to bring numbers here says which: the exchange sells none of these meanwhile. */
  leaveOut(numbersOf: NumbersOnTheirWay): void {
    this.onTheirWay.push(numbersOf);
  }

  /** What is looked for at the exchange, less what is in use or in somebody's draft. */
  private async wish(wish: Omit<NumberWish, 'except'>): Promise<NumberWish> {
    const r = this.p.db;
    const drafts = await Promise.all(this.onTheirWay.map((of) => of(r)));
    return { ...wish, except: [...new Set([...(await ownedNumbers(r)), ...drafts.flat()])] };
  }

  async search(businessId: string, q: NumberSearch): Promise<Found> {
    const nothing = { place: '', offers: [], total: 0, neighbours: [], unit: 'miles' as const };
    const pattern = readDigitPattern(q.digits);
    if (!pattern.ok) return { ...nothing, problem: pattern.why };
    const place = q.kind === 'local' && q.where !== '' ? areaCodesAt(q.where, q.country) : { codes: [], label: '' };
    if (!place)
      return {
        ...nothing,
        problem: `“${q.where}” is no area code, town or state ${q.country === 'US' ? 'of the United States' : 'or province of Canada'} that we know.`,
      };
    const wish = await this.wish({
      country: q.country,
      kind: q.kind,
      areaCodes: place.codes,
      pattern: pattern.pattern,
      capabilities: q.can.split(',').filter((c) => c !== ''),
    });
    const { offers, total } = await this.p.gateways.exchange.search(wish, q.count);
    const near =
      total === 0 && place.codes[0]
        ? neighboursOf(place.codes[0], NEIGHBOURS_ASKED).filter((n) => !place.codes.includes(n.code))
        : [];
    const stock =
      near.length > 0 ? await this.p.gateways.exchange.stock({ ...wish, areaCodes: near.map((n) => n.code) }) : {};
    const { state } = await this.businesses.row(this.p.db, businessId);
    const unit = isCanadian(state) ? 'kilometres' : 'miles';
    return {
      place: place.label,
      problem: '',
      offers,
      total,
      unit,
      neighbours: near
        .map(({ km, ...n }) => ({
          ...n,
          distance: Math.round(unit === 'miles' ? km / KM_A_MILE : km),
          count: stock[n.code] ?? 0,
        }))
        .filter((n) => n.count > 0)
        .slice(0, 6),
    };
  }

  private items(r: Reader, businessId: string): Promise<BasketItemModel[]> {
    return itemsOf(r, businessId, this.p.clock.now() - KEPT_MS);
  }

  async basket(person: Person, businessId: string): Promise<Basket> {
    const items = await this.items(this.p.db, businessId);
    const b = await this.businesses.row(this.p.db, businessId);
    const room = await this.room.of(this.p.db, businessId);
    const costNow = items.reduce((sum, i) => sum + i.setup + i.monthly, 0);
    return {
      items: await Promise.all(
        items.map(async (i) => ({
          e164: i.e164,
          kind: i.kind,
          setup: i.setup,
          monthly: i.monthly,
          capabilities: i.capabilities,
          heldUntil: i.heldUntil,
          programme: i.programme,
          forwardTo: i.forwardTo,
          putBy: i.putBy === '' || i.putBy === person.id ? '' : await this.people.nameOf(this.p.db, i.putBy),
        })),
      ),
      costNow,
      costMonthly: items.reduce((sum, i) => sum + i.monthly, 0),
      balance: b.balance,
      missing: Math.max(0, costNow - b.balance),
      steps: await this.steps(businessId, items, room),
      takes: room.words,
      blocked: await this.whyNever(businessId, items, room),
      accountState: b.account_state,
      mobileConfirmed: (await this.ownMobile.of(this.p.db, person.id)).mobile !== '',
    };
  }

  /** What still has to happen before these numbers may send. source: rules.md: account, identity, brand, campaign, number. */
  private async steps(businessId: string, items: readonly BasketItemModel[], room: Room): Promise<Basket['steps']> {
    const b = await this.businesses.row(this.p.db, businessId);
    const { brand, campaigns } = await this.registration.standing(this.p.db, businessId);
    const registered = [...campaigns.values()].some((c) => c.state === 'registered');
    const kinds = new Set(items.map((i) => i.kind));
    const locals = items.filter((i) => i.kind === 'local').length;
    const more = room.left === null ? 0 : Math.max(0, locals - room.left);
    // A short code is in no campaign; its programme is looked at with the order. A toll-free number has its own dossier.
    const inCampaign = kinds.has('local') || items.length === 0;
    return [
      { title: 'The account is open.', done: b.account_state === 'open', link: 'settings/business' },
      ...(inCampaign || kinds.has('toll-free')
        ? [{ title: 'The brand is registered.', done: brand?.state === 'registered', link: 'registration/brand' }]
        : []),
      ...(inCampaign ? [{ title: 'A campaign is registered.', done: registered, link: 'registration' }] : []),
      ...(registered && more > 0
        ? [
            {
              title: `${more} of them need${more === 1 ? 's' : ''} another campaign. ${room.words}`,
              done: false,
              link: 'registration',
            },
          ]
        : []),
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
        ? [
            {
              title: 'The toll-free number is verified for its use, in three to five days.',
              done: false,
              link: 'registration',
            },
          ]
        : []),
      ...(kinds.has('short code')
        ? [
            {
              title: 'The networks take its programme and approve the short code, in two to three months.',
              done: false,
              link: 'numbers',
            },
          ]
        : []),
    ];
  }

  /** Why some of these numbers could never send; empty where all could. */
  private async whyNever(businessId: string, items: readonly BasketItemModel[], room: Room): Promise<string> {
    const locals = items.filter((i) => i.kind === 'local').length;
    if (room.final && room.left !== null && locals > room.left)
      return `${room.words} ${room.left === 0 ? 'Another local number' : `More than ${room.left}`} could never send: put ${locals - room.left === 1 ? 'one' : locals - room.left} back.`;
    const code = items.find((i) => i.kind === 'short code' && i.programme === null);
    if (code) return `Say what the short code ${code.e164} is for: the networks lease it for one programme.`;
    for (const i of items.filter((x) => x.programme !== null)) {
      const [worst] = await this.findings(businessId, i.programme);
      if (worst) return `The programme of ${i.e164}: ${worst.message} ${worst.fix}`;
    }
    return '';
  }

  /** What the networks would decline in a short code's programme. */
  async findings(businessId: string, programme: Programme | null): Promise<Finding[]> {
    if (!programme) return [];
    const b = await this.businesses.row(this.p.db, businessId);
    return reviewShortCode(programme, { legalName: b.legal_name, nameLine: b.name_line });
  }

  /** What a short code that is kept aside is leased for. @throws Problem 404 where it is not there. */
  async setProgramme(actor: Person, businessId: string, e164: string, programme: Programme): Promise<Basket> {
    await this.p.db.write(async (w) => {
      const item = await itemOf(w, businessId, e164);
      if (item?.kind !== 'short code') throw notFound('short code');
      await item.update({ programme });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers' }));
    });
    return this.basket(actor, businessId);
  }

  /** Keeps a number aside for ten minutes; asking again starts them anew. */
  async put(actor: Person, businessId: string, e164: string, kind: OfferView['kind'], forwardTo = ''): Promise<Basket> {
    const { offers } = await this.p.gateways.exchange.search(
      await this.wish({
        country: areaCodeOf(e164)?.region ?? 'US',
        kind,
        areaCodes: kind === 'local' ? [e164.slice(2, 5)] : [],
        pattern: e164.replace('+1', ''),
        capabilities: [],
      }),
      100,
    );
    const offer = offers.find((o) => o.e164 === e164);
    const known = (await this.items(this.p.db, businessId)).find((i) => i.e164 === e164);
    const found = offer ?? known;
    if (!found) throw conflict(`${formatPhone(e164)} is no longer for sale; somebody else was faster. Search again.`);
    const until = await this.hold(businessId, e164);
    if (typeof until === 'string') throw conflict(`${formatPhone(e164)} is no longer for sale; ${until} Search again.`);
    await this.p.db.write(async (w) => {
      await this.forget(w, businessId);
      await putItem(w, {
        businessId,
        e164,
        kind: found.kind,
        setup: found.setup,
        monthly: found.monthly,
        capabilities: found.capabilities,
        heldUntil: until,
        putBy: actor.id,
        programme: known?.programme ?? null,
        forwardTo: kind === 'short code' ? '' : forwardTo || (known?.forwardTo ?? ''),
      });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers' }));
    });
    return this.basket(actor, businessId);
  }

  /** Has the exchange keep a number aside. @returns until when; or why it does not, in its words. */
  private async hold(businessId: string, e164: string): Promise<number | string> {
    const until = Math.round(this.p.clock.now() + HOLD_MS);
    try {
      await this.p.gateways.exchange.hold(`hold:${businessId}:${e164}`, e164, until);
      return until;
    } catch (error) {
      if (error instanceof GatewayRefused) return error.message;
      throw error;
    }
  }

  /** What nobody came back for in a fortnight leaves the basket. */
  private async forget(w: Writer, businessId: string): Promise<void> {
    await dropStale(w, businessId, this.p.clock.now() - KEPT_MS);
  }

  /**
   * Numbers whose ten minutes are over are kept aside anew before they are ordered. What somebody else has bought
   * meanwhile leaves the basket, and is said. @throws Problem 409 naming it.
   */
  private async holdAnew(businessId: string): Promise<void> {
    const gone: string[] = [];
    for (const i of await this.items(this.p.db, businessId)) {
      if (i.heldUntil > this.p.clock.now()) continue;
      const until = await this.hold(businessId, i.e164);
      await this.p.db.write(async (w) => {
        const item = await itemOf(w, businessId, i.e164);
        if (typeof until === 'number') await item?.update({ heldUntil: until });
        else await item?.destroy();
      });
      if (typeof until === 'string') gone.push(formatPhone(i.e164));
    }
    if (gone.length === 0) return;
    this.p.live.tell({ businessId, topic: 'numbers' });
    throw conflict(
      `${gone.join(', ')} ${gone.length === 1 ? 'was' : 'were'} sold to somebody else meanwhile and left the basket. Look at what is there now, and order again.`,
    );
  }

  async takeOut(actor: Person, businessId: string, e164: string): Promise<Basket> {
    await this.p.db.write(async (w) => {
      const item = await itemOf(w, businessId, e164);
      if (!item) return;
      await item.destroy();
      // What is not kept aside any more may be somebody else's.
      if (item.heldUntil > this.p.clock.now())
        await this.orders.giveBack(w, `unhold:${businessId}:${e164}:${item.heldUntil}`, e164);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers' }));
    });
    return this.basket(actor, businessId);
  }

  /** Orders everything that is kept aside: all of it is paid, or nothing. Once for one key. */
  async order(actor: Person, businessId: string, key: string): Promise<{ orderId: string; numbers: NumberView[] }> {
    const orderId = idFrom('ord', businessId, key);
    if (!(await isOrdered(this.p.db, businessId, orderId))) await this.holdAnew(businessId);
    await this.p.db.write(async (w) => {
      if (await isOrdered(w, businessId, orderId)) return;
      const b = await this.businesses.row(w, businessId);
      if (b.account_state !== 'open')
        throw refused(
          b.account_state === 'in review'
            ? 'The provider still looks at the account; numbers can be bought once it is open. What you chose stays in the basket meanwhile.'
            : `The account is ${b.account_state}; numbers can be bought once it is open.`,
          [{ field: 'account', message: 'Open the account in Settings.' }],
        );
      if ((await this.ownMobile.of(w, actor.id)).mobile === '')
        throw refused('Confirm your own mobile first: a code is sent to it.', [
          { field: 'mobile', message: 'Not confirmed yet.' },
        ]);
      const items = await this.items(w, businessId);
      if (items.length === 0) throw conflict('The basket is empty. Search, and choose first.');
      const never = await this.whyNever(businessId, items, await this.room.of(w, businessId));
      if (never) throw refused(never);
      const cost = items.reduce((sum, i) => sum + i.setup + i.monthly, 0);
      if (b.balance < cost && b.auto_below === 0)
        throw refused(
          `The order costs ${formatAmount(cost)}, the balance is ${formatAmount(b.balance)}: ${formatAmount(cost - b.balance)} is missing. Top up; what you chose stays in the basket.`,
          [{ field: 'balance', message: 'Top up first.' }],
        );
      for (const i of items)
        await this.orders.add(w, actor, businessId, orderId, {
          e164: i.e164,
          kind: i.kind,
          setup: i.setup,
          monthly: i.monthly,
          capabilities: i.capabilities,
          programme: i.programme,
          forwardTo: i.forwardTo,
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
