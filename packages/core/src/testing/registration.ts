import type { BrandDraft } from '../registration/review-brand.js';
import type { CampaignDraft } from '../registration/campaign-draft.js';

/** A brand of which there is nothing to say. */
export const BRAND: BrandDraft = {
  form: 'private company',
  legalName: 'Saltmarsh Ferries LLC',
  taxNumber: '12-3456789',
  street: '4 Quay Road',
  city: 'Aldersund',
  state: 'NJ',
  postalCode: '07030',
  website: 'https://saltmarsh.example',
  email: 'office@saltmarsh.example',
  mobile: '',
  exchange: '',
  ticker: '',
};
/** A campaign of which there is nothing to say. */
export const CAMPAIGN: CampaignDraft = {
  useCase: 'marketing',
  description:
    'Saltmarsh Ferries sends people who joined its fare list offers on crossings, two to four times a month, so that they can book early.',
  agreement:
    'On the page saltmarsh.example/join people enter their number and tick a box beside the words of the offer list; nothing is ticked beforehand.',
  samples: [
    'Saltmarsh Ferries: Hi [first name], cabins from $19 until 30 April: saltmarsh.example/f4 Reply STOP to end.',
    'Saltmarsh Ferries: last places on the Saturday crossing: saltmarsh.example/f5 Reply STOP to end.',
  ],
  subUses: [],
  hasLinks: true,
  hasPhones: false,
  ageRestricted: false,
  lending: false,
  optInMessage:
    'Saltmarsh Ferries: you joined fare offers, 2 to 4 texts a month. Msg and data rates may apply. Reply HELP for help, STOP to end.',
  optOutMessage: 'Saltmarsh Ferries: you are out and will get no more texts from us.',
  helpMessage: 'Saltmarsh Ferries: write to office@saltmarsh.example. Reply STOP to end.',
  privacyUrl: 'https://saltmarsh.example/privacy',
  termsUrl: 'https://saltmarsh.example/terms',
};
export const NAMES = { nameLine: 'Saltmarsh Ferries', legalName: 'Saltmarsh Ferries LLC' };
