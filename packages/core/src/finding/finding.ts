/**
 * How much a finding weighs: `block` prevents a submission, `risk` is likely to be declined or filtered,
 * `advice` would make it better.
 */
export type Severity = 'block' | 'risk' | 'advice';

/** The characters a finding speaks of, as UTF-16 offsets into the field's text, end exclusive. */
export interface Span {
  start: number;
  end: number;
}

/** One thing wrong or risky in something about to be submitted: what, where, why and how to mend it. */
export interface Finding {
  code: FindingCode;
  severity: Severity;
  /** Path of the field, such as `samples.1` or `taxNumber`. */
  field: string;
  span?: Span;
  message: string;
  fix: string;
}

/** Every code has one severity, here and nowhere else. */
export const FINDING_SEVERITY = {
  // identity and brand
  'name-missing': 'block',
  'tax-number-missing': 'block',
  'tax-number-malformed': 'block',
  'tax-number-prefix': 'block',
  'tax-number-not-for-sole-proprietor': 'block',
  'address-incomplete': 'block',
  'address-post-box': 'block',
  'website-missing': 'block',
  'website-malformed': 'block',
  'email-malformed': 'block',
  'email-off-domain': 'block',
  'mobile-missing': 'block',
  'listing-missing': 'block',
  'name-slip': 'advice',
  'trading-name-same': 'advice',
  'other-address-incomplete': 'risk',
  'representative-missing': 'risk',
  'representative-incomplete': 'risk',
  'status-email-malformed': 'block',
  'industry-missing': 'advice',
  // toll-free verification
  'toll-free-no-use': 'block',
  'toll-free-no-volume': 'block',
  'toll-free-no-proof': 'block',
  // campaign
  'description-short': 'block',
  'description-long': 'block',
  'description-vague': 'block',
  'description-no-name': 'block',
  'agreement-short': 'block',
  'agreement-long': 'block',
  'agreement-no-place': 'block',
  'agreement-condition': 'block',
  'agreement-bought-list': 'block',
  'numbers-shared': 'block',
  'not-in-english': 'block',
  'use-not-for-form': 'block',
  'campaigns-too-many': 'block',
  'campaigns-many': 'risk',
  'use-needs-vetting': 'block',
  'political-cause-missing': 'block',
  'pool-not-explained': 'block',
  'campaigns-alike': 'risk',
  'samples-too-few': 'block',
  'samples-too-many': 'block',
  'sample-short': 'block',
  'sample-long': 'block',
  'sample-no-name': 'block',
  'sample-no-stop': 'block',
  'sample-shared-shortener': 'block',
  'sample-bare-ip': 'block',
  'sample-link-off-domain': 'block',
  'sample-other-use': 'block',
  'sample-many-segments': 'risk',
  'sample-only-placeholders': 'block',
  'link-declared-but-absent': 'block',
  'link-undeclared': 'block',
  'phone-declared-but-absent': 'risk',
  'phone-undeclared': 'block',
  'forbidden-subject': 'block',
  'age-gate-undeclared': 'block',
  'lending-undeclared': 'block',
  'privacy-page-missing': 'block',
  'privacy-shares-numbers': 'block',
  'terms-page-missing': 'risk',
  'optin-message-incomplete': 'block',
  'optout-reply-no-name': 'block',
  'optout-reply-no-end': 'block',
  'help-reply-no-contact': 'block',
  'reply-length': 'block',
  'sub-uses-count': 'block',
  // text of a dispatch
  'text-empty': 'block',
  'merge-no-fallback': 'block',
  'merge-unknown-field': 'block',
  'own-page-not-set-up': 'block',
  'purpose-contradicted': 'block',
  'purpose-overridden': 'advice',
  'purpose-conversational': 'block',
  'transactional-promotional': 'block',
  'use-not-registered': 'block',
  'use-overridden': 'advice',
  'link-filtered': 'block',
  'forces-ucs2': 'advice',
  'many-segments': 'advice',
  'link-undeclared-by-campaign': 'block',
  'suppression-list-old': 'risk',
  // what people are told before they agree
  'keyword-not-told': 'block',
  'keyword-single-opt-in': 'risk',
  'keyword-answer-empty': 'block',
  'keyword-answer-incomplete': 'block',
  'keyword-answer-long': 'risk',
  'disclosure-no-name': 'block',
  'disclosure-no-kind': 'block',
  'disclosure-no-frequency': 'block',
  'disclosure-no-rates': 'block',
  'disclosure-no-help': 'block',
  'disclosure-no-stop': 'block',
  'disclosure-no-terms': 'block',
  'page-kind-promotional': 'block',
  'page-conditional': 'block',
  'page-no-link': 'block',
  'page-low-contrast': 'risk',
  'page-picture-unsaid': 'risk',
  // a form that is filed as proof
  'form-in-future': 'block',
  'words-not-automated': 'block',
  'words-conditional': 'block',
  // port-in
  'port-no-numbers': 'block',
  'port-number-unchecked': 'block',
  'port-not-portable': 'block',
  'port-mixed-carriers': 'block',
  'port-fact-missing': 'block',
  'port-zip-malformed': 'block',
  'port-pin-malformed': 'block',
  'port-pin-expires': 'block',
  'port-responsible-organisation-malformed': 'block',
  'port-new-billing-number-missing': 'block',
  'port-new-billing-number-leaves': 'block',
  'port-old-service-ends': 'block',
  'port-letter-missing': 'block',
  'port-letter-future': 'block',
  'port-letter-old': 'block',
  'port-letter-number-missing': 'block',
  'port-letter-holder-differs': 'block',
  'port-letter-signer-differs': 'block',
  'port-bill-missing': 'block',
  'port-bill-old': 'block',
  'port-bill-old-not-needed': 'risk',
  'port-old-service-ends-later': 'risk',
  'port-new-billing-number-unknown': 'block',
  'port-signer-not-authorised': 'block',
  'port-signer-unknown-to-carrier': 'risk',
  'hosted-letter-future': 'block',
  'hosted-letter-number-missing': 'block',
  'hosted-letter-signer-differs': 'block',
  'port-record-differs': 'block',
  'port-record-doubtful': 'risk',
  'port-freeze': 'block',
  'port-pending-order': 'block',
  'port-not-on-account': 'block',
  'port-line-inactive': 'block',
  'port-partial': 'risk',
  'port-not-acknowledged': 'block',
  // sender IDs
  'sender-id-empty': 'block',
  'sender-id-long': 'block',
  'sender-id-character': 'block',
  'sender-id-no-letter': 'block',
  'sender-id-spaces': 'block',
  'sender-id-unrelated': 'block',
  'sender-id-not-admitted': 'block',
  'sender-id-country-closed': 'risk',
  'signature-incomplete': 'block',
  // short codes
  'programme-no-name': 'block',
  'programme-short': 'block',
  'programme-agreement-short': 'block',
  'programme-sample-no-name': 'block',
  'programme-sample-no-stop': 'block',
  'programme-help-no-contact': 'block',
  // hosted numbers
  'hosted-mobile': 'block',
  'hosted-elsewhere': 'block',
  'hosted-fact-missing': 'block',
  'hosted-letter-missing': 'block',
  'hosted-letter-old': 'block',
  'hosted-letter-holder-differs': 'block',
  'hosted-code-missing': 'block',
} as const satisfies Record<string, Severity>;

export type FindingCode = keyof typeof FINDING_SEVERITY;

/** Makes a finding with the severity its code has in the table. */
export function finding(code: FindingCode, field: string, message: string, fix: string, span?: Span): Finding {
  return { code, severity: FINDING_SEVERITY[code], field, message, fix, ...(span ? { span } : {}) };
}

/** True when at least one finding prevents the submission. */
export function blocks(findings: readonly Finding[]): boolean {
  return findings.some((f) => f.severity === 'block');
}
