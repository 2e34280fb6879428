import type { CampaignFiling, Reason } from '@long-gate/gateways';
import { BANNED, has, LINK, names, PHONE, SHARED_HOSTS, SITE } from './words.js';

/**
 * How the registrar's people decide: plain rules of their own, written without sight of the readiness check, which is
 * held against them and can be wrong. Codes are of one public list, so that a decline can be matched with its mend.
 */

const SELLS = [
  'off',
  'discount',
  'sale',
  'coupon',
  'deal',
  'deals',
  'order now',
  'shop now',
  'buy now',
  'half price',
  'promo',
  'two for one',
  'special offer',
];
const BROADCAST = ['marketing', 'mixed', 'low-volume-mixed', 'charity', 'sole-proprietor', 'polling', 'public-service'];
const SELLING = ['marketing', 'mixed', 'low-volume-mixed', 'charity', 'sole-proprietor'];
const ADULT = [
  'beer',
  'wine',
  'ale',
  'whiskey',
  'vodka',
  'liquor',
  'alcohol',
  'brewery',
  'tobacco',
  'cigars',
  'cigarettes',
  'vape',
  'firearms',
  'ammunition',
  'guns',
  'handgun',
  'rifle',
];
const RECIPIENTS = [
  'people',
  'anyone',
  'everyone',
  'those',
  'customer',
  'customers',
  'client',
  'clients',
  'member',
  'members',
  'subscribers',
  'passengers',
  'guests',
  'students',
  'volunteers',
  'crew',
  'crews',
  'staff',
  'patients',
  'parents',
  'residents',
  'donors',
  'owners',
  'tenants',
  'holders',
  'recipients',
  'riders',
  'readers',
  'visitors',
  'growers',
  'shoppers',
  'fans',
  'friends',
  'travellers',
  'homeowners',
  'who',
];
/** What a reviewer declines a campaign for. */
export function campaignReasons(f: CampaignFiling): Reason[] {
  const out: Reason[] = [];
  const no = (field: string, code: string, message: string): void => void out.push({ field, code, message });
  if (f.description.trim().length < 40)
    no('description', 'description-short', 'The description is too short to judge.');
  if (!names(f.description, f)) no('description', 'description-no-name', 'The description does not say who sends.');
  if (!has(f.description, ...RECIPIENTS))
    no('description', 'recipients-not-named', 'The description does not say to whom the texts go.');
  agreement(f, no);
  const filled = f.samples.filter((s) => s.trim() !== '');
  if (filled.length < (SELLING.includes(f.useCase) && f.useCase !== 'charity' ? 2 : 1))
    no('samples.0', 'samples-too-few', 'There are too few sample messages for this use.');
  f.samples.forEach((sample, i) => {
    if (sample.trim() !== '') read(f, sample, `samples.${i}`, no);
  });
  const anyStop = filled.some((s) => has(s, 'stop', 'unsubscribe', 'opt out'));
  if (BROADCAST.includes(f.useCase) && (f.useCase === 'marketing' ? !filled.every((s) => has(s, 'stop')) : !anyStop))
    no('samples.0', 'sample-no-stop', 'A sample shows no way to stop.');
  const links = filled.some((s) => LINK.test(s));
  if (f.hasLinks && !links) no('hasLinks', 'link-declared-but-absent', 'Links are declared; no sample has one.');
  if (!f.hasLinks && links) no('samples.0', 'link-undeclared', 'A sample has a link that is not declared.');
  if (!f.hasPhones && filled.some((s) => PHONE.test(s)))
    no('samples.0', 'phone-undeclared', 'A sample has a phone number that is not declared.');
  if (f.useCase === 'mixed' && (f.subUses.length < 2 || f.subUses.length > 5))
    no('subUses', 'sub-uses-count', 'A mixed campaign names two to five uses.');
  replies(f, no);
  if (!SITE.test(f.privacyUrl.trim())) no('privacyUrl', 'privacy-page-missing', 'There is no privacy page.');
  for (const sentence of f.privacyWords.split(/[.!?](?:\s|$)/))
    if (
      has(sentence, 'share', 'sell', 'pass', 'disclose', 'rent') &&
      has(sentence, 'partners', 'third parties', 'affiliates', 'companies', 'sponsors') &&
      has(sentence, 'marketing', 'offers', 'promotions', 'advertising', 'promotional') &&
      !has(sentence, 'not', 'never', 'no', 'nobody', 'without')
    )
      no('privacyWords', 'privacy-shares-numbers', 'The privacy page lets numbers be shared for others’ marketing.');
  return out;
}

type No = (field: string, code: string, message: string) => void;

function agreement(f: CampaignFiling, no: No): void {
  const a = f.agreement;
  if (a.trim().length < 40) return no('agreement', 'agreement-short', 'How people agree is not described.');
  for (const sentence of a.split(/[.!?](?:\s|$)/)) {
    const denied = has(sentence, 'not', 'never', 'no', 'nobody', 'without', 'nothing');
    const tied =
      has(
        sentence,
        'must agree',
        'must consent',
        'automatically',
        'required',
        'condition of',
        'thereby',
        'pre ticked',
      ) ||
      (has(sentence, 'by buying', 'by ordering', 'by booking', 'by purchasing', 'by signing', 'by visiting') &&
        has(sentence, 'agree', 'agrees', 'consent', 'consents', 'receive')) ||
      (has(sentence, 'terms', 'terms of service') &&
        has(sentence, 'include', 'includes', 'contain') &&
        has(sentence, 'texts', 'permission')) ||
      (has(sentence, 'all', 'every') && has(sentence, 'are added', 'is added', 'are enrolled', 'is enrolled'));
    if (tied && !denied)
      no('agreement', 'agreement-condition', 'Agreement is not free: it is a condition, or taken as given.');
    const strangers =
      has(
        sentence,
        'bought',
        'buy',
        'purchased',
        'rented',
        'broker',
        'third party list',
        'public records',
        'directories',
        'data company',
      ) ||
      (has(sentence, 'partners', 'partner') && has(sentence, 'pass', 'lists', 'list', 'leads'));
    if (strangers && has(sentence, 'list', 'lists', 'names', 'numbers', 'leads', 'contacts', 'details') && !denied)
      no('agreement', 'agreement-bought-list', 'These people did not agree with you.');
    if (
      has(sentence, 'share', 'sell') &&
      has(sentence, 'partners', 'third parties', 'affiliates', 'companies') &&
      !denied
    )
      no('agreement', 'numbers-shared', 'Consent is passed on to others.');
  }
  if (
    !has(
      a,
      'page',
      'form',
      'counter',
      'desk',
      'till',
      'card',
      'sheet',
      'call',
      'phone',
      'keyword',
      'app',
      'portal',
      'account',
      'text',
      'contract',
      'checkout',
      'website',
      'site',
      'settings',
      'panel',
      'sticker',
      'paper',
    ) &&
    !LINK.test(a)
  )
    no('agreement', 'agreement-no-place', 'It is not said where people agree.');
}

function read(f: CampaignFiling, sample: string, field: string, no: No): void {
  if (sample.trim().length < 20) no(field, 'sample-short', 'The sample is no whole message.');
  if (!names(sample, f)) no(field, 'sample-no-name', 'The sample does not say who sends it.');
  const bare = sample
    .replace(/[[{<(][^\]}>)]*[\]}>)]/g, '')
    .replaceAll(f.nameLine, '')
    .replace(/reply stop.*$/i, '');
  if (bare.replace(/[^a-z]/gi, '').length < 6)
    no(field, 'sample-only-placeholders', 'The sample has no words of its own.');
  if (SHARED_HOSTS.some((h) => sample.toLowerCase().includes(`${h}/`)))
    no(field, 'sample-shared-shortener', 'The link is on a host that many senders share.');
  if (/https?:\/\/\d+\.\d+\.\d+\.\d+/.test(sample)) no(field, 'sample-bare-ip', 'The link leads to a bare address.');
  if (!SELLING.includes(f.useCase) && has(sample, ...SELLS))
    no(field, 'sample-other-use', 'An offer does not belong to this use.');
  if (
    has(sample, 'code is', 'verification code', 'passcode') &&
    !['two-factor', 'mixed', 'low-volume-mixed'].includes(f.useCase)
  )
    no(field, 'sample-other-use', 'A code does not belong to this use.');
  if (has(`${sample} ${f.description}`, ...BANNED)) no(field, 'forbidden-subject', 'This subject is not carried.');
  if (!f.ageRestricted && has(sample, ...ADULT) && !has(sample, 'ginger beer', 'root beer', 'nail gun', 'staple gun'))
    no(field, 'age-gate-undeclared', 'What it speaks of is for adults; that is not declared.');
  if (!f.lending && has(sample, 'loan', 'loans', 'mortgage', 'refinance', 'apr'))
    no(field, 'lending-undeclared', 'Lending is not declared.');
}

function replies(f: CampaignFiling, no: No): void {
  const joined = f.optInMessage;
  if (
    !names(joined, f) ||
    !/\bHELP\b/.test(joined) ||
    !/\bSTOP\b/.test(joined) ||
    !/rates?\b[^.]*apply|charges? may/i.test(joined) ||
    !/\d|frequency|varies|weekly|monthly|month|week|daily|day\b/i.test(joined)
  )
    no('optInMessage', 'optin-message-incomplete', 'The joining message lacks one of its parts.');
  if (!names(f.optOutMessage, f))
    no('optOutMessage', 'optout-reply-no-name', 'The answer to STOP does not name the business.');
  if (
    !has(
      f.optOutMessage,
      'no more',
      'no further',
      'no longer',
      'not receive',
      'not get',
      'unsubscribed',
      'nothing more',
    )
  )
    no('optOutMessage', 'optout-reply-no-end', 'The answer to STOP does not end it.');
  if (!LINK.test(f.helpMessage) && !/@|\d{3}/.test(f.helpMessage))
    no('helpMessage', 'help-reply-no-contact', 'The answer to HELP names no way to reach anybody.');
}

/** Whether an answer to a suspension says what was changed. */
export function liftsSuspension(text: string): boolean {
  return (
    text.trim().length >= 40 &&
    has(
      text,
      'changed',
      'removed',
      'stopped',
      'stop sending',
      'no longer',
      'will not',
      'only to',
      'only those',
      'asked again',
      'taken off',
      'paused',
      'fewer',
    )
  );
}
