import { CAMPAIGN, NAMES } from '../testing/registration.js';
import { draftAgreement, type AgreeingPage } from './draft-agreement.js';
import { reviewCampaign } from './review-campaign.js';

const PAGE: AgreeingPage = {
  address: 'saltmarsh.example/join/saltmarsh',
  title: 'Texts from Saltmarsh Ferries',
  purposes: [
    { label: 'Text me notices about late sailings', frequency: 'as they happen' },
    { label: 'Text me fare offers', frequency: 'two to four times a month' },
  ],
};

describe('how people agree, drafted from opt-in pages', () => {
  it('names place, words and frequency, and is declined for nothing', () => {
    for (const pages of [[PAGE], [PAGE, { ...PAGE, address: 'saltmarsh.example/join/pier', title: 'The pier' }]]) {
      const agreement = draftAgreement(pages);
      for (const page of pages) expect(agreement).toContain(page.address);
      expect(agreement).toContain('“Text me fare offers” (two to four times a month)');
      expect(reviewCampaign({ ...CAMPAIGN, agreement }, NAMES).map((f) => f.code)).toEqual([]);
    }
  });

  it('is empty without a page, differs when a page does, and never exceeds what is taken', () => {
    expect(draftAgreement([])).toBe('');
    const [first, second] = PAGE.purposes;
    expect(draftAgreement([{ ...PAGE, purposes: [first!, { ...second!, frequency: 'weekly' }] }])).not.toBe(
      draftAgreement([PAGE]),
    );
    const many = Array.from({ length: 30 }, (_, i) => ({ ...PAGE, address: `saltmarsh.example/join/p${i}` }));
    expect(draftAgreement(many).length).toBeLessThanOrEqual(2_048);
    expect(draftAgreement(many)).toContain('STOP.');
  });
});
