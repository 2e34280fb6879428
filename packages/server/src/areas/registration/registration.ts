import type { BrandView, CampaignBodyValue, CampaignView, Dossier } from '@long-gate/contracts';
import {
  blocks,
  DEFAULT_PRICES,
  formatAmount,
  reviewBrand,
  reviewCampaign,
  throughputOf,
  useCase,
  type Finding,
  type RunningFee,
} from '@long-gate/core';
import type { OutsideEvent } from '@long-gate/gateways';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { JobOutcome } from '../../platform/jobs.js';
import { mask } from '../../platform/mask.js';
import type { Platform } from '../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../platform/problem.js';
import type { Businesses, BusinessRow } from '../settings/index.js';

type BrandBody = BrandView['body'];
interface BrandRow {
  id: string;
  business_id: string;
  body: string;
  tax_number: string;
  state: BrandView['state'];
  score: number | null;
  attempt: number;
  submitted_at: number | null;
  decided_at: number | null;
  reasons: string;
  version: number;
}
interface CampaignRow {
  id: string;
  business_id: string;
  name: string;
  body: string;
  state: CampaignView['state'];
  attempt: number;
  submitted_at: number | null;
  decided_at: number | null;
  reasons: string;
  last_submitted: string | null;
  version: number;
}
interface Filed<T> {
  filing: T;
}

const MONTH_MS = 30 * 86_400_000;

const EMPTY_BRAND: Omit<BrandBody, 'form' | 'legalName'> = {
  street: '',
  city: '',
  state: '',
  postalCode: '',
  website: '',
  email: '',
  mobile: '',
  exchange: '',
  ticker: '',
};
const EMPTY_CAMPAIGN: Omit<CampaignBodyValue, 'useCase'> = {
  description: '',
  agreement: '',
  samples: ['', ''],
  subUses: [],
  hasLinks: false,
  hasPhones: false,
  ageRestricted: false,
  lending: false,
  optInMessage: '',
  optOutMessage: '',
  helpMessage: '',
  privacyUrl: '',
  termsUrl: '',
};

/** The dossier: brand and campaigns, what would be declined, and what the registrar answered. */
export class Registration {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.outbox.carry<Filed<BrandBody & { nameLine: string }>>('registrar.brand', {
      deliver: async (key, { filing }) => {
        // The tax number is unsealed only on its way out; it is never stored in the outbox.
        const row = await p.db.one<BrandRow>('SELECT * FROM brand WHERE id = $1', [key.split(':')[0]]);
        await p.gateways.registrar.submitBrand(key, { ...filing, taxNumber: p.vault.unseal(row?.tax_number ?? '') });
      },
      refused: (w, key, _b, error) =>
        this.decide(w, 'brand', key, 'declined', null, [
          { field: 'legalName', code: error.code, message: error.message },
        ]),
    });
    p.outbox.carry<Filed<CampaignBodyValue & { nameLine: string; legalName: string; brandKey: string }>>(
      'registrar.campaign',
      {
        deliver: (key, { filing }) => p.gateways.registrar.submitCampaign(key, filing),
        refused: (w, key, _b, error) =>
          this.decide(w, 'campaign', key, 'declined', null, [
            { field: 'description', code: error.code, message: error.message },
          ]),
      },
    );
    p.jobs.handle<{ campaignId: string }>('campaign.fee', ({ campaignId }, { job }) =>
      this.monthlyFee(campaignId, job.run_at),
    );
    p.feed.on('brand.registered', (w, e) => this.decide(w, 'brand', e.key, 'registered', e.score, []));
    p.feed.on('brand.declined', (w, e) => this.decide(w, 'brand', e.key, 'declined', null, e.reasons));
    p.feed.on('campaign.registered', (w, e) => this.decide(w, 'campaign', e.key, 'registered', null, []));
    p.feed.on('campaign.declined', (w, e) => this.decide(w, 'campaign', e.key, 'declined', null, e.reasons));
  }

  /** Campaigns whose name holds these words, in small letters. */
  async find(
    r: Reader,
    businessId: string,
    words: string,
    limit: number,
  ): Promise<{ id: string; name: string; state: string }[]> {
    return r.all(
      `SELECT id, name, state FROM campaign WHERE business_id = $1 AND instr(lower(name), $2) > 0 LIMIT ${limit}`,
      [businessId, words],
    );
  }

  async dossier(businessId: string): Promise<Dossier> {
    await this.ensureBrand(businessId);
    const business = await this.businesses.row(this.p.db, businessId);
    const brand = await this.brandRow(this.p.db, businessId);
    const campaigns = await this.p.db.all<CampaignRow>(
      'SELECT * FROM campaign WHERE business_id = $1 ORDER BY created_at, id',
      [businessId],
    );
    const shown: CampaignView[] = [];
    for (const c of campaigns) shown.push(await this.showCampaign(this.p.db, c, business, brand));
    return {
      nameLine: business.name_line,
      accountState: business.account_state,
      brand: this.showBrand(brand),
      campaigns: shown,
    };
  }

  private async ensureBrand(businessId: string): Promise<void> {
    const known = await this.p.db.one<BrandRow>('SELECT * FROM brand WHERE business_id = $1', [businessId]);
    // As long as nobody has written in it, the draft follows what is known of the business.
    if (known && (known.version > 1 || known.state !== 'draft')) return;
    const business = await this.businesses.row(this.p.db, businessId);
    if (known && known.body === JSON.stringify(bodyFrom(business))) return;
    await this.p.db.write(async (w) => {
      const b = await this.businesses.row(w, businessId);
      await w.run(
        `INSERT INTO brand (id, business_id, body) VALUES ($1,$2,$3) ON CONFLICT DO UPDATE SET body = excluded.body WHERE version = 1 AND state = 'draft'`,
        [idFrom('brd', businessId), businessId, JSON.stringify(bodyFrom(b))],
      );
    });
  }

  private async brandRow(r: Reader, businessId: string): Promise<BrandRow> {
    const row = await r.one<BrandRow>('SELECT * FROM brand WHERE business_id = $1', [businessId]);
    if (!row) throw notFound('brand');
    return row;
  }

  private async campaignRow(r: Reader, businessId: string, id: string): Promise<CampaignRow> {
    const row = await r.one<CampaignRow>('SELECT * FROM campaign WHERE id = $1 AND business_id = $2', [id, businessId]);
    if (!row) throw notFound('campaign');
    return row;
  }

  /** Saves the brand; after verification name and tax number are locked (rules.md). */
  async saveBrand(
    actor: Actor,
    businessId: string,
    seen: number | null,
    body: BrandBody,
    taxNumber: string | undefined,
  ): Promise<BrandView> {
    await this.ensureBrand(businessId);
    await this.p.db.write(async (w) => {
      const before = await this.brandRow(w, businessId);
      expectVersion('brand', before, seen);
      const old = JSON.parse(before.body) as BrandBody;
      if (before.state === 'in review')
        throw conflict('The brand is in review; it can be edited again after the registrar’s answer.');
      if (
        before.state === 'registered' &&
        (old.legalName !== body.legalName || taxNumber !== undefined || old.form !== body.form)
      ) {
        throw refused('Name, legal form and tax number are locked since the brand is verified.', [
          { field: 'legalName', message: 'Locked.' },
        ]);
      }
      const sealed = taxNumber === undefined ? before.tax_number : this.p.vault.seal(taxNumber.trim());
      await w.run('UPDATE brand SET body = $2, tax_number = $3, version = version + 1 WHERE id = $1', [
        before.id,
        JSON.stringify(body),
        sealed,
      ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'brand edited',
        objectKind: 'brand',
        objectId: before.id,
        before: old,
        after: { ...body, ...(taxNumber === undefined ? {} : { taxNumber: mask(taxNumber) }) },
      });
      this.changed(w, businessId);
    });
    return this.showBrand(await this.brandRow(this.p.db, businessId));
  }

  async submitBrand(actor: Actor, businessId: string, key: string): Promise<BrandView> {
    await this.ensureBrand(businessId);
    await this.p.db.write(async (w) => {
      const row = await this.brandRow(w, businessId);
      if (row.state === 'in review' || row.state === 'registered') return;
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      const findings = this.brandFindings(row);
      requireNoBlock(findings, 'The brand');
      const body = JSON.parse(row.body) as BrandBody;
      const cost = brandCost(body.form);
      await this.businesses.charge(
        w,
        businessId,
        cost,
        'brand registration' + (body.form === 'sole proprietor' ? '' : ' and vetting'),
        'brand',
        row.id,
        idFrom('mon', row.id, key),
      );
      const attempt = row.attempt + 1;
      await w.run(
        `UPDATE brand SET state = 'in review', attempt = $2, submitted_at = $3, decided_at = NULL, reasons = '[]', last_submitted = body, version = version + 1 WHERE id = $1`,
        [row.id, attempt, this.p.clock.now()],
      );
      await this.p.outbox.put(w, 'registrar.brand', `${row.id}:${attempt}`, {
        filing: { ...body, nameLine: business.name_line },
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: attempt > 1 ? 'brand resubmitted' : 'brand submitted',
        objectKind: 'brand',
        objectId: row.id,
        before: { state: row.state },
        after: { state: 'in review', cost: formatAmount(cost) },
      });
      this.changed(w, businessId);
    });
    return this.showBrand(await this.brandRow(this.p.db, businessId));
  }

  async addCampaign(actor: Actor, businessId: string, name: string, useCaseCode: string): Promise<CampaignView> {
    await this.ensureBrand(businessId);
    const id = newId('cmp');
    await this.p.db.write(async (w) => {
      const use = useCase(useCaseCode);
      const brand = JSON.parse((await this.brandRow(w, businessId)).body) as BrandBody;
      if (use?.onlyFor && use.onlyFor !== brand.form)
        throw refused(`${use.label} is only for a ${use.onlyFor}.`, [
          { field: 'useCase', message: `Only for a ${use.onlyFor}.` },
        ]);
      await w.run('INSERT INTO campaign (id, business_id, name, body, created_at) VALUES ($1,$2,$3,$4,$5)', [
        id,
        businessId,
        name,
        JSON.stringify({ ...EMPTY_CAMPAIGN, useCase: useCaseCode }),
        this.p.clock.now(),
      ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'campaign begun',
        objectKind: 'campaign',
        objectId: id,
        after: { name, useCase: useCaseCode },
      });
      this.changed(w, businessId);
    });
    return this.campaign(businessId, id);
  }

  async saveCampaign(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    name: string,
    body: CampaignBodyValue,
  ): Promise<CampaignView> {
    await this.p.db.write(async (w) => {
      const before = await this.campaignRow(w, businessId, id);
      expectVersion('campaign', before, seen);
      const old = JSON.parse(before.body) as CampaignBodyValue;
      if (before.state === 'in review')
        throw conflict('The campaign is in review; it can be edited again after the registrar’s answer.');
      if (before.attempt > 0 && old.useCase !== body.useCase)
        throw refused('The use case cannot be changed after the first submission; begin a new campaign.', [
          { field: 'useCase', message: 'Locked.' },
        ]);
      if (before.state === 'registered' && JSON.stringify(old) !== JSON.stringify(body))
        throw refused('A registered campaign is what the networks know. Begin a new campaign for other texts.', [
          { field: 'description', message: 'Registered.' },
        ]);
      await w.run('UPDATE campaign SET name = $2, body = $3, version = version + 1 WHERE id = $1', [
        id,
        name,
        JSON.stringify(body),
      ]);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'campaign edited',
        objectKind: 'campaign',
        objectId: id,
        before: { name: before.name, ...old },
        after: { name, ...body },
      });
      this.changed(w, businessId);
    });
    return this.campaign(businessId, id);
  }

  async submitCampaign(actor: Actor, businessId: string, id: string, key: string): Promise<CampaignView> {
    await this.p.db.write(async (w) => {
      const row = await this.campaignRow(w, businessId, id);
      if (row.state === 'in review' || row.state === 'registered') return;
      const business = await this.businesses.row(w, businessId);
      requireOpen(business);
      const brand = await this.brandRow(w, businessId);
      if (brand.state !== 'registered')
        throw refused(`The brand is ${brand.state}; a campaign can be submitted once it is registered.`, [
          { field: 'brand', message: 'Register the brand first.' },
        ]);
      const body = JSON.parse(row.body) as CampaignBodyValue;
      requireNoBlock(this.campaignFindings(body, business, brand), 'The campaign');
      await this.businesses.charge(
        w,
        businessId,
        DEFAULT_PRICES.campaignReview,
        `review of campaign ${row.name}`,
        'campaign',
        id,
        idFrom('mon', id, key),
      );
      const attempt = row.attempt + 1;
      await w.run(
        `UPDATE campaign SET state = 'in review', attempt = $2, submitted_at = $3, decided_at = NULL, reasons = '[]', last_submitted = body, version = version + 1 WHERE id = $1`,
        [id, attempt, this.p.clock.now()],
      );
      await this.p.outbox.put(w, 'registrar.campaign', `${id}:${attempt}`, {
        filing: {
          ...body,
          nameLine: business.name_line,
          legalName: business.legal_name,
          brandKey: `${brand.id}:${brand.attempt}`,
        },
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: attempt > 1 ? 'campaign resubmitted' : 'campaign submitted',
        objectKind: 'campaign',
        objectId: id,
        before: { state: row.state, body: row.last_submitted ? (JSON.parse(row.last_submitted) as unknown) : null },
        after: { state: 'in review', body },
      });
      this.changed(w, businessId);
    });
    return this.campaign(businessId, id);
  }

  /** The monthly fees of registered campaigns. */
  async runningFees(r: Reader, businessId: string): Promise<RunningFee[]> {
    const rows = await r.all<{ use: string }>(
      `SELECT json_extract(body, '$.useCase') AS use FROM campaign WHERE business_id = $1 AND state = 'registered'`,
      [businessId],
    );
    if (rows.length === 0) return [];
    return [
      {
        kind: 'campaigns',
        count: rows.length,
        monthly: rows.reduce((sum, c) => sum + (useCase(c.use)?.monthly ?? 0), 0),
      },
    ];
  }

  async campaign(businessId: string, id: string): Promise<CampaignView> {
    const business = await this.businesses.row(this.p.db, businessId);
    return this.showCampaign(
      this.p.db,
      await this.campaignRow(this.p.db, businessId, id),
      business,
      await this.brandRow(this.p.db, businessId),
    );
  }

  private async decide(
    w: Writer,
    what: 'brand' | 'campaign',
    key: string,
    state: 'registered' | 'declined',
    score: number | null,
    reasons: Extract<OutsideEvent, { kind: 'brand.declined' }>['reasons'],
  ): Promise<void> {
    const [id = '', attempt = '0'] = key.split(':');
    const row = await w.one<{ business_id: string; state: string }>(
      `SELECT business_id, state FROM ${what} WHERE id = $1 AND attempt = $2 AND state = 'in review'`,
      [id, Number(attempt)],
    );
    if (!row) return;
    await w.run(`UPDATE ${what} SET state = $2, decided_at = $3, reasons = $4, version = version + 1 WHERE id = $1`, [
      id,
      state,
      this.p.clock.now(),
      JSON.stringify(reasons),
    ]);
    if (what === 'brand' && state === 'registered')
      await w.run('UPDATE brand SET score = $2 WHERE id = $1', [id, score]);
    if (what === 'campaign' && state === 'registered')
      await this.p.jobs.add(w, {
        kind: 'campaign.fee',
        businessId: row.business_id,
        payload: { campaignId: id },
        key: `fee:${id}`,
      });
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor: SYSTEM,
      action: `${what} ${state} by the registrar`,
      objectKind: what,
      objectId: id,
      before: { state: 'in review' },
      after: { state, score, reasons },
    });
    this.changed(w, row.business_id);
    w.tell('number.changed', { businessId: row.business_id });
    w.afterCommit(() => this.p.live.tell({ businessId: row.business_id, topic: 'numbers' }));
  }

  /** The monthly fee of a registered campaign, from its approval on; where the balance is short, tried again in an hour. */
  private async monthlyFee(id: string, dueAt: number): Promise<JobOutcome> {
    return this.p.db.write(async (w): Promise<JobOutcome> => {
      const row = await w.one<CampaignRow>(`SELECT * FROM campaign WHERE id = $1 AND state = 'registered'`, [id]);
      if (!row) return { done: true };
      const fee = useCase((JSON.parse(row.body) as CampaignBodyValue).useCase)?.monthly ?? 0;
      const entry = idFrom('mon', id, 'fee', String(dueAt));
      if (!(await w.one('SELECT id FROM money_entry WHERE id = $1', [entry]))) {
        if ((await this.businesses.row(w, row.business_id)).balance < fee)
          return { done: false, at: this.p.clock.now() + 3_600_000 };
        await this.businesses.charge(
          w,
          row.business_id,
          fee,
          `campaign ${row.name}: monthly fee`,
          'campaign',
          id,
          entry,
        );
      }
      return { done: false, at: dueAt + MONTH_MS };
    });
  }

  private changed(w: Writer, businessId: string): void {
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'registration' }));
  }

  private brandFindings(row: BrandRow): Finding[] {
    const body = JSON.parse(row.body) as BrandBody;
    return reviewBrand({ ...body, taxNumber: this.p.vault.unseal(row.tax_number) });
  }

  private campaignFindings(body: CampaignBodyValue, business: BusinessRow, brand: BrandRow): Finding[] {
    return reviewCampaign(body, {
      nameLine: business.name_line,
      legalName: (JSON.parse(brand.body) as BrandBody).legalName,
    });
  }

  private showBrand(row: BrandRow): BrandView {
    return {
      id: row.id,
      body: JSON.parse(row.body) as BrandBody,
      taxNumberMasked: mask(this.p.vault.unseal(row.tax_number)),
      state: row.state,
      score: row.score,
      attempt: row.attempt,
      submittedAt: row.submitted_at,
      decidedAt: row.decided_at,
      reasons: JSON.parse(row.reasons) as BrandView['reasons'],
      findings: this.brandFindings(row),
      version: row.version,
    };
  }

  private async showCampaign(
    r: Reader,
    row: CampaignRow,
    business: BusinessRow,
    brand: BrandRow,
  ): Promise<CampaignView> {
    const body = JSON.parse(row.body) as CampaignBodyValue;
    const numbers = await r.all<{ id: string; e164: string; label: string; tieState: string }>(
      'SELECT id, e164, label, tie_state AS tieState FROM number WHERE campaign_id = $1 ORDER BY active_at',
      [row.id],
    );
    return {
      id: row.id,
      name: row.name,
      body,
      state: row.state,
      attempt: row.attempt,
      submittedAt: row.submitted_at,
      decidedAt: row.decided_at,
      reasons: JSON.parse(row.reasons) as CampaignView['reasons'],
      findings: this.campaignFindings(body, business, brand),
      lastSubmitted: row.last_submitted ? (JSON.parse(row.last_submitted) as CampaignBodyValue) : null,
      numbers,
      throughput: throughputOf((JSON.parse(brand.body) as BrandBody).form, brand.score, body.useCase),
      version: row.version,
    };
  }
}

/** A first draft of the brand from what is known of the business. */
function bodyFrom(b: BusinessRow): BrandBody {
  return {
    form: b.form,
    legalName: b.legal_name,
    ...EMPTY_BRAND,
    street: b.street,
    city: b.city,
    state: b.state,
    postalCode: b.postal_code,
    website: b.website,
    email: b.contact_email,
  };
}

/** Once at submission: the brand, and vetting for all but sole proprietors. */
export function brandCost(form: BrandBody['form']): number {
  return DEFAULT_PRICES.brand + (form === 'sole proprietor' ? 0 : DEFAULT_PRICES.vetting);
}

function requireOpen(b: BusinessRow): void {
  if (b.account_state !== 'open')
    throw refused(`The account is ${b.account_state}; registration begins once it is open.`, [
      { field: 'account', message: 'Open the account in Settings.' },
    ]);
}

function requireNoBlock(findings: Finding[], what: string): void {
  if (!blocks(findings)) return;
  const list = findings.filter((f) => f.severity === 'block');
  throw new Problem(
    422,
    'findings',
    `${what} has ${list.length} finding${list.length === 1 ? '' : 's'} to mend before it can be submitted.`,
    list.map((f) => ({ field: f.field, message: `${f.message} ${f.fix}` })),
  );
}
