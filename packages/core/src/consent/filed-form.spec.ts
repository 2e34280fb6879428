import { disclosureOf } from './disclosure.js';
import type { ConsentState } from './events.js';
import { provenBy, reviewForm } from './filed-form.js';

const NAMES = { legalName: 'Heron Lane Bakery LLC', nameLine: 'Heron Lane' };
const PAGES = { privacyUrl: 'heron.example/privacy', termsUrl: 'heron.example/terms' };
const words = (purpose: 'informational' | 'promotional'): string =>
  disclosureOf(NAMES.legalName, { purpose, label: 'Text me offers and news', frequency: 'about four a month' }, PAGES);
const codes = (over: Partial<Parameters<typeof reviewForm>[0]>): string[] =>
  reviewForm(
    { purposes: ['promotional'], signedOn: '2027-03-12', disclosure: words('promotional'), ...over },
    NAMES,
    '2027-03-12',
  ).map((f) => f.code);

describe('a form that is filed', () => {
  it('is proof with the words of our own page, signed today at the latest', () => {
    expect(codes({})).toEqual([]);
    expect(codes({ purposes: ['informational'], disclosure: words('informational') })).toEqual([]);
    expect(codes({ signedOn: '2027-03-13' })).toEqual(['form-in-future']);
  });

  it('is no proof for promotional texts without “automated” and “no condition”; for informational it may be', () => {
    const informational = words('informational').replace('automated texts', 'texts');
    expect(codes({ disclosure: informational })).toEqual(['words-not-automated', 'words-conditional']);
    expect(codes({ disclosure: informational, purposes: ['informational'] })).toEqual([]);
  });

  it('is no proof where people were told nothing', () => {
    expect(codes({ disclosure: '', purposes: ['informational'] })).toContain('disclosure-no-name');
  });

  it('speaks for nobody who left, disputes, or has another number now', () => {
    const proven = (s: ConsentState): number =>
      provenBy({ conversational: 'none', informational: s, promotional: 'none' }, ['informational']).length;
    const all: ConsentState[] = ['none', 'unproven', 'awaiting', 'granted', 'lapsed', 'declined', 'revoked', 'expired'];
    expect([...all, 'voided' as const, 'disputed' as const].filter((s) => proven(s) === 0)).toEqual([
      'revoked',
      'voided',
      'disputed',
    ]);
    expect(
      provenBy({ conversational: 'none', informational: 'unproven', promotional: 'revoked' }, [
        'informational',
        'promotional',
      ]),
    ).toEqual(['informational']);
  });
});
