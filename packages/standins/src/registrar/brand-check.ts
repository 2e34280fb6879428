import type { BrandFiling, FieldResult, Reason } from '@long-gate/gateways';
import { hostOf, SITE, squeezed } from './words.js';

/** Beginnings that the tax office has given to nobody. */
const UNGIVEN = ['00', '07', '08', '09', '17', '18', '19', '28', '29', '49', '69', '70', '78', '79', '89', '96', '97'];

/** What an identity check declines a brand for: what anyone can see, and what the tax record says of name and number. */
export function brandReasons(f: BrandFiling): Reason[] {
  const out: Reason[] = [];
  const no = (field: string, code: string, message: string): void => void out.push({ field, code, message });
  const digits = f.taxNumber.replace(/\D/g, '');
  if (f.form === 'sole proprietor') {
    if (digits !== '')
      no('taxNumber', 'tax-number-not-for-sole-proprietor', 'Whoever has a tax number is no sole proprietor here.');
    if (f.mobile.trim() === '') no('mobile', 'mobile-missing', 'The owner’s mobile is missing.');
  } else if (f.country !== 'US') {
    if (f.taxNumber.trim() === '')
      no('taxNumber', 'tax-number-missing', 'The number in the country’s own register is missing.');
  } else if (digits.length !== 9) no('taxNumber', 'tax-number-malformed', 'A tax number has nine digits.');
  else if (UNGIVEN.includes(digits.slice(0, 2)))
    no('taxNumber', 'tax-number-prefix', 'The tax office has given out no such number.');
  if (f.legalName.trim() === '') no('legalName', 'name-missing', 'The legal name is missing.');
  for (const field of f.country === 'US'
    ? (['street', 'city', 'state', 'postalCode'] as const)
    : (['street', 'city'] as const))
    if (f[field].trim() === '') no(field, 'address-incomplete', 'The address is incomplete.');
  const street = squeezed(f.street);
  if (/^(?:po|pobox|postbox|postoffice|pob|pmb|postalbox)\w*\d/.test(street))
    no('street', 'address-post-box', 'A post box is no place of business.');
  if (!SITE.test(f.website.trim())) no('website', 'website-malformed', 'The website cannot be reached.');
  const domain = f.email.split('@')[1]?.toLowerCase() ?? '';
  const host = hostOf(f.website.trim());
  if (domain === '') no('email', 'email-malformed', 'The e-mail address cannot be written to.');
  else if (host !== '' && domain !== host && !domain.endsWith(`.${host}`))
    no('email', 'email-off-domain', 'The e-mail belongs to another site than the business’s.');
  if (f.form === 'listed company' && (f.exchange === '' || f.ticker === ''))
    no('ticker', 'listing-missing', 'Exchange and ticker are missing.');
  // In the made-up tax record, numbers ending in 00 belong to somebody else.
  if (out.length === 0 && f.country === 'US' && digits.endsWith('00'))
    no('taxNumber', 'name-number-mismatch', 'The tax record knows this number under another name.');
  return out;
}

/** Fields that are held against a record, and against which. */
const CHECKED: readonly (readonly [field: keyof BrandFiling, record: string])[] = [
  ['legalName', 'the tax record'],
  ['taxNumber', 'the tax record'],
  ['street', 'the post’s addresses'],
  ['website', 'the site itself'],
  ['email', 'the website’s domain'],
];

/** What the identity check found, field by field. */
export function brandResults(f: BrandFiling, reasons: readonly Reason[]): FieldResult[] {
  return CHECKED.flatMap(([field, record]): FieldResult[] => {
    if (field === 'taxNumber' && f.form === 'sole proprietor') return [];
    const reason = reasons.find((r) => r.field === field);
    if (reason) return [{ field, result: 'differs', note: reason.message }];
    if (f.country !== 'US' && (field === 'taxNumber' || field === 'legalName'))
      return [{ field, result: 'not checked', note: 'The registrar has no record of this country.' }];
    // A name is only known to match where its number was found.
    return reasons.length > 0 && field === 'legalName' && reasons.some((r) => r.field === 'taxNumber')
      ? [{ field, result: 'not checked', note: 'Without the number there is no record to hold it against.' }]
      : [{ field, result: 'matches', note: `As in ${record}.` }];
  });
}
