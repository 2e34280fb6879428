import { inShort } from '../testing/findings.js';
import { BRAND, CAMPAIGN, NAMES } from '../testing/registration.js';
import { hostOf, reviewBrand, type BrandDraft } from './review-brand.js';
import type { CampaignDraft } from './campaign-draft.js';
import { reviewCampaign } from './review-campaign.js';
import { reviewRegistration } from './review.js';
import { EIN_PREFIXES_NEVER_ASSIGNED, USE_CASES } from './terms.data.js';
import { LEGAL_FORMS, type LegalForm } from './legal-forms.data.js';
import { paceFor, throughputOf } from './throughput.js';

const brand = (over: Partial<BrandDraft>): string[] => {
  const b = { ...BRAND, ...over };
  return inShort(reviewBrand(b), (field) => String(b[field as keyof BrandDraft]));
};

describe('a brand under review', () => {
  it('is told of every part that is missing, each at its field', () => {
    expect(brand({})).toEqual([]);
    expect(
      brand({
        legalName: ' ',
        taxNumber: '',
        street: ' ',
        city: '',
        state: '',
        postalCode: '',
        website: '',
        email: '',
      }),
    ).toEqual([
      'name-missing legalName',
      'tax-number-missing taxNumber',
      'address-incomplete street',
      'address-incomplete city',
      'address-incomplete state',
      'address-incomplete postalCode',
      'website-missing website',
      'email-malformed email',
    ]);
  });

  it('has a tax number of nine digits with a prefix that was ever given out', () => {
    for (const taxNumber of ['123456789', '12-3456789', ' 12-3456789 ']) expect(brand({ taxNumber })).toEqual([]);
    for (const taxNumber of ['12-345678', '12-34567890', '1-23456789', 'x12-3456789', '12-3456789x', '12 3456789'])
      expect(brand({ taxNumber })).toEqual([`tax-number-malformed taxNumber “${taxNumber}”`]);
    for (const prefix of EIN_PREFIXES_NEVER_ASSIGNED)
      expect(brand({ taxNumber: `${prefix}-3456789` })).toEqual([`tax-number-prefix taxNumber “${prefix}”`]);
    expect(brand({ taxNumber: '', taxNumberOnFile: true })).toEqual([]);
    const sole = { legalName: 'Marit Solheim', form: 'sole proprietor', mobile: '+12015550142' } as const;
    expect(brand({ ...sole, taxNumber: '' })).toEqual([]);
    expect(brand({ ...sole, taxNumber: '', mobile: '555-01' })).toEqual(['mobile-missing mobile']);
    expect(brand({ ...sole })).toEqual(['tax-number-not-for-sole-proprietor taxNumber “12-3456789”']);
    expect(brand({ ...sole, taxNumber: '', taxNumberOnFile: true })).toEqual([
      'tax-number-not-for-sole-proprietor taxNumber “”',
    ]);
  });

  it('has a ZIP code of five digits, or nine', () => {
    for (const postalCode of ['07030', '07030-1234', ' 07030 ']) expect(brand({ postalCode })).toEqual([]);
    for (const postalCode of ['7030', '070301', '07030-12', 'x07030', '07030x'])
      expect(brand({ postalCode })).toEqual([`address-incomplete postalCode “${postalCode}”`]);
  });

  it('is a place, not a post box, however it is written', () => {
    for (const [street, words] of [
      ['P.O. Box 12', 'P.O. Box'],
      ['PO Box 12', 'PO Box'],
      ['Mill House, Box 9', 'Box 9'],
      ['Postal Box 3', 'Postal Box'],
      ['Post Office Box 3', 'Post Office Box'],
      ['p. o. box 7', 'p. o. box'],
    ] as const)
      expect(brand({ street }))
        .withContext(street)
        .toEqual([`address-post-box street “${words}”`]);
    for (const street of ['4 Boxwood Lane', '12 Postern Street', 'Box Hill Road 4'])
      expect(brand({ street })).toEqual([]);
  });

  it('has a site, and an e-mail on its domain or below it', () => {
    expect(brand({ website: 'saltmarsh' })).toEqual(['website-malformed website “saltmarsh”']);
    expect(brand({ email: 'office' })).toEqual(['email-malformed email']);
    expect(brand({ email: 'a b@saltmarsh.example' })).toEqual(['email-malformed email']);
    expect(brand({ email: 'office@saltmarsh' })).toEqual(['email-malformed email']);
    expect(brand({ email: 'office@mail.example' })).toEqual(['email-off-domain email “mail.example”']);
    expect(brand({ email: ' office@mail.example ' })).toEqual(['email-off-domain email “mail.example”']);
    expect(brand({ email: 'office@notsaltmarsh.example' })).toEqual(['email-off-domain email “notsaltmarsh.example”']);
    for (const email of ['Office@SALTMARSH.example', ' office@desk.saltmarsh.example '])
      expect(brand({ email })).toEqual([]);
    expect(brand({ website: 'https://www.saltmarsh.example' })).toEqual([]);
    expect(brand({ website: 'https://wwwsaltmarsh.example' })).toEqual(['email-off-domain email “saltmarsh.example”']);
    expect(reviewBrand({ ...BRAND, email: '' })[0]?.message).toContain('missing');
    expect(reviewBrand({ ...BRAND, email: 'x' })[0]?.message).not.toContain('missing');
  });

  it('of a sole proprietor has a mobile, of a listed company exchange and ticker', () => {
    expect(brand({ legalName: 'Marit Solheim', form: 'sole proprietor', taxNumber: '', mobile: ' ' })).toEqual([
      'mobile-missing mobile',
    ]);
    for (const [exchange, ticker] of [
      ['', 'SMF'],
      ['QSE', ' '],
      ['', ''],
    ] as const)
      expect(brand({ form: 'listed company', exchange, ticker })).toEqual(['listing-missing ticker']);
    expect(brand({ form: 'listed company', exchange: 'QSE', ticker: 'SMF' })).toEqual([]);
    for (const form of LEGAL_FORMS.filter((f) => f !== 'sole proprietor' && f !== 'listed company'))
      expect(brand({ form })).withContext(form).toEqual([]);
  });
});

describe('the host of a web address', () => {
  it('is read as people write it', () => {
    for (const [written, host] of [
      ['saltmarsh.example', 'saltmarsh.example'],
      [' https://Saltmarsh.Example/a?b#c ', 'saltmarsh.example'],
      ['http://a-b.saltmarsh.example:8080/', 'a-b.saltmarsh.example'],
      ['HTTP://x.example?y', 'x.example'],
      ['x.example#y', 'x.example'],
      ['ftp://saltmarsh.example', null],
      ['saltmarsh', null],
      ['-a.example', null],
      ['a-.example', null],
      ['saltmarsh.e', null],
      ['saltmarsh.example and more', null],
      ['say saltmarsh.example', null],
      ['http://192.0.2.1', null],
      ['', null],
    ] as const)
      expect(hostOf(written)).withContext(written).toBe(host);
  });
});

const wordsOf = (c: CampaignDraft) => (field: string) => {
  const [name = '', index] = field.split('.');
  return index === undefined ? String(c[name as keyof CampaignDraft]) : (c.samples[Number(index)] ?? '');
};
const campaign = (over: Partial<CampaignDraft>): string[] => {
  const c = { ...CAMPAIGN, ...over };
  return inShort(reviewCampaign(c, NAMES), wordsOf(c));
};
/** The first sample said otherwise. */
const sample = (text: string, over: Partial<CampaignDraft> = {}): string[] =>
  campaign({ samples: [text, CAMPAIGN.samples[1] ?? ''], ...over });
const NO_LINK = 'Saltmarsh Ferries: the Saturday crossing has places left. Reply STOP to end.';

/** What another campaign of the same business says. */
const OTHER = {
  description: 'Saltmarsh Ferries answers passengers who write to the lost-property desk about things left on board.',
  samples: [
    'Saltmarsh Ferries: we found a blue umbrella: saltmarsh.example/lost Reply STOP to end.',
    'Saltmarsh Ferries: the desk is open until six today. Reply STOP to end.',
  ],
};

describe('a campaign under review', () => {
  it('is let through where there is nothing to say', () => expect(campaign({})).toEqual([]));

  it('describes itself in 40 to 2,048 characters that say who sends what', () => {
    const at = (n: number) => 'Saltmarsh Ferries sends '.padEnd(n, 'x');
    expect(campaign({ description: at(39) })).toEqual(['description-short description']);
    expect(campaign({ description: `  ${at(39)}  ` })).toEqual(['description-short description']);
    expect(campaign({ description: at(40) })).toEqual([]);
    expect(campaign({ description: at(2048) })).toEqual([]);
    expect(campaign({ description: at(2049) })).toEqual(['description-long description']);
    expect(campaign({ description: 'Crossings, fares and news of Saltmarsh Ferries for everybody.' })).toEqual([
      'description-vague description',
    ]);
    for (const verb of [
      'send',
      'sends',
      'sent',
      'receive',
      'text',
      'notify',
      'notification',
      'remind',
      'alert',
      'answer',
      'tell',
      'inform',
    ])
      expect(campaign({ description: `What Saltmarsh Ferries ${verb} is about crossings, fares and news.` }))
        .withContext(verb)
        .toEqual([]);
  });

  it('says in 40 to 2,048 characters where people agree', () => {
    const at = (n: number) => 'On our page '.padEnd(n, 'x');
    expect(campaign({ agreement: '' })).toEqual(['agreement-short agreement']);
    expect(campaign({ agreement: at(39) })).toEqual(['agreement-short agreement']);
    expect(campaign({ agreement: at(40) })).toEqual([]);
    expect(campaign({ agreement: at(2048) })).toEqual([]);
    expect(campaign({ agreement: at(2049) })).toEqual(['agreement-long agreement']);
    expect(campaign({ agreement: 'People tell us that they would like to hear from us.' })).toEqual([
      'agreement-no-place agreement',
    ]);
    expect(campaign({ agreement: 'They say so.' })).toEqual([
      'agreement-short agreement',
      'agreement-no-place agreement',
    ]);
    for (const place of [
      'at the counter',
      'on paper',
      'by phone',
      'by texting FERRY',
      'in the app',
      'at the till',
      'in person',
      'at join.saltmarsh.example',
    ])
      expect(campaign({ agreement: `People tell us ${place} that they would like to hear from us.` }))
        .withContext(place)
        .toEqual([]);
  });

  it('makes agreement no condition, and buys no lists', () => {
    const said = (sentence: string) =>
      campaign({ agreement: `On our page people tick a box for texts. ${sentence} That is all.` });
    for (const sentence of [
      'By booking a crossing you agree to texts.',
      'Everybody must agree to texts.',
      'Consent is required for a booking.',
      'People are automatically enrolled.',
      'Texts are a condition of purchase.',
      'Placing an order means you consent to texts.',
      'By booking\na crossing you agree to texts.',
      'Everyone who books gets our texts.',
      'All who sign up are opted in.',
      'Texts are a condition of membership.',
    ])
      expect(said(sentence))
        .withContext(sentence)
        .toEqual([`agreement-condition agreement “${sentence}”`]);
    for (const sentence of [
      'Texts are never a condition of purchase.',
      'It is not a condition of sale.',
      'By booking they get a ticket.',
    ])
      expect(said(sentence)).withContext(sentence).toEqual([]);
    expect(said('Some come from bought lists too.')).toEqual(['agreement-bought-list agreement “bought lists”']);
    // Each of them, not the first alone; a denial beside it hides none.
    expect(
      said('Texts are not a condition of sale. Everybody must agree to texts. People are automatically enrolled.'),
    ).toEqual([
      'agreement-condition agreement “Everybody must agree to texts.”',
      'agreement-condition agreement “People are automatically enrolled.”',
    ]);
    for (const [sentence, words] of [
      ['We use a list we bought last year.', 'list we bought'],
      ['Contacts were purchased from a fair.', 'Contacts were purchased'],
      ['Some come from a data broker.', 'data broker'],
      ['Some come from a partner’s list.', 'partner’s list'],
    ] as const)
      expect(said(sentence))
        .withContext(sentence)
        .toEqual([`agreement-bought-list agreement “${words}”`]);
    expect(said('They tell us when they buy bread.')).toEqual([]);
    expect(said('Some come from third-party leads.')).toEqual(['agreement-bought-list agreement “third-party leads”']);
  });

  it('stays off forbidden subjects, wherever they stand', () => {
    const text = 'Saltmarsh Ferries sends people who joined news of its casino nights.';
    expect(campaign({ description: text })).toEqual(['forbidden-subject description “casino”']);
    expect(campaign({ agreement: 'On our page people tick a box for texts on debt relief.' })).toEqual([
      'forbidden-subject agreement “debt relief”',
    ]);
    expect(sample('Saltmarsh Ferries: payday loans on board: saltmarsh.example Reply STOP to end.')).toEqual([
      'forbidden-subject samples.0 “payday loans”',
    ]);
  });

  it('has as many samples as its use asks for, five at most', () => {
    const one =
      'Saltmarsh Ferries: the Saturday boat leaves from the north quay: saltmarsh.example/f4 Reply STOP to end.';
    expect(campaign({ samples: [one] })).toEqual(['samples-too-few samples.1']);
    expect(campaign({ samples: [one, '  '] })).toEqual(['samples-too-few samples.1']);
    expect(campaign({ samples: [] })).toEqual(['samples-too-few samples.0']);
    expect(campaign({ samples: Array(5).fill(one) as string[] })).toEqual([]);
    expect(campaign({ samples: Array(6).fill(one) as string[] })).toEqual(['samples-too-many samples.5']);
    expect(campaign({ useCase: 'customer-care', samples: [one] })).toEqual([]);
    expect(campaign({ useCase: 'customer-care', samples: [''] })).toEqual(['samples-too-few samples.0']);
    expect(campaign({ useCase: 'no such use', samples: [one] })).toEqual([]);
    expect(reviewCampaign({ ...CAMPAIGN, samples: [one] }, NAMES)[0]?.message).toBe(
      'Marketing asks for 2 samples; there is 1.',
    );
    expect(
      reviewCampaign({ ...CAMPAIGN, useCase: 'customer-care', hasLinks: false, samples: [] }, NAMES)[0]?.message,
    ).toBe('Customer care asks for 1 sample; there are 0.');
    expect(reviewCampaign({ ...CAMPAIGN, samples: [] }, NAMES)[0]?.message).toBe(
      'Marketing asks for 2 samples; there are 0.',
    );
    const description = `${CAMPAIGN.description} They go out from all our branches, for the ballot measure on the quay.`;
    for (const u of USE_CASES)
      expect(campaign({ useCase: u.code, description, samples: [one, one], subUses: ['customer-care', 'marketing'] }))
        .withContext(u.code)
        .toEqual([]);
  });

  it('writes samples of 20 to 1,024 characters, in words', () => {
    const named = (n: number) => `Saltmarsh Ferries: saltmarsh.example STOP `.padEnd(n, 'y');
    expect(sample('Saltmarsh Ferries: x')).toEqual(['sample-no-stop samples.0 “Saltmarsh Ferries: x”']);
    expect(sample('Saltmarsh Ferries x')).toContain('sample-short samples.0 “Saltmarsh Ferries x”');
    expect(sample('Saltmarsh Ferries: xy').some((f) => f.startsWith('sample-short'))).toBeFalse();
    expect(sample(named(1024)).some((f) => f.startsWith('sample-long'))).toBeFalse();
    expect(sample(named(1025))).toContain('sample-long samples.0');
    for (const holes of ['[name] [date] [link] ____ xxxx STOP', '{{name}} {date} <link> STOP'])
      expect(sample(holes)).withContext(holes).toContain(`sample-only-placeholders samples.0 “${holes}”`);
    expect(sample(`${NO_LINK} [name]`)).toEqual([]);
  });

  it('names the business in each sample, by either name', () => {
    expect(sample('Hello! Cabins from $19: saltmarsh.example/f4 Reply STOP to end.')).toEqual([
      'sample-no-name samples.0 “Hello!”',
    ]);
    expect(sample('Cabins at saltmarsh dot example, reply STOP to end')).toEqual([
      'sample-no-name samples.0 “Cabins at saltmarsh dot example, reply STOP to end”',
    ]);
    expect(sample('Saltmarsh Ferries LLC has cabins: saltmarsh.example/f4 Reply STOP to end.')).toEqual([]);
  });

  it('shows a way to stop in every sample of marketing, in one of other uses that need it, in none of the rest', () => {
    const bare = 'Saltmarsh Ferries: the boat leaves from the north quay: saltmarsh.example/f4';
    expect(campaign({ samples: [CAMPAIGN.samples[0] ?? '', bare] })).toEqual([`sample-no-stop samples.1 “${bare}”`]);
    expect(campaign({ useCase: 'low-volume-mixed', samples: [CAMPAIGN.samples[0] ?? '', bare] })).toEqual([]);
    expect(campaign({ useCase: 'low-volume-mixed', samples: [bare, bare] })).toEqual([
      `sample-no-stop samples.0 “${bare}”`,
    ]);
    expect(campaign({ useCase: 'customer-care', samples: [bare] })).toEqual([]);
  });

  it('carries no shared short link, no bare address, and nothing for adults without saying so', () => {
    expect(sample('Saltmarsh Ferries: cabins: bit.ly/3x and 192.0.2.7/x Reply STOP to end.').slice(0, 1)).toEqual([
      'sample-shared-shortener samples.0 “bit.ly/3x”',
    ]);
    expect(sample('Saltmarsh Ferries: cabins: http://192.0.2.7/x Reply STOP to end.')).toEqual([
      'sample-bare-ip samples.0 “http://192.0.2.7/x”',
    ]);
    const wine = 'Saltmarsh Ferries: a glass of wine on deck: saltmarsh.example Reply STOP to end.';
    expect(sample(wine)).toEqual(['age-gate-undeclared samples.0 “wine”']);
    expect(sample(wine, { ageRestricted: true })).toEqual([]);
  });

  it('declares what its samples show, and shows what it declares', () => {
    expect(campaign({ hasLinks: false })).toEqual(['link-undeclared samples.0 “saltmarsh.example/f4”']);
    expect(campaign({ samples: [NO_LINK, NO_LINK] })).toEqual(['link-declared-but-absent hasLinks']);
    expect(campaign({ samples: [NO_LINK, NO_LINK], hasLinks: false })).toEqual([]);
    expect(campaign({ samples: [NO_LINK, CAMPAIGN.samples[1] ?? ''], hasLinks: false })).toEqual([
      'link-undeclared samples.1 “saltmarsh.example/f5”',
    ]);
    const call = 'Saltmarsh Ferries: call (201) 555-0142 about saltmarsh.example/f4 Reply STOP to end.';
    expect(sample(call)).toEqual(['phone-undeclared samples.0 “(201) 555-0142”']);
    expect(sample(call, { hasPhones: true })).toEqual([]);
    expect(campaign({ hasPhones: true })).toEqual(['phone-declared-but-absent hasPhones']);
    expect(campaign({ samples: ['', ''], hasPhones: true }))
      .withContext('nothing shown yet')
      .toEqual(['samples-too-few samples.0']);
    for (const [subUses, found] of [
      [['a'], true],
      [['a', 'b'], false],
      [['a', 'b', 'c', 'd', 'e'], false],
      [['a', 'b', 'c', 'd', 'e', 'f'], true],
    ] as const)
      expect(campaign({ useCase: 'mixed', subUses: [...subUses] })).toEqual(found ? ['sub-uses-count subUses'] : []);
    expect(campaign({ subUses: [] })).toEqual([]);
  });

  it('answers in 20 to 320 characters', () => {
    const cases = [
      ['optOutMessage', 'Saltmarsh Ferries: no more. '],
      ['helpMessage', 'Saltmarsh Ferries: office@saltmarsh.example '],
    ] as const;
    for (const [field, words] of cases) {
      expect(campaign({ [field]: words.padEnd(320, 'x') })).toEqual([]);
      expect(campaign({ [field]: words.padEnd(321, 'x') })).toEqual([`reply-length ${field}`]);
      expect(campaign({ [field]: '' })).toEqual([`reply-length ${field}`]);
    }
    expect(campaign({ helpMessage: 'Saltmarsh Ferries a@b.c'.slice(0, 19) })).toContain('reply-length helpMessage');
    expect(reviewCampaign({ ...CAMPAIGN, helpMessage: '' }, NAMES)[0]?.fix).toBe('Write it out.');
    expect(reviewCampaign({ ...CAMPAIGN, helpMessage: cases[1][1].padEnd(400, 'x') }, NAMES)[0]?.fix).toBe(
      'Shorten it.',
    );
    expect(campaign({ optInMessage: '' })).toEqual(['reply-length optInMessage']);
  });

  it('welcomes with name, frequency, rates, HELP and STOP, and says which is missing', () => {
    const lacks = (optInMessage: string) =>
      reviewCampaign({ ...CAMPAIGN, optInMessage }, NAMES)
        .filter((f) => f.code === 'optin-message-incomplete')
        .map((f) => f.message);
    const whole = CAMPAIGN.optInMessage;
    for (const [from, to, missing] of [
      ['Saltmarsh Ferries', 'The ferries', 'the name'],
      ['2 to 4 texts a month', 'some texts', 'how often'],
      ['Msg and data rates may apply', 'It may cost', 'that rates may apply'],
      ['HELP for help', 'help for it', 'HELP'],
      ['STOP to end', 'stop to end', 'STOP'],
    ] as const)
      expect(lacks(whole.replace(from, to))).toEqual([`The joining message lacks ${missing}.`]);
    expect(lacks('You have joined our list just now.')).toEqual([
      'The joining message lacks the name, how often, that rates may apply, HELP, STOP.',
    ]);
    expect(lacks(whole.replace('Saltmarsh Ferries', 'Saltmarsh Ferries LLC'))).toEqual([]);
    expect(campaign({ optInMessage: 'You have joined our list just now.' })).toEqual([
      'optin-message-incomplete optInMessage “You have joined our list just now.”',
    ]);
  });

  it('says goodbye with its name and that no more will come, and helps with a way to reach it', () => {
    expect(campaign({ optOutMessage: 'You are out and will get no more texts.' })).toEqual([
      'optout-reply-no-name optOutMessage “You are out and will get no more texts.”',
    ]);
    expect(campaign({ optOutMessage: 'Saltmarsh Ferries: sorry to see you go.' })).toEqual([
      'optout-reply-no-end optOutMessage “Saltmarsh Ferries: sorry to see you go.”',
    ]);
    for (const end of ['you will not receive texts', 'no further texts', 'no longer on our list', 'we won’t text you'])
      expect(campaign({ optOutMessage: `Saltmarsh Ferries: ${end}.` }))
        .withContext(end)
        .toEqual([]);
    const help = (words: string) => campaign({ helpMessage: `Saltmarsh Ferries: ${words}` });
    expect(help('we are glad to help you.')).toEqual([
      'help-reply-no-contact helpMessage “Saltmarsh Ferries: we are glad to help you.”',
    ]);
    for (const way of [
      'call 201-555-0142 for help.',
      'see saltmarsh.example/help',
      'write to office@saltmarsh.example',
    ])
      expect(help(way)).withContext(way).toEqual([]);
  });

  it('has a page for privacy and one for terms', () => {
    expect(campaign({ privacyUrl: '' })).toEqual(['privacy-page-missing privacyUrl']);
    expect(campaign({ termsUrl: 'soon' })).toEqual(['terms-page-missing termsUrl']);
  });

  it('is reviewed with its brand, each finding under its own path', () => {
    expect(
      reviewRegistration({
        nameLine: 'Saltmarsh Ferries',
        brand: { ...BRAND, legalName: '' },
        campaigns: [CAMPAIGN, { ...CAMPAIGN, ...OTHER, privacyUrl: '' }],
      }).map((f) => f.field),
    ).toEqual(['brand.legalName', 'campaigns.1.privacyUrl']);
  });

  it('is held against the others of its business, and against what its legal form may have', () => {
    const review = (form: LegalForm, ...campaigns: CampaignDraft[]): string[] =>
      reviewRegistration({ nameLine: 'Saltmarsh Ferries', brand: { ...BRAND, form }, campaigns })
        .filter((f) => f.field.startsWith('campaigns'))
        .map((f) => `${f.code} ${f.field}`);
    expect(review('private company', CAMPAIGN, CAMPAIGN)).toEqual(['campaigns-alike campaigns.1.description']);
    expect(review('private company', CAMPAIGN, { ...CAMPAIGN, ...OTHER })).toEqual([]);
    const own = { ...CAMPAIGN, useCase: 'sole-proprietor' };
    expect(review('sole proprietor', own)).toEqual([]);
    expect(review('sole proprietor', own, { ...own, ...OTHER })).toEqual(['campaigns-too-many campaigns.1.useCase']);
    expect(review('sole proprietor', CAMPAIGN)).toEqual(['use-not-for-form campaigns.0.useCase']);
    expect(review('private company', own)).toEqual(['use-not-for-form campaigns.0.useCase']);
    expect(review('private company', { ...CAMPAIGN, useCase: 'charity' })).toEqual([
      'use-not-for-form campaigns.0.useCase',
    ]);
    expect(review('non-profit', { ...CAMPAIGN, useCase: 'charity' })).toEqual([]);
  });

  it('links to its own site alone, where that is known', () => {
    const linked = (link: string): string[] =>
      reviewCampaign(
        { ...CAMPAIGN, samples: [`Saltmarsh Ferries: see ${link} Reply STOP to end.`, CAMPAIGN.samples[1] ?? ''] },
        { ...NAMES, website: BRAND.website },
      ).map((f) => f.code);
    for (const good of ['saltmarsh.example/f4', 'https://www.saltmarsh.example', 'go.saltmarsh.example/f4'])
      expect(linked(good)).withContext(good).toEqual([]);
    expect(linked('ferry-deals.example/f4')).toEqual(['sample-link-off-domain']);
    expect(linked('saltmarsh.example.deals.example/f4')).toEqual(['sample-link-off-domain']);
  });
});

describe('what a brand may send', () => {
  it('follows its vetting, by kind of network', () => {
    const of = (score: number | null, use = 'marketing', form: BrandDraft['form'] = 'private company') => {
      const t = throughputOf(form, score, use);
      return [t.campaignPerSecond, t.brandPerDay, t.numberPerSecond];
    };
    for (const [score, a, b] of [
      [100, 75, 200_000],
      [75, 75, 200_000],
      [74, 40, 40_000],
      [50, 40, 40_000],
      [49, 4, 10_000],
      [25, 4, 10_000],
      [24, 4, 2_000],
      [0, 4, 2_000],
      [null, 4, 2_000],
    ] as const)
      expect(of(score)).withContext(String(score)).toEqual([a, b, 10]);
    expect(of(90, 'low-volume-mixed')).toEqual([1.25, 2_000, 10]);
    expect(of(90, 'marketing', 'sole proprietor')).toEqual([0.25, 1_000, 10]);
  });
  it('on networks that pace numbers is the slower of number and campaign', () => {
    const fast = throughputOf('private company', 90, 'marketing');
    const slow = throughputOf('sole proprietor', null, 'sole-proprietor');
    expect((['A', 'B', 'C'] as const).map((k) => paceFor(k, fast))).toEqual([75, 75, 10]);
    expect((['A', 'B', 'C'] as const).map((k) => paceFor(k, slow))).toEqual([0.25, 0.25, 0.25]);
  });
});
