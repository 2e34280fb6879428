import { CAMPAIGN, NAMES } from '../testing/registration.js';
import type { About, CampaignDraft } from './campaign-draft.js';
import { reviewCampaign } from './review-campaign.js';

const codes = (over: Partial<CampaignDraft>, about: Partial<About> = {}): string[] =>
  reviewCampaign({ ...CAMPAIGN, ...over }, { ...NAMES, ...about }).map((f) => f.code);
const of = (useCase: string, description: string) => ({
  useCase,
  description,
  hasLinks: false,
  samples: [
    'Saltmarsh Ferries: the quay is closed, leave by the north gate. Reply STOP to end.',
    'Saltmarsh Ferries: the north gate is open again. Reply STOP to end.',
  ],
});
const SENDS = 'Saltmarsh Ferries sends people in the harbour warnings about the water.';

describe('a special use', () => {
  it('is only for the forms that may have it', () => {
    expect(codes(of('emergency', SENDS), { form: 'private company' })).toEqual(['use-not-for-form']);
    expect(codes(of('emergency', SENDS), { form: 'public body' })).toEqual([]);
    expect(codes(of('charity', SENDS), { form: 'public body' })).toEqual(['use-not-for-form']);
  });

  it('of politics asks for a score and says for whom or what', () => {
    const cause = 'Saltmarsh Ferries sends neighbours of the quay news for the ballot measure on its repair.';
    expect(codes(of('political', cause), { form: 'private company', score: 50 })).toEqual([]);
    expect(codes(of('political', cause), { form: 'private company', score: null })).toEqual(['use-needs-vetting']);
    expect(codes(of('political', SENDS), { form: 'private company', score: 50 })).toEqual(['political-cause-missing']);
    expect(codes(of('marketing', SENDS), { form: 'private company', score: null })).toEqual([]);
  });

  it('of a pool says why so many numbers are needed', () => {
    expect(codes(of('number-pool', SENDS))).toEqual(['pool-not-explained']);
    expect(codes(of('number-pool', `${SENDS} Each of our 60 offices writes from its own number.`))).toEqual([]);
  });
});

describe('the words of a privacy page', () => {
  it('are declined where they let numbers be shared for others’ marketing, at just that sentence', () => {
    const [ours, theirs] = [
      'We keep your number while you are on the list.',
      'We may share your phone number with our partners for marketing purposes.',
    ];
    expect(codes({ privacyWords: ours })).toEqual([]);
    expect(codes({ privacyWords: 'We do not share your phone number with third parties for marketing.' })).toEqual([]);
    const [found] = reviewCampaign({ ...CAMPAIGN, privacyWords: `${ours} ${theirs}` }, NAMES);
    expect([found?.code, found?.field]).toEqual(['privacy-shares-numbers', 'privacyWords']);
    expect(`${ours} ${theirs}`.slice(found?.span?.start, found?.span?.end).trim()).toBe(theirs);
  });
});

describe('the number of campaigns', () => {
  const others = (n: number) =>
    Array.from({ length: n }, (_, i) => ({ description: `Entirely other words number ${i}.`, samples: [`x${i}`] }));
  it('is a risk above five and impossible above fifty', () => {
    const found = (n: number) => codes({}, { form: 'private company', others: others(n) });
    expect([found(4), found(5), found(49), found(50)]).toEqual([
      [],
      ['campaigns-many'],
      ['campaigns-many'],
      ['campaigns-too-many'],
    ]);
  });
});
