import { BRAND, NAMES } from '../testing/registration.js';
import { appealUntil, registeredUntil, renewableFrom } from './filing.js';
import { reviewRegistration } from './review.js';
import { reviewBrand, type BrandDraft } from './review-brand.js';
import { reviewTollFree, type TollFreeDraft } from './review-toll-free.js';

const DAY = 86_400_000;
const found = (over: Partial<BrandDraft>): string[] =>
  reviewBrand({ ...BRAND, ...over }).map((f) => `${f.code} ${f.field}`);
const PERSON = { name: 'Marit Solheim', title: 'director', phone: '(201) 555-0145', email: 'marit@saltmarsh.example' };

describe('a legal identity', () => {
  it('is told of the usual slips in a name, as hints', () => {
    expect(found({ legalName: 'Saltmarsh Ferries' })).toEqual(['name-slip legalName']);
    expect(found({ legalName: 'Saltmarsh Ferries, L.L.C.' })).toEqual([]);
    expect(found({ legalName: 'Saltmarsh Holdings Inc' })).toEqual([]);
    expect(found({ form: 'public body', legalName: 'County of Quillmere' })).toEqual([]);
    const [alias] = reviewBrand({ ...BRAND, legalName: 'Tern Holdings LLC dba Saltmarsh Ferries' });
    expect([alias?.code, alias?.severity, alias?.span]).toEqual(['name-slip', 'advice', { start: 18, end: 39 }]);
    expect(
      found({ form: 'sole proprietor', taxNumber: '', mobile: '+12015550142', legalName: 'Kiln Studio LLC' }),
    ).toEqual(['name-slip legalName']);
  });

  it('abroad has its own country’s number and address, which take no American form', () => {
    const abroad = { country: 'GB', taxNumber: 'SC 118234', state: '', postalCode: 'EH1 2AB' };
    expect(found(abroad)).toEqual([]);
    expect(found({ ...abroad, taxNumber: '' })).toEqual(['tax-number-missing taxNumber']);
    expect(found({ ...abroad, city: '' })).toEqual(['address-incomplete city']);
    expect(found({ ...abroad, country: 'US' })).toEqual([
      'tax-number-malformed taxNumber',
      'address-incomplete state',
      'address-incomplete postalCode',
    ]);
  });

  it('names people who can be reached, and no half address', () => {
    expect(found({ representatives: [] })).toEqual(['representative-missing representatives']);
    expect(found({ representatives: [PERSON] })).toEqual([]);
    expect(found({ representatives: [PERSON, { ...PERSON, title: ' ', phone: '12' }] })).toEqual([
      'representative-incomplete representatives.1',
    ]);
    const other = { what: 'bills', street: 'PO Box 4', city: 'Aldersund', state: 'NJ', postalCode: '07030' };
    expect(found({ moreAddresses: [other] })).toEqual([]);
    expect(found({ moreAddresses: [{ ...other, what: '' }] })).toEqual(['other-address-incomplete moreAddresses.0']);
    expect(found({ moreAddresses: [other, { ...other, city: '' }] })).toEqual([
      'other-address-incomplete moreAddresses.1',
    ]);
    expect(found({ statusEmail: 'filings at saltmarsh' })).toEqual(['status-email-malformed statusEmail']);
    expect(found({ statusEmail: 'filings@elsewhere.example' })).toEqual([]);
    expect(found({ industry: '' })).toEqual(['industry-missing industry']);
    expect(found({ tradingName: BRAND.legalName.toUpperCase() })).toEqual(['trading-name-same tradingName']);
  });
});

describe('a toll-free verification', () => {
  const DRAFT: TollFreeDraft = {
    useCase: 'customer-care',
    volume: 1_000,
    description: 'Saltmarsh Ferries answers passengers who call or text the booking line about their crossings.',
    agreement: 'Passengers write to the number first; it stands on the page saltmarsh.example/contact.',
    samples: ['Saltmarsh Ferries: we moved your booking to Friday, see saltmarsh.example/b2 for the ticket.'],
    proofUrl: 'https://saltmarsh.example/contact',
    hasPicture: false,
  };
  const codes = (over: Partial<TollFreeDraft>): string[] =>
    reviewTollFree({ ...DRAFT, ...over }, NAMES).map((f) => `${f.code} ${f.field}`);

  it('says use and volume, shows where people agree, and is read as a campaign is', () => {
    expect(codes({})).toEqual([]);
    expect(codes({ useCase: '' })).toEqual(['toll-free-no-use useCase']);
    expect(codes({ volume: 0 })).toEqual(['toll-free-no-volume volume']);
    expect(codes({ proofUrl: '' })).toEqual(['toll-free-no-proof proofUrl']);
    expect(codes({ proofUrl: '', hasPicture: true })).toEqual([]);
    expect(codes({ proofUrl: 'on the wall' })).toEqual(['toll-free-no-proof proofUrl']);
    expect(codes({ samples: ['Your booking is moved to Friday, come early.'] })).toEqual(['sample-no-name samples.0']);
    expect(codes({ samples: [''] })).toEqual(['samples-too-few samples.0']);
    expect(codes({ agreement: `${DRAFT.agreement} By booking they agree to receive texts.` })).toEqual([
      'agreement-condition agreement',
    ]);
  });
});

describe('a whole dossier', () => {
  it('has its toll-free numbers read too, each at its place', () => {
    const tollFree = [
      {
        useCase: '',
        volume: 1,
        description: 'Saltmarsh Ferries answers passengers who call the booking line.',
        agreement: 'Passengers write to the number first; it stands on the page saltmarsh.example/contact.',
        samples: ['Saltmarsh Ferries: your booking is moved to Friday.'],
        proofUrl: 'saltmarsh.example/contact',
        hasPicture: false,
      },
    ];
    const dossier = { nameLine: 'Saltmarsh Ferries', brand: BRAND, campaigns: [], tollFree };
    expect(reviewRegistration(dossier).map((f) => `${f.code} ${f.field}`)).toEqual([
      'toll-free-no-use tollFree.0.useCase',
    ]);
  });
});

describe('the terms of a filing', () => {
  it('are 45 days to object, a year that stands, and its last thirty days to renew it', () => {
    expect(appealUntil(5)).toBe(5 + 45 * DAY);
    expect(registeredUntil(5)).toBe(5 + 365 * DAY);
    expect(renewableFrom(registeredUntil(5))).toBe(5 + 335 * DAY);
  });
});
