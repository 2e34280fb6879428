import { reviewBrand, type BrandDraft } from './review-brand.js';
import type { CampaignDraft } from './campaign-draft.js';
import { reviewCampaign } from './review-campaign.js';
import { BRAND, CAMPAIGN, NAMES } from '../testing/registration.js';
import { USE_CASES } from './terms.data.js';
import { throughputOf } from './throughput.js';

const brand = (over: Partial<BrandDraft>): string[] => reviewBrand({ ...BRAND, ...over }).map((f) => f.code);
const campaign = (over: Partial<CampaignDraft>): string[] =>
  reviewCampaign({ ...CAMPAIGN, ...over }, NAMES).map((f) => f.code);

describe('reviewBrand', () => {
  it('has nothing to say of a good one', () => expect(brand({})).toEqual([]));
  it('finds tax numbers that cannot be', () => {
    expect(brand({ taxNumber: '' })).toEqual(['tax-number-missing']);
    expect(brand({ taxNumber: '12-34567' })).toEqual(['tax-number-malformed']);
    expect(brand({ taxNumber: '07-1234567' })).toEqual(['tax-number-prefix']);
    expect(brand({ legalName: 'Marit Solheim', form: 'sole proprietor', mobile: '+12015550142' })).toEqual([
      'tax-number-not-for-sole-proprietor',
    ]);
    expect(brand({ taxNumber: '', taxNumberOnFile: true })).toEqual([]);
  });
  it('wants the e-mail on the website’s domain or below it', () => {
    expect(brand({ email: 'a@mail.example' })).toEqual(['email-off-domain']);
    expect(brand({ email: 'a@desk.saltmarsh.example' })).toEqual([]);
    expect(brand({ email: 'a@notsaltmarsh.example' })).toEqual(['email-off-domain']);
  });
  it('wants a place, not a post box', () => {
    expect(brand({ street: 'P.O. Box 12' })).toEqual(['address-post-box']);
    expect(brand({ city: ' ' })).toEqual(['address-incomplete']);
  });
});

describe('reviewCampaign', () => {
  it('has nothing to say of a good one, a bracketed variable included', () => expect(campaign({})).toEqual([]));
  it('finds a sample that does not name the business, at its first words', () => {
    const f = reviewCampaign(
      {
        ...CAMPAIGN,
        samples: [
          CAMPAIGN.samples[0] ?? '',
          'Last places on the Saturday crossing! saltmarsh.example/f5 Reply STOP to end.',
        ],
      },
      NAMES,
    );
    expect(f.map((x) => x.code)).toEqual(['sample-no-name']);
    expect(f[0]?.field).toBe('samples.1');
    expect(f[0]?.span).toEqual({ start: 0, end: 37 });
  });
  it('finds what each rule forbids', () => {
    const s = CAMPAIGN.samples;
    expect(
      campaign({ samples: [s[0] ?? '', 'Saltmarsh Ferries: last places on Saturday: saltmarsh.example/f5'] }),
    ).toEqual(['sample-no-stop']);
    expect(campaign({ samples: s.map((x) => x.replace(/saltmarsh\.example\/f\d/, 'our page')) })).toEqual([
      'link-declared-but-absent',
    ]);
    expect(campaign({ hasLinks: false })).toEqual(['link-undeclared']);
    expect(
      campaign({ samples: [s[0] ?? '', 'Saltmarsh Ferries: last places lnk.example/9x Reply STOP to end.'] }),
    ).toEqual(['sample-shared-shortener']);
    expect(campaign({ samples: [s[0] ?? ''] })).toEqual(['samples-too-few']);
    expect(campaign({ samples: [s[0] ?? '', '[business]: [text] [link] [opt out]'] })).toContain(
      'sample-only-placeholders',
    );
    expect(campaign({ samples: [s[0] ?? '', `${s[1] ?? ''} Call 201-555-0142`] })).toEqual(['phone-undeclared']);
    expect(campaign({ description: 'Fare offers.' })).toEqual(['description-short', 'description-no-name']);
    expect(
      campaign({ description: 'We send news about sailings to people who joined our list, once a month.' }),
    ).toEqual(['description-no-name']);
    expect(campaign({ description: 'saltmarsh ferries LLC sends people who joined its list news about sailings.' }))
      .withContext('also by the legal name, however it is written')
      .toEqual([]);
    expect(campaign({ agreement: 'On our page.' })).toEqual(['agreement-short']);
    expect(campaign({ agreement: 'Everybody whom we know has told us at some time that they would like it.' })).toEqual(
      ['agreement-no-place'],
    );
    expect(
      campaign({ agreement: 'On the page saltmarsh.example/join. By buying a ticket they agree to receive offers.' }),
    ).toEqual(['agreement-condition']);
    expect(
      campaign({
        agreement: 'On the page saltmarsh.example/join people tick a box. Consent is not a condition of purchase.',
      }),
    ).toEqual([]);
    expect(campaign({ optOutMessage: 'You are out and will get no more texts.' })).toEqual(['optout-reply-no-name']);
    expect(campaign({ helpMessage: 'Saltmarsh Ferries: ask us anything you like.' })).toEqual([
      'help-reply-no-contact',
    ]);
    expect(campaign({ optInMessage: 'Saltmarsh Ferries: welcome to the list of offers.' })).toEqual([
      'optin-message-incomplete',
    ]);
    expect(campaign({ privacyUrl: '' })).toEqual(['privacy-page-missing']);
  });
  it('points at the condition, word for word', () => {
    const agreement = 'On the page saltmarsh.example/join. By buying a ticket they agree to receive offers.';
    const f = reviewCampaign({ ...CAMPAIGN, agreement }, NAMES)[0];
    expect(agreement.slice(f?.span?.start, f?.span?.end)).toContain('By buying a ticket they agree to receive offers.');
  });
});

describe('throughputOf', () => {
  it('follows vetting and use', () => {
    expect(throughputOf('private company', 80, 'marketing')).toEqual({
      campaignPerSecond: 75,
      brandPerDay: 200_000,
      numberPerSecond: 10,
    });
    expect(throughputOf('private company', 63, 'marketing').campaignPerSecond).toBe(40);
    expect(throughputOf('private company', null, 'marketing').brandPerDay).toBe(2_000);
    expect(throughputOf('non-profit', 90, 'low-volume-mixed').campaignPerSecond).toBe(1.25);
    expect(throughputOf('sole proprietor', null, 'sole-proprietor').brandPerDay).toBe(1_000);
  });
});

describe('what a campaign costs by the month', () => {
  it('is as the table of rules has it', () => {
    const dollars = Object.fromEntries(USE_CASES.map((u) => [u.code, u.monthly / 1_000_000]));
    const { 'sole-proprietor': sole, 'low-volume-mixed': low, charity, emergency, ...others } = dollars;
    expect([sole, low, charity, emergency]).toEqual([2, 1.5, 3, 5]);
    expect(new Set(Object.values(others))).toEqual(new Set([10]));
  });
});
