import type { BrandFiling } from '@long-gate/gateways';

/** A brand that the registrar's identity check has nothing against. */
export const BRAND: BrandFiling = {
  form: 'private company',
  legalName: 'Heron Lane Bakery LLC',
  nameLine: 'Heron Lane',
  taxNumber: '36-1234567',
  street: '9 Mill Street',
  city: 'Quillmere',
  state: 'NJ',
  postalCode: '07030',
  website: 'https://heron.example',
  email: 'office@heron.example',
  mobile: '',
  exchange: '',
  ticker: '',
  country: 'US',
};
