import { finding, type Finding } from '../finding/finding.js';
import { parsePhone } from '../phone/parse-phone.js';
import { postBox } from './words/post-box.js';
import type { LegalForm } from './legal-forms.data.js';

/** What a business says of itself beside what its brand is checked for. */
export interface IdentityDraft {
  form: LegalForm;
  legalName: string;
  tradingName?: string;
  industry?: string;
  moreAddresses?: readonly { what: string; street: string; city: string; state: string; postalCode: string }[];
  representatives?: readonly { name: string; title: string; phone: string; email: string }[];
  statusEmail?: string;
}

const EMAIL = /^[^\s@]+@[^\s@]+\.[^\s@]+$/;
/** What a company's name in the tax record ends with. */
const ENDING = /\b(?:LLC|L\.L\.C\.|Inc|Incorporated|Corp|Corporation|Co|Company|Ltd|Limited|LP|LLP|PLLC|PC|Trust)\.?$/i;
/** Words that lead over to another name than the legal one. */
const ALIAS = /\b(?:d\/?b\/?a|doing business as|trading as|t\/a|aka)\b/i;

/** The slips reviewers see most in a legal name. Each is a hint: only the tax record knows. */
function slips({ form, legalName }: IdentityDraft): Finding[] {
  const name = legalName.trim();
  if (name === '') return [];
  const alias = ALIAS.exec(legalName);
  if (alias)
    return [
      finding(
        'name-slip',
        'legalName',
        `“${alias[0]}” leads over to a trading name; the tax record has only the legal one.`,
        'Keep what stands before it, and give the other as trading name.',
        { start: alias.index, end: legalName.length },
      ),
    ];
  if ((form === 'private company' || form === 'listed company') && !ENDING.test(name))
    return [
      finding(
        'name-slip',
        'legalName',
        'Companies in the tax record usually end in LLC, Inc. or the like; this name does not.',
        'Compare it with the letter by which the tax number was given.',
      ),
    ];
  if (form === 'sole proprietor' && ENDING.test(name))
    return [
      finding(
        'name-slip',
        'legalName',
        'A sole proprietor is a person; a name like this is a company’s.',
        'Give the owner’s own name, or choose private company.',
      ),
    ];
  return [];
}

/** What else of a legal identity a registrar would ask about (rules.md, A2P 10DLC). */
export function reviewIdentity(b: IdentityDraft): Finding[] {
  const out = slips(b);
  if (b.tradingName?.trim() && b.tradingName.trim().toLowerCase() === b.legalName.trim().toLowerCase())
    out.push(
      finding(
        'trading-name-same',
        'tradingName',
        'It is the legal name once more.',
        'Leave it empty where people know the business by its legal name.',
      ),
    );
  for (const [i, a] of (b.moreAddresses ?? []).entries())
    if ([a.street, a.city, a.state, a.postalCode].some((part) => part.trim() === ''))
      out.push(
        finding(
          'other-address-incomplete',
          `moreAddresses.${i}`,
          'Part of this address is missing.',
          'Give street, city, state and ZIP, or take it away.',
        ),
      );
    else if (postBox(a.street) && a.what.trim() === '')
      out.push(
        finding(
          'other-address-incomplete',
          `moreAddresses.${i}`,
          'A post box is fine here, when it is said what it is for.',
          'Write “post” or “bills”.',
        ),
      );
  const people = b.representatives ?? [];
  // Where it is not said at all, it is not asked.
  if (b.representatives?.length === 0)
    out.push(
      finding(
        'representative-missing',
        'representatives',
        'Nobody is named who may speak for the business.',
        'Name one or two people, with title, phone and e-mail.',
      ),
    );
  people.forEach((p, i) => {
    const lacks = [
      p.name.trim() === '' && 'a name',
      p.title.trim() === '' && 'a title',
      !parsePhone(p.phone, { defaultRegion: 'US', allowFictional: true }).ok && 'a telephone number',
      !EMAIL.test(p.email.trim()) && 'an e-mail address',
    ].filter((part) => part !== false);
    if (lacks.length > 0)
      out.push(
        finding(
          'representative-incomplete',
          `representatives.${i}`,
          `This person lacks ${lacks.join(', ')}.`,
          'Give what is missing, or take the person away.',
        ),
      );
  });
  if (b.statusEmail?.trim() && !EMAIL.test(b.statusEmail.trim()))
    out.push(
      finding(
        'status-email-malformed',
        'statusEmail',
        'This is no e-mail address.',
        'Write it like filings@ferries.example, or leave it empty.',
      ),
    );
  if (b.industry === '')
    out.push(finding('industry-missing', 'industry', 'It is not said what the business does.', 'Choose its industry.'));
  return out;
}
