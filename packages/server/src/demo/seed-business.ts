import type { CampaignBodyValue } from '@long-gate/contracts';
import {
  DEFAULT_PRICES,
  DOLLAR,
  formatAmount,
  formatPhone,
  nextMonthly,
  registeredUntil,
  useCase,
} from '@long-gate/core';
import { optinPageTable } from '../areas/consent/model.js';
import { numberTable } from '../areas/numbers/model.js';
import {
  brandTable,
  brandVettingTable,
  campaignTable,
  campaignTryTable,
  filingTryTable,
} from '../areas/registration/model.js';
import { businessTable, moneyEntryTable } from '../areas/settings/model.js';
import { record, SYSTEM, type Actor } from '../platform/audit.js';
import { idFrom } from '../platform/ids.js';
import { PEOPLE, type DemoBusiness } from './scenario.data.js';
import type { Seeding } from './seed.js';

/** What the first try of the offers was declined for. */
const VAGUE_AGREEMENT = 'People agree that they would like to hear about our offers and about other things.';
const NO_PLACE = { field: 'agreement', code: 'agreement-no-place', message: 'It names no place where people agree.' };

export interface MadeBusiness {
  id: string;
  numbers: Map<string, string>;
  campaigns: Map<string, string>;
}

const DAY = 86_400_000;
const ADMIN: Actor = { id: 'demo', name: PEOPLE[0].name };

/** One business with its account, money, numbers, brand and campaigns, as months of work left them. */
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
    await w.of(moneyEntryTable).create({
      id: idFrom('mon', id, String(n++)),
      businessId: id,
      at: at(daysAgo).now(),
      amount,
      what,
      objectKind: kind,
      objectId: object,
      balanceAfter: balance,
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
      after: { amount: amount * DOLLAR },
    });
  }

  const brandId = idFrom('brd', id);
  const brand = {
    form: b.form,
    legalName: b.legalName,
    street: b.street,
    city: b.city,
    state: 'NJ',
    postalCode: b.postalCode,
    website: `https://${b.domain}`,
    email: `office@${b.domain}`,
    mobile: b.form === 'sole proprietor' ? '+17325550134' : '',
    exchange: '',
    ticker: '',
    tradingName: '',
    relation: 'client' as const,
    country: 'US',
    regions: ['NJ'],
    industry: b.industry,
    moreAddresses: [],
    representatives: [
      { name: b.contactName, title: b.contactTitle, phone: b.contactPhone, email: `office@${b.domain}` },
    ],
    statusEmail: 'filings@quillmere.example',
  };
  await w.of(brandTable).create({
    id: brandId,
    businessId: id,
    body: brand,
    taxNumber: s.app.platform.vault.seal(b.taxNumber),
    state: 'registered',
    score: b.score,
    attempt: 1,
    submittedAt: at(238).now(),
    decidedAt: at(236.4).now(),
    lastSubmitted: brand,
    results: [
      ...(['legalName', 'taxNumber'] as const)
        .filter((field) => field === 'legalName' || b.form !== 'sole proprietor')
        .map((field) => ({ field, result: 'matches' as const, note: 'As in the tax record.' })),
      { field: 'street', result: 'matches', note: 'As in the post’s addresses.' },
      { field: 'website', result: 'matches', note: 'As in the site itself.' },
      { field: 'email', result: 'matches', note: 'As in the website’s domain.' },
    ],
  });
  await w.of(filingTryTable).create({
    filingId: brandId,
    attempt: 1,
    body: brand,
    submittedAt: at(238).now(),
    state: 'registered',
    decidedAt: at(236.4).now(),
  });
  await money(238, -DEFAULT_PRICES.brand, 'brand registration', 'brand', brandId);
  await record(w, at(238), {
    businessId: id,
    actor: ADMIN,
    action: 'brand submitted',
    objectKind: 'brand',
    objectId: brandId,
    before: { state: 'draft' },
    after: { state: 'in review' },
  });
  await record(w, at(236.4), {
    businessId: id,
    actor: SYSTEM,
    action: 'brand registered by the registrar',
    objectKind: 'brand',
    objectId: brandId,
    before: { state: 'in review' },
    after: { state: 'registered' },
  });
  if (b.score !== null) {
    await w.of(brandVettingTable).create({
      id: idFrom('vet', brandId),
      brandId,
      orderedAt: at(236.2).now(),
      decidedAt: at(235.1).now(),
      score: b.score,
    });
    s.past.scores.push({ brand: b.legalName, score: b.score });
    await money(236.2, -DEFAULT_PRICES.vetting, 'vetting', 'brand', brandId);
    const about = { businessId: id, objectKind: 'brand', objectId: brandId };
    await record(w, at(236.2), { ...about, actor: ADMIN, action: 'vetting ordered' });
    await record(w, at(235.1), {
      ...about,
      actor: SYSTEM,
      action: `vetted with a score of ${b.score}`,
      before: { score: null },
      after: { score: b.score },
    });
  }

  const campaigns = new Map<string, string>();
  for (const [i, c] of b.campaigns.entries()) {
    const campaignId = idFrom('cmp', id, c.key);
    campaigns.set(c.key, campaignId);
    const days = c.state === 'in review' ? 1.2 : c.state === 'declined' ? 9 : 235 - i * 3;
    const reasons =
      c.state === 'declined'
        ? [
            {
              field: 'agreement',
              code: 'agreement-condition',
              message: 'Agreement is made a condition. Reviewers decline this; so does the law.',
            },
            {
              field: 'samples.1',
              code: 'sample-shared-shortener',
              message: 'Networks filter links on hosts that many senders share.',
            },
            {
              field: 'description',
              code: 'description-no-name',
              message: 'The description does not say who sends: name the business.',
            },
          ]
        : [];
    const body = c.body as CampaignBodyValue;
    await w.of(campaignTable).create({
      id: campaignId,
      businessId: id,
      name: c.name,
      body,
      state: c.state,
      attempt: c.attempts,
      submittedAt: at(days).now(),
      decidedAt: c.state === 'in review' ? null : at(days - 3).now(),
      renewsAt: c.state === 'registered' ? registeredUntil(at(days - 3).now()) : null,
      stages:
        c.state === 'in review'
          ? [
              { stage: 'received', at: at(days).now() },
              { stage: 'checked by machine', at: at(days - 0.01).now() },
            ]
          : [],
      reasons,
      lastSubmitted: body,
      createdAt: at(days + 1 + (b.campaigns.length - i) / 10).now(),
    });
    const story = (daysAgo: number, actor: Actor, action: string, before: unknown, after: unknown): Promise<void> =>
      record(w, at(daysAgo), {
        businessId: id,
        actor,
        action,
        objectKind: 'campaign',
        objectId: campaignId,
        before,
        after,
      });
    await story(days + 1, ADMIN, 'campaign begun', undefined, { name: c.name, useCase: body.useCase });
    const tries = w.of(campaignTryTable);
    if (c.attempts > 1) {
      await tries.create({
        campaignId,
        attempt: 1,
        body: { ...body, agreement: VAGUE_AGREEMENT },
        submittedAt: at(days + 0.9).now(),
        state: 'declined',
        decidedAt: at(days + 0.4).now(),
        reasons: [NO_PLACE],
      });
      await story(days + 0.9, ADMIN, 'campaign submitted', { state: 'draft' }, { state: 'in review' });
      await story(
        days + 0.4,
        SYSTEM,
        'campaign declined by the registrar',
        { state: 'in review' },
        {
          state: 'declined',
          reasons: [NO_PLACE],
        },
      );
      await money(days + 0.9, -DEFAULT_PRICES.campaignReview, `review of campaign ${c.name}`, 'campaign', campaignId);
      await story(days + 0.2, ADMIN, 'campaign edited', { agreement: VAGUE_AGREEMENT }, { agreement: body.agreement });
    }
    await tries.create({
      campaignId,
      attempt: c.attempts,
      body,
      submittedAt: at(days).now(),
      state: c.state === 'draft' ? 'in review' : c.state,
      decidedAt: c.state === 'in review' ? null : at(days - 3).now(),
      reasons,
    });
    await story(
      days,
      ADMIN,
      c.attempts > 1 ? 'campaign resubmitted' : 'campaign submitted',
      { state: 'draft' },
      { state: 'in review' },
    );
    await money(days, -DEFAULT_PRICES.campaignReview, `review of campaign ${c.name}`, 'campaign', campaignId);
    if (c.state !== 'in review')
      await story(
        days - 3,
        SYSTEM,
        `campaign ${c.state} by the registrar`,
        { state: 'in review' },
        { state: c.state, reasons },
      );
    // A real submission: the registrar of the simulated outside will answer it.
    else
      await s.app.platform.outbox.put(w, 'registrar.campaign', `${campaignId}:${c.attempts}`, {
        filing: { ...body, nameLine: b.nameLine, legalName: b.legalName, brandKey: `${brandId}:1` },
      });
    if (c.state === 'registered') {
      const decidedAt = at(days - 3).now();
      for (const due of monthlyDays(decidedAt, start))
        await money(
          (start - due) / DAY,
          -(useCase(body.useCase)?.monthly ?? 0),
          `campaign ${c.name}: monthly fee`,
          'campaign',
          campaignId,
        );
      const due = nextMonthly(decidedAt, start, ZONE);
      await w.of(campaignTable).update({ nextFeeAt: due }, { where: { id: campaignId } });
      await s.app.fees.begin(w, { kind: 'campaign', businessId: id, id: campaignId, at: due });
    }
  }

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
    purposes: [
      { purpose: 'informational', ...b.page.informational },
      { purpose: 'promotional', ...b.page.promotional },
    ],
    numberId: numbers.get(b.page.number) ?? '',
    privacyUrl: `https://${b.domain}/privacy`,
    termsUrl: `https://${b.domain}/terms`,
    createdAt: at(232).now(),
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

/** The zone in which the demo's businesses count days. */
export const ZONE = 'America/New_York';

/** The monthly days of something begun at a moment, until another. */
export function monthlyDays(from: number, until: number): number[] {
  const days: number[] = [];
  for (let due = nextMonthly(from, from, ZONE); due < until; due = nextMonthly(from, due, ZONE)) days.push(due);
  return days;
}
