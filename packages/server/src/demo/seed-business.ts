import { DEFAULT_PRICES, DOLLAR, formatAmount, formatPhone, nextMonthly } from '@long-gate/core';
import { keepPage } from '../areas/consent/pages/page-version-store.js';
import { optinPageTable } from '../areas/consent/pages/model.js';
import { faceOf, pagesOf, pageSeen } from './demo-page.js';
import { numberTable } from '../areas/numbers/model.js';
import { businessTable, moneyEntryTable } from '../areas/settings/model.js';
import { record, SYSTEM, type Actor } from '../platform/audit.js';
import { idFrom } from '../platform/ids.js';
import { monthlyDays, ZONE } from './months.js';
import { PEOPLE, type DemoBusiness } from './scenario.data.js';
import { seedRegistration } from './seed-registration.js';
import type { Seeding } from './seed.js';

export interface MadeBusiness {
  id: string;
  numbers: Map<string, string>;
  campaigns: Map<string, string>;
}

const DAY = 86_400_000;
const ADMIN: Actor = { id: 'demo', name: PEOPLE[0].name };

/** One business with its account, money, numbers, brand and campaigns, as months of work left them. */
/** The form comes up above the timetable after a while, and leaves alone who has closed it. */
const ON_SITE = {
  place: 'above it' as const,
  devices: 'all' as const,
  paths: [],
  afterSeconds: 5,
  afterDown: 60,
  againDays: 30,
};

export async function seedBusiness(s: Seeding, b: DemoBusiness): Promise<MadeBusiness> {
  const { w, start } = s;
  const id = idFrom('biz', 'demo', b.key);
  const at = (daysAgo: number): { now: () => number } => ({ now: () => Math.round(start - daysAgo * DAY) });
  await w.of(businessTable).create({
    id,
    legalName: b.legalName,
    nameLine: b.nameLine,
    form: b.form,
    street: b.street,
    city: b.city,
    state: 'NJ',
    postalCode: b.postalCode,
    contactName: b.contactName,
    contactEmail: `office@${b.domain}`,
    website: `https://${b.domain}`,
    accountState: 'open',
    taxStatus: b.form === 'non-profit' ? 'exempt' : 'taxable',
    createdAt: at(240).now() + BUSINESS_ORDER.indexOf(b.key),
  });
  await record(w, at(240), {
    businessId: id,
    actor: ADMIN,
    action: 'business added',
    objectKind: 'business',
    objectId: id,
    after: { legalName: b.legalName },
  });
  await record(w, at(239.9), {
    businessId: id,
    actor: SYSTEM,
    action: 'account open',
    objectKind: 'business',
    objectId: id,
    before: { accountState: 'in review' },
    after: { accountState: 'open' },
  });
  let balance = 0;
  let n = 0;
  const money = async (daysAgo: number, amount: number, what: string, kind: string, object: string): Promise<void> => {
    balance += amount;
    const entry = idFrom('mon', id, String(n++));
    await w.of(moneyEntryTable).create({
      id: entry,
      partOf: entry,
      businessId: id,
      at: at(daysAgo).now(),
      amount,
      what,
      objectKind: kind,
      objectId: object,
    });
  };
  for (const [i, amount] of b.topUps.entries()) {
    await money(239 - i * 80, amount * DOLLAR, 'top-up', 'business', id);
    await record(w, at(239 - i * 80), {
      businessId: id,
      actor: ADMIN,
      action: `topped up ${formatAmount(amount * DOLLAR)}`,
      objectKind: 'business',
      objectId: id,
      after: { amount: formatAmount(amount * DOLLAR) },
    });
  }

  const campaigns = await seedRegistration(s, b, { id, at, money });
  const numbers = new Map<string, string>();
  for (const num of b.numbers) {
    const numberId = idFrom('num', id, num.e164);
    numbers.set(num.e164, numberId);
    const campaignId = num.campaign ? (campaigns.get(num.campaign) ?? null) : null;
    const activeAt = at(num.daysAgo).now() + 25_000;
    const nextFeeAt = nextMonthly(activeAt, start, ZONE);
    await w.of(numberTable).create({
      id: numberId,
      businessId: id,
      e164: num.e164,
      label: num.label,
      description: num.description,
      capabilities: ['send', 'receive', 'pictures', 'voice'],
      state: 'active',
      setup: DEFAULT_PRICES.localSetup,
      monthly: DEFAULT_PRICES.localMonthly,
      campaignId,
      tieState: campaignId ? 'attached' : 'none',
      orderedAt: at(num.daysAgo).now(),
      activeAt,
      nextFeeAt,
    });
    await s.app.fees.begin(w, { kind: 'number', businessId: id, id: numberId, at: nextFeeAt });
    await record(w, at(num.daysAgo), {
      businessId: id,
      actor: ADMIN,
      action: 'number ordered',
      objectKind: 'number',
      objectId: numberId,
      after: { e164: num.e164, label: num.label },
    });
    await record(w, at(num.daysAgo - 0.001), {
      businessId: id,
      actor: SYSTEM,
      action: 'number active',
      objectKind: 'number',
      objectId: numberId,
      before: { state: 'ordered' },
      after: { state: 'active' },
    });
    if (campaignId)
      await record(w, at(num.daysAgo - 8), {
        businessId: id,
        actor: SYSTEM,
        action: 'cleared to send',
        objectKind: 'number',
        objectId: numberId,
        before: { tieState: 'attaching' },
        after: { tieState: 'attached' },
      });
    await money(
      num.daysAgo,
      -(DEFAULT_PRICES.localSetup + DEFAULT_PRICES.localMonthly),
      `number ${formatPhone(num.e164)}: set-up and first month`,
      'number',
      numberId,
    );
    for (const due of monthlyDays(activeAt, start))
      await money(
        (start - due) / DAY,
        -DEFAULT_PRICES.localMonthly,
        `number ${formatPhone(num.e164)}: monthly fee`,
        'number',
        numberId,
      );
    s.past.sold.push({ e164: num.e164, key: numberId });
    if (campaignId) s.past.assigned.push({ e164: num.e164, campaignKey: `${campaignId}:1` });
  }
  await w.of(businessTable).update({ balance }, { where: { id } });

  const pageId = idFrom('pag', id);
  await w.of(optinPageTable).create({
    id: pageId,
    businessId: id,
    slug: b.page.slug,
    title: b.page.title,
    intro: b.page.intro,
    ...faceOf(b),
    // The simulated outside plays the ferries’ own site.
    ...(b.key === 'saltmarsh'
      ? { onSite: { ...ON_SITE, sites: [new URL(s.app.platform.config.outsideUrl).origin] } }
      : {}),
    purposes: [
      { purpose: 'informational', ...b.page.informational },
      { purpose: 'promotional', ...b.page.promotional },
    ],
    numberId: numbers.get(b.page.number) ?? '',
    ...pagesOf(b),
    createdAt: at(232).now(),
  });
  await keepPage(w, {
    businessId: id,
    pageId,
    pageVersion: 1,
    title: b.page.title,
    ...pageSeen(b),
    firstAt: at(232).now(),
  });
  await record(w, at(232), {
    businessId: id,
    actor: ADMIN,
    action: 'opt-in page made',
    objectKind: 'page',
    objectId: pageId,
    after: { slug: b.page.slug },
  });
  return { id, numbers, campaigns };
}

const BUSINESS_ORDER = ['saltmarsh', 'northbank', 'orrin'];
