import type { CampaignBodyValue } from '@long-gate/contracts';
import { DEFAULT_PRICES, nextMonthly, registeredUntil, useCase } from '@long-gate/core';
import {
  brandTable,
  brandVettingTable,
  campaignTable,
  campaignTryTable,
  filingTryTable,
} from '../areas/registration/model.js';
import { record, SYSTEM, type Actor } from '../platform/audit.js';
import { idFrom } from '../platform/ids.js';
import { monthlyDays, ZONE } from './months.js';
import { PEOPLE, type DemoBusiness } from './scenario.data.js';
import type { Seeding } from './seed.js';

/** What the first try of the offers was declined for. */
const VAGUE_AGREEMENT = 'People agree that they would like to hear about our offers and about other things.';
const NO_PLACE = { field: 'agreement', code: 'agreement-no-place', message: 'It names no place where people agree.' };

const DAY = 86_400_000;
const ADMIN: Actor = { id: 'demo', name: PEOPLE[0].name };

/** A business whose registration is made: its id, so many days ago as a clock, and its book of money. */
interface OfBusiness {
  id: string;
  at: (daysAgo: number) => { now: () => number };
  money: (daysAgo: number, amount: number, what: string, kind: string, object: string) => Promise<void>;
}

/** The brand, its vetting, and the campaigns of a business, as months of work left them. @returns campaigns by key. */
export async function seedRegistration(
  s: Seeding,
  b: DemoBusiness,
  { id, at, money }: OfBusiness,
): Promise<Map<string, string>> {
  const { w, start } = s;
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
  return campaigns;
}
