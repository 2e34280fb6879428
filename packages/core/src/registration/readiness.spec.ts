import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Finding, FindingCode } from '../finding/finding.js';
import { decisionsByRisk, dossierOf, measure, parseDossiers, REASONS } from '../testing/dossiers.js';
import { madeDossiers } from '../testing/made-dossiers.js';
import { DECISIONS_BY_RISK } from './decisions.data.js';
import { isMendable, mendOf } from './mend.js';
import { readinessOf } from './readiness.js';
import type { About, CampaignDraft } from './campaign-draft.js';
import { reviewCampaign } from './review-campaign.js';

/** The check held against what an experienced reviewer decided of invented dossiers; `npm run readiness` prints it. */
describe('the readiness check on the corpus', () => {
  const folder = new URL('../../testdata/dossiers/', import.meta.url);
  const dossiers = readdirSync(fileURLToPath(folder)).flatMap((f) =>
    parseDossiers(readFileSync(new URL(f, folder), 'utf8')),
  );

  it('has at least eighty dossiers, no two alike, near half of them fine, and every reason named', () => {
    expect(dossiers.length).toBeGreaterThanOrEqual(80);
    expect(new Set(dossiers.map((d) => d.id)).size).toBe(dossiers.length);
    expect(new Set(dossiers.map((d) => d.business.legalName)).size).toBe(dossiers.length);
    expect(new Set(dossiers.map((d) => d.description)).size).toBe(dossiers.length);
    const fine = dossiers.filter((d) => d.decision === 'approved').length;
    expect(fine / dossiers.length).toBeGreaterThan(0.4);
    for (const d of dossiers)
      expect(d.reasons.length > 0)
        .withContext(d.id)
        .toBe(d.decision === 'declined');
    expect(new Set(dossiers.flatMap((d) => d.reasons))).toEqual(new Set(REASONS));
  });

  it('finds at least 95 of 100 reasons, and at least 90 of 100 of what it finds are reasons', () => {
    const m = measure(dossiers);
    const wrong = m.scores.flatMap((s) => [
      ...s.missed.map((x) => `-${s.reason} ${x}`),
      ...s.added.map((x) => `+${s.reason} ${x}`),
    ]);
    expect(m.recall).withContext(wrong.join('\n')).toBeGreaterThanOrEqual(0.95);
    expect(m.precision).withContext(wrong.join('\n')).toBeGreaterThanOrEqual(0.9);
  });

  it('counts what it misses and what it adds', () => {
    const none = measure(dossiers, () => []);
    expect([none.recall, none.sameDecision]).toEqual([0, dossiers.filter((d) => d.decision === 'approved').length]);
    const [one] = dossiers.filter((d) => d.reasons[0] === 'shortener');
    const m = measure(one ? [one] : [], () => [
      { code: 'tax-number-prefix', severity: 'block', field: 'taxNumber', message: '', fix: '' },
      { code: 'phone-declared-but-absent', severity: 'risk', field: 'hasPhones', message: '', fix: '' },
    ]);
    expect(m.scores.map((s) => [s.reason, s.both, s.missed.length, s.added.length])).toEqual([
      ['shortener', 0, 1, 0],
      ['tax', 0, 0, 1],
    ]);
  });

  it('is tried on dossiers made by chance, the same at every run, with and without faults', () => {
    const made = madeDossiers(60);
    expect(madeDossiers(60)).toEqual(made);
    expect(madeDossiers(60, 2)).not.toEqual(made);
    const { sameDecision } = measure(made.map((d) => ({ ...d, decision: 'approved' as const })));
    expect(sameDecision).withContext('some are fine').toBeGreaterThan(8);
    expect(sameDecision).withContext('some are not').toBeLessThan(50);
  });

  /** Mends all that one click can mend, one after another. */
  function mended(c: CampaignDraft, about: About): CampaignDraft {
    let now = c;
    for (let i = 0; i < 12; i++) {
      const next = reviewCampaign(now, about).find((f) => isMendable(f.code));
      if (!next) return now;
      now = { ...now, ...mendOf(next, now, about) };
    }
    return fail('it came to no end') as never;
  }

  it('is mended by clicks as far as they go, with nothing made worse, on every dossier of the corpus', () => {
    let done = 0;
    for (const j of dossiers) {
      const { brand, campaigns, nameLine } = dossierOf(j);
      const about = { nameLine, legalName: brand.legalName, form: brand.form, website: brand.website };
      for (const c of campaigns) {
        const before = reviewCampaign(c, about);
        const after = reviewCampaign(mended(c, about), about);
        expect(after.filter((f) => isMendable(f.code)))
          .withContext(j.id)
          .toEqual([]);
        const known = new Set(before.map((f) => f.code));
        const added = after.filter((f) => f.severity === 'block' && !known.has(f.code)).map((f) => f.code);
        // A sentence that goes may leave nothing that says where people agree.
        expect(added.filter((code) => !['agreement-no-place', 'agreement-short'].includes(code)))
          .withContext(j.id)
          .toEqual([]);
        done += before.length - after.length;
      }
    }
    expect(done).withContext('something was mended').toBeGreaterThan(15);
  });

  it('gives its figure from decisions that are those of the corpus today', () => {
    expect(DECISIONS_BY_RISK).withContext('run: npm run readiness -- learn').toEqual(decisionsByRisk(dossiers));
    const risk = (code: FindingCode): Finding => ({ code, severity: 'risk', field: 'x', message: '', fix: '' });
    const fine = readinessOf([]);
    const phones = readinessOf([risk('phone-declared-but-absent')]);
    if (fine.is !== 'likely' || phones.is !== 'likely') return fail('both were decided before');
    expect(fine.rate.n).toBeGreaterThan(40);
    expect(fine.rate.k).toBe(fine.rate.n);
    expect([phones.rate.k, phones.rate.n]).toEqual([2, 3]);
    expect(phones.rate.low).toBeLessThan(fine.rate.low);
    expect(readinessOf([risk('phone-declared-but-absent'), { ...risk('sample-short'), severity: 'block' }])).toEqual({
      is: 'declined',
      because: 1,
    });
    expect(readinessOf([risk('campaigns-alike'), risk('terms-page-missing')])).toEqual({ is: 'unknown' });
  });
});
