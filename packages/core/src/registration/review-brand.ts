import { finding, type Finding } from '../finding/finding.js';
import { parsePhone } from '../phone/parse-phone.js';
import { postBox } from './words/post-box.js';
import { reviewIdentity, type IdentityDraft } from './review-identity.js';
import { EIN_PREFIXES_NEVER_ASSIGNED } from './terms.data.js';

export interface BrandDraft extends IdentityDraft {
  /** As typed; empty where none. */
  taxNumber: string;
  /** A checked tax number is already on file and was not typed again. */
  taxNumberOnFile?: boolean;
  street: string;
  city: string;
  state: string;
  postalCode: string;
  website: string;
  email: string;
  /** Mobile of a sole proprietor, who confirms by replying from it. */
  mobile: string;
  exchange: string;
  ticker: string;
  /** Two letters; the United States where it is not said. */
  country?: string;
}

/** What is wrong with a brand before the registrar sees it (rules.md, A2P 10DLC). */
export function reviewBrand(b: BrandDraft): Finding[] {
  const out: Finding[] = [];
  if (b.legalName.trim() === '')
    out.push(
      finding('name-missing', 'legalName', 'The legal name is missing.', 'Write it exactly as in the tax record.'),
    );
  out.push(...reviewTaxNumber(b));
  // Elsewhere an address need not have a state, nor its numbers the American form.
  const abroad = isAbroad(b);
  const parts = abroad
    ? (['street', 'city', 'postalCode'] as const)
    : (['street', 'city', 'state', 'postalCode'] as const);
  const missing = parts.filter((k) => b[k].trim() === '');
  for (const field of missing)
    out.push(
      finding(
        'address-incomplete',
        field,
        'Part of the address is missing.',
        'Give street, city, state and ZIP of the place itself.',
      ),
    );
  if (!abroad && b.postalCode.trim() !== '' && !/^\d{5}(-\d{4})?$/.test(b.postalCode.trim())) {
    out.push(
      finding('address-incomplete', 'postalCode', 'A ZIP code has five digits.', 'Write it like 07030.', {
        start: 0,
        end: b.postalCode.length,
      }),
    );
  }
  const box = postBox(b.street);
  if (box)
    out.push(
      finding(
        'address-post-box',
        'street',
        'A post box is no physical address.',
        'Give the street where the business is.',
        box,
      ),
    );
  const host = hostOf(b.website);
  if (b.website.trim() === '')
    out.push(
      finding('website-missing', 'website', 'The website is missing.', 'Give the site that answers to the name.'),
    );
  else if (!host)
    out.push(
      finding('website-malformed', 'website', 'This is no web address.', 'Write it like https://ferries.example', {
        start: 0,
        end: b.website.length,
      }),
    );
  const email = /^[^\s@]+@([^\s@]+\.[^\s@]+)$/.exec(b.email.trim());
  if (!email)
    out.push(
      finding(
        'email-malformed',
        'email',
        b.email.trim() === '' ? 'The contact e-mail is missing.' : 'This is no e-mail address.',
        'Write it like office@ferries.example',
      ),
    );
  else if (host) {
    const domain = (email[1] ?? '').toLowerCase();
    const site = host.replace(/^www\./, '');
    if (domain !== site && !domain.endsWith(`.${site}`)) {
      const at = b.email.indexOf('@') + 1;
      out.push(
        finding(
          'email-off-domain',
          'email',
          `The e-mail is not on the website’s domain ${site}.`,
          `Use an address ending in @${site}.`,
          { start: at, end: b.email.trimEnd().length },
        ),
      );
    }
  }
  if (b.form === 'sole proprietor' && !parsePhone(b.mobile, { defaultRegion: 'US', allowFictional: true }).ok) {
    out.push(
      finding(
        'mobile-missing',
        'mobile',
        b.mobile.trim() === ''
          ? 'A sole proprietor confirms by replying from a mobile.'
          : 'This is no telephone number; the owner confirms by replying from it.',
        'Give the mobile of the owner.',
      ),
    );
  }
  if (b.form === 'listed company' && (b.exchange.trim() === '' || b.ticker.trim() === '')) {
    out.push(finding('listing-missing', 'ticker', 'A listed company names its exchange and ticker.', 'Give both.'));
  }
  out.push(...reviewIdentity(b));
  return out;
}

const isAbroad = ({ country = 'US' }: Pick<BrandDraft, 'country'>): boolean => country !== 'US';

function reviewTaxNumber(b: BrandDraft): Finding[] {
  const raw = b.taxNumber.trim();
  const span = { start: 0, end: b.taxNumber.length };
  if (b.form === 'sole proprietor') {
    return raw === '' && !b.taxNumberOnFile
      ? []
      : [
          finding(
            'tax-number-not-for-sole-proprietor',
            'taxNumber',
            'This legal form is only for businesses without a tax number.',
            'Choose private company, or leave it empty.',
            span,
          ),
        ];
  }
  if (raw === '')
    return b.taxNumberOnFile
      ? []
      : [
          finding(
            'tax-number-missing',
            'taxNumber',
            'The tax number (EIN) is missing.',
            'Give the nine digits of the tax record.',
          ),
        ];
  // A business abroad is registered with its own country's number, of whatever form.
  if (isAbroad(b)) return [];
  if (!/^\d{2}-?\d{7}$/.test(raw))
    return [
      finding(
        'tax-number-malformed',
        'taxNumber',
        'A tax number (EIN) has nine digits.',
        'Write it like 12-3456789.',
        span,
      ),
    ];
  const prefix = raw.slice(0, 2);
  if (EIN_PREFIXES_NEVER_ASSIGNED.includes(prefix))
    return [
      finding(
        'tax-number-prefix',
        'taxNumber',
        `No tax number begins with ${prefix}.`,
        'Check it against the tax record.',
        { start: 0, end: 2 },
      ),
    ];
  return [];
}

/** Host name of a web address as people type it, lower case; null where it is none. */
export function hostOf(website: string): string | null {
  const m = /^(?:https?:\/\/)?((?:[a-z0-9](?:[a-z0-9-]*[a-z0-9])?\.)+[a-z]{2,})(?::\d+)?(?:[/?#].*)?$/i.exec(
    website.trim(),
  );
  return m ? (m[1] ?? '').toLowerCase() : null;
}
