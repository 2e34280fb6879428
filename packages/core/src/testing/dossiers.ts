import { blocks, type Finding, type FindingCode } from '../finding/finding.js';
import { risksOf } from '../registration/readiness.js';
import { reviewRegistration, type DossierDraft } from '../registration/review.js';
import type { BrandDraft } from '../registration/review-brand.js';
import type { LegalForm } from '../registration/legal-forms.data.js';

/** Why an experienced reviewer declines, in words of their own; several findings of the check may mean one of them. */
export const REASONS = [
  'age',
  'bare-ip',
  'bought-list',
  'condition',
  'forbidden',
  'form-use',
  'help-reply',
  'language',
  'lending',
  'link-mismatch',
  'listing',
  'no-name',
  'no-place',
  'no-stop',
  'optin-reply',
  'optout-reply',
  'other-use',
  'phone-mismatch',
  'placeholders',
  'post-box',
  'privacy',
  'sharing',
  'shortener',
  'site-mismatch',
  'sub-uses',
  'tax',
  'too-few-samples',
  'vague',
] as const;
export type Reason = (typeof REASONS)[number];

/** Which reason a blocking finding stands for; one that is not here stands for itself, and no reviewer named it. */
const REASON_OF: Partial<Record<FindingCode, Reason>> = {
  'age-gate-undeclared': 'age',
  'sample-bare-ip': 'bare-ip',
  'agreement-bought-list': 'bought-list',
  'agreement-condition': 'condition',
  'forbidden-subject': 'forbidden',
  'use-not-for-form': 'form-use',
  'help-reply-no-contact': 'help-reply',
  'not-in-english': 'language',
  'lending-undeclared': 'lending',
  'link-declared-but-absent': 'link-mismatch',
  'link-undeclared': 'link-mismatch',
  'listing-missing': 'listing',
  'description-no-name': 'no-name',
  'sample-no-name': 'no-name',
  'optout-reply-no-name': 'optout-reply',
  'agreement-no-place': 'no-place',
  'sample-no-stop': 'no-stop',
  'optin-message-incomplete': 'optin-reply',
  'optout-reply-no-end': 'optout-reply',
  'sample-other-use': 'other-use',
  'phone-undeclared': 'phone-mismatch',
  'sample-only-placeholders': 'placeholders',
  'address-post-box': 'post-box',
  'privacy-page-missing': 'privacy',
  'numbers-shared': 'sharing',
  'sample-shared-shortener': 'shortener',
  'sample-link-off-domain': 'site-mismatch',
  'email-off-domain': 'site-mismatch',
  'sub-uses-count': 'sub-uses',
  'tax-number-prefix': 'tax',
  'samples-too-few': 'too-few-samples',
  'description-vague': 'vague',
};

/** One invented dossier of `testdata/dossiers`, with what a reviewer decided. What is not said is in order. */
export interface Judged {
  id: string;
  business: { legalName: string; nameLine: string; site: string };
  form?: LegalForm;
  brand?: Partial<BrandDraft>;
  useCase: string;
  subUses?: string[];
  description: string;
  agreement: string;
  samples: string[];
  links?: boolean;
  phones?: boolean;
  ageRestricted?: boolean;
  lending?: boolean;
  optIn?: string;
  optOut?: string;
  help?: string;
  privacyUrl?: string;
  termsUrl?: string;
  decision: 'approved' | 'declined';
  reasons: Reason[];
}

/** The dossiers of one file of the corpus. */
export const parseDossiers = (json: string): Judged[] => JSON.parse(json) as Judged[];

/** A dossier as the rules read it. */
export function dossierOf(j: Judged): DossierDraft {
  const { legalName, nameLine, site } = j.business;
  const form = j.form ?? 'private company';
  return {
    nameLine,
    brand: {
      form,
      legalName,
      taxNumber: form === 'sole proprietor' ? '' : '12-3456789',
      street: '4 Quay Road',
      city: 'Aldersund',
      state: 'NJ',
      postalCode: '07030',
      website: `https://${site}`,
      email: `office@${site}`,
      mobile: form === 'sole proprietor' ? '+12015550142' : '',
      exchange: '',
      ticker: '',
      ...j.brand,
    },
    campaigns: [
      {
        useCase: j.useCase,
        description: j.description,
        agreement: j.agreement,
        samples: j.samples,
        subUses: j.subUses ?? [],
        hasLinks: j.links ?? false,
        hasPhones: j.phones ?? false,
        ageRestricted: j.ageRestricted ?? false,
        lending: j.lending ?? false,
        optInMessage:
          j.optIn ??
          `${nameLine}: you are in, about 4 texts a month. Msg & data rates may apply. Reply HELP for help, STOP to end.`,
        optOutMessage: j.optOut ?? `${nameLine}: you are out and will get no more texts from us.`,
        helpMessage: j.help ?? `${nameLine}: write to office@${site}. Reply STOP to end.`,
        privacyUrl: j.privacyUrl ?? `https://${site}/privacy`,
        termsUrl: j.termsUrl ?? `https://${site}/terms`,
      },
    ],
  };
}

/** What was decided of dossiers in which the check finds nothing that blocks, by the risks it finds. */
export function decisionsByRisk(dossiers: readonly Judged[]): Record<string, { approved: number; of: number }> {
  const out: Record<string, { approved: number; of: number }> = {};
  for (const j of dossiers) {
    const findings = reviewRegistration(dossierOf(j));
    if (blocks(findings)) continue;
    const key = risksOf(findings);
    const known = (out[key] ??= { approved: 0, of: 0 });
    known.of++;
    if (j.decision === 'approved') known.approved++;
  }
  return out;
}

/** How the check did for one reason: named by both, by the reviewer alone, by the check alone. */
export interface Score {
  reason: string;
  both: number;
  missed: string[];
  added: string[];
}
export interface Measured {
  dossiers: number;
  scores: Score[];
  /** Of what reviewers named, the share the check names; of what the check names, the share reviewers named. */
  recall: number;
  precision: number;
  /** Dossiers in which the check blocks exactly where a reviewer declines. */
  sameDecision: number;
}

/** Reasons for which a reviewer's codes stand, for those who answer in the codes of the public list. */
export const reasonsOf = (codes: readonly string[]): Reason[] => [
  ...new Set(codes.map((code) => REASON_OF[code as FindingCode] ?? (code as Reason))),
];

/** Holds a check against what reviewers decided, by reason. @param check answers findings; those that block count. */
export function measure(
  dossiers: readonly Judged[],
  check: (d: DossierDraft) => Finding[] = reviewRegistration,
): Measured {
  const scores = new Map<string, Score>();
  const of = (reason: string): Score => {
    const score = scores.get(reason) ?? { reason, both: 0, missed: [], added: [] };
    scores.set(reason, score);
    return score;
  };
  let sameDecision = 0;
  for (const j of dossiers) {
    const named = new Set<string>(
      check(dossierOf(j))
        .filter((f) => f.severity === 'block')
        .map((f) => REASON_OF[f.code] ?? f.code),
    );
    if (named.size > 0 === (j.decision === 'declined')) sameDecision++;
    for (const reason of j.reasons)
      if (named.has(reason)) of(reason).both++;
      else of(reason).missed.push(j.id);
    for (const reason of named) if (!(j.reasons as string[]).includes(reason)) of(reason).added.push(j.id);
  }
  const all = [...scores.values()].sort((a, b) => a.reason.localeCompare(b.reason));
  const both = all.reduce((n, s) => n + s.both, 0);
  const missed = all.reduce((n, s) => n + s.missed.length, 0);
  const added = all.reduce((n, s) => n + s.added.length, 0);
  return {
    dossiers: dossiers.length,
    scores: all,
    recall: both / Math.max(1, both + missed),
    precision: both / Math.max(1, both + added),
    sameDecision,
  };
}
