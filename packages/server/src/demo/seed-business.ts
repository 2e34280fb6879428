import type { CampaignBodyValue } from '@long-gate/contracts';
import { DEFAULT_PRICES, DOLLAR, formatAmount, formatPhone, useCase } from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../platform/audit.js';
import { idFrom } from '../platform/ids.js';
import { PEOPLE, type DemoBusiness } from './scenario.data.js';
import type { Seeding } from './seed.js';

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
  await w.run(
    `INSERT INTO business (id, legal_name, name_line, form, street, city, state, postal_code, contact_name, contact_email, website, account_state, tax_status, created_at) VALUES ($1,$2,$3,$4,$5,$6,'NJ',$7,$8,$9,$10,'open',CASE WHEN $4 = 'non-profit' THEN 'exempt' ELSE 'taxable' END,$11)`,
    [
      id,
      b.legalName,
      b.nameLine,
      b.form,
      b.street,
      b.city,
      b.postalCode,
      b.contactName,
      `office@${b.domain}`,
      `https://${b.domain}`,
      at(240).now() + BUSINESS_ORDER.indexOf(b.key),
    ],
  );
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
    await w.run(
      `INSERT INTO money_entry (id, business_id, at, amount, what, object_kind, object_id, balance_after) VALUES ($1,$2,$3,$4,$5,$6,$7,$8)`,
      [idFrom('mon', id, String(n++)), id, at(daysAgo).now(), amount, what, kind, object, balance],
    );
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
  };
  await w.run(
    `INSERT INTO brand (id, business_id, body, tax_number, state, score, attempt, submitted_at, decided_at, last_submitted) VALUES ($1,$2,$3,$4,'registered',$5,1,$6,$7,$3)`,
    [
      brandId,
      id,
      JSON.stringify(brand),
      s.app.platform.vault.seal(b.taxNumber),
      b.score,
      at(238).now(),
      at(236.4).now(),
    ],
  );
  await money(
    238,
    -(DEFAULT_PRICES.brand + (b.score === null ? 0 : DEFAULT_PRICES.vetting)),
    'brand registration',
    'brand',
    brandId,
  );
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
    after: { state: 'registered', score: b.score },
  });

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
              code: 'sender-not-named',
              message: 'The description does not say who sends: name the business.',
            },
          ]
        : [];
    const body = c.body as CampaignBodyValue;
    await w.run(
      `INSERT INTO campaign (id, business_id, name, body, state, attempt, submitted_at, decided_at, reasons, last_submitted, created_at) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$4,$10)`,
      [
        campaignId,
        id,
        c.name,
        JSON.stringify(body),
        c.state,
        c.attempts,
        at(days).now(),
        c.state === 'in review' ? null : at(days - 3).now(),
        JSON.stringify(reasons),
        at(days + 1 + (b.campaigns.length - i) / 10).now(),
      ],
    );
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
    if (c.attempts > 1) {
      await story(days + 0.9, ADMIN, 'campaign submitted', { state: 'draft' }, { state: 'in review' });
      await story(
        days + 0.4,
        SYSTEM,
        'campaign declined by the registrar',
        { state: 'in review' },
        {
          state: 'declined',
          reasons: [
            { field: 'agreement', code: 'agreement-no-place', message: 'It names no place where people agree.' },
          ],
        },
      );
      await money(days + 0.9, -DEFAULT_PRICES.campaignReview, `review of campaign ${c.name}`, 'campaign', campaignId);
      await story(
        days + 0.2,
        ADMIN,
        'campaign edited',
        { agreement: 'People agree that they would like to hear about our offers and about other things.' },
        { agreement: body.agreement },
      );
    }
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
      let month = 1;
      for (; days - 3 - month * 30 > 0; month++)
        await money(
          days - 3 - month * 30,
          -(useCase(body.useCase)?.monthly ?? 0),
          `campaign ${c.name}: monthly fee`,
          'campaign',
          campaignId,
        );
      const due = at(days - 3 - month * 30).now();
      await s.app.fees.begin(w, { kind: 'campaign', businessId: id, id: campaignId, at: due });
    }
  }

  const numbers = new Map<string, string>();
  for (const num of b.numbers) {
    const numberId = idFrom('num', id, num.e164);
    numbers.set(num.e164, numberId);
    const campaignId = num.campaign ? (campaigns.get(num.campaign) ?? null) : null;
    await w.run(
      `INSERT INTO number (id, business_id, e164, label, description, capabilities, state, setup, monthly, campaign_id, tie_state, ordered_at, active_at, next_fee_at) VALUES ($1,$2,$3,$4,$5,$6,'active',$7,$8,$9,$10,$11,$12,$13)`,
      [
        numberId,
        id,
        num.e164,
        num.label,
        num.description,
        '["send","receive","pictures","voice"]',
        DEFAULT_PRICES.localSetup,
        DEFAULT_PRICES.localMonthly,
        campaignId,
        campaignId ? 'attached' : 'none',
        at(num.daysAgo).now(),
        at(num.daysAgo).now() + 25_000,
        nextFee(start, num.daysAgo),
      ],
    );
    await s.app.fees.begin(w, { kind: 'number', businessId: id, id: numberId, at: nextFee(start, num.daysAgo) });
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
    for (let month = 1; month * 30 < num.daysAgo; month++)
      await money(
        num.daysAgo - month * 30,
        -DEFAULT_PRICES.localMonthly,
        `number ${formatPhone(num.e164)}: monthly fee`,
        'number',
        numberId,
      );
    s.past.sold.push({ e164: num.e164, key: numberId });
    if (campaignId) s.past.assigned.push({ e164: num.e164, campaignKey: `${campaignId}:1` });
  }
  await w.run('UPDATE business SET balance = $2 WHERE id = $1', [id, balance]);

  const pageId = idFrom('pag', id);
  await w.run(
    `INSERT INTO optin_page (id, business_id, slug, title, intro, purposes, number_id, privacy_url, terms_url, created_at) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9,$10)`,
    [
      pageId,
      id,
      b.page.slug,
      b.page.title,
      b.page.intro,
      JSON.stringify([
        { purpose: 'informational', ...b.page.informational },
        { purpose: 'promotional', ...b.page.promotional },
      ]),
      numbers.get(b.page.number),
      `https://${b.domain}/privacy`,
      `https://${b.domain}/terms`,
      at(232).now(),
    ],
  );
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

function nextFee(start: number, daysAgo: number): number {
  const months = Math.floor(daysAgo / 30) + 1;
  return Math.round(start - daysAgo * DAY + months * 30 * DAY);
}
