import type { Judged } from './dossiers.js';

/** Numbers between 0 and 1 from a seed, the same at every run (mulberry32). */
function dice(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const FIRST = [
  'Amber',
  'Birch',
  'Cedar',
  'Drift',
  'Elm',
  'Fallow',
  'Gable',
  'Hythe',
  'Ivory',
  'Juniper',
  'Knoll',
  'Lark',
];
const SECOND = [
  'Bakery',
  'Boats',
  'Books',
  'Cycles',
  'Dental',
  'Energy',
  'Garden',
  'Kennels',
  'Parcels',
  'Swim',
  'Tiles',
  'Yoga',
];
const PEOPLE = ['customers', 'members', 'people on its list', 'guests who asked for it', 'clients'];
const PLACES = [
  'On SITE/join people enter their number and tick an empty box for texts.',
  'At the counter people write their number on a card and tick “text me”.',
  'People call us and are asked whether they want texts; the answer is noted.',
  'People text the keyword JOIN to the number on our posters, where all the words stand.',
  'In the account settings on SITE people switch texts on and enter their number.',
];
const NEWS: Record<string, readonly string[]> = {
  marketing: [
    'our spring news is out',
    'two places are left on Saturday',
    'the new season begins on Monday',
    'come by on Friday',
  ],
  'account-notification': [
    'your appointment is tomorrow at [time]',
    'your order is ready',
    'we open at ten today',
    'your bill is ready',
  ],
  'delivery-notification': ['your parcel comes between 2 and 4', 'your parcel is at the locker', 'the driver is near'],
  'customer-care': ['we found your umbrella', 'the fitter can come on Thursday', 'thank you, we look into it'],
  'low-volume-mixed': ['the meeting is at six', 'your order is ready', 'new things have come in'],
};

type Fault = (j: Judged, roll: (n: number) => number) => void;
const one = <T>(of: readonly T[], roll: (n: number) => number): T => of[roll(of.length)] as T;
/** What people do wrong, in words that are in no list of the check's specs. */
const FAULTS: readonly Fault[] = [
  (j, r) =>
    (j.agreement += ` ${one(['Everyone who orders is signed up for our texts.', 'By ordering customers consent to our texts.', 'Customers must agree to texts before they can check out.', 'Guests are automatically put on the list.', 'Our terms of service include consent to texts.'], r)}`),
  (j, r) =>
    (j.agreement += ` ${one(['We also use numbers purchased from a list vendor.', 'Other names were bought at a fair.', 'Some leads come from our marketing partners.', 'We look up further numbers in public directories.'], r)}`),
  (j, r) =>
    (j.agreement += ` ${one(['We may share numbers with our partners for their offers.', 'Numbers can be sold to third parties for marketing.'], r)}`),
  (j) => (j.agreement = 'They all like to hear from us and have told us so many times over the years.'),
  (j) => (j.samples[0] = (j.samples[0] ?? '').replace(`${j.business.nameLine}: `, 'Hello, ')),
  (j) => (j.samples = j.samples.map((s) => s.replace(' Reply STOP to end.', ''))),
  (j, r) => {
    j.samples[0] = `${j.business.nameLine}: look here: ${one(['bit.ly/3xyz', 'lnk.example/77', 'tinyurl.com/abc'], r)} Reply STOP to end.`;
    j.links = true;
  },
  (j) => (j.samples[0] = `${j.business.nameLine}: see ${j.business.site}/news Reply STOP to end.`),
  (j, r) =>
    (j.samples[0] = `${j.business.nameLine}: call us on ${one(['201-555-0142', '(201) 555-0142', '201.555.0142'], r)} today. Reply STOP to end.`),
  (j) => (j.samples[0] = `${j.business.nameLine}: [text] [link] Reply STOP to end.`),
  (j, r) =>
    (j.samples[0] = `${j.business.nameLine}: ${one(['20% off everything, order now', 'half price until Sunday', 'use coupon SPRING today', 'a special offer for you'], r)}. Reply STOP to end.`),
  (j, r) =>
    (j.samples[0] = `${j.business.nameLine}: ${one(['free beer tonight', 'a wine tasting on Friday', 'new cigars have come'], r)}. Reply STOP to end.`),
  (j, r) =>
    (j.samples[0] = `${j.business.nameLine}: ${one(['casino night with real chips', 'CBD oil is back', 'payday loans in an hour', 'get rich from home'], r)}. Reply STOP to end.`),
  (j) => (j.optIn = `${j.business.nameLine}: welcome! Reply STOP to end.`),
  (j) => (j.optOut = `${j.business.nameLine}: thank you for your answer.`),
  (j) => (j.help = `${j.business.nameLine}: we help whenever we can.`),
  (j) => (j.privacyUrl = ''),
  (j) => (j.description = j.description.replaceAll(j.business.nameLine, 'We')),
  (j) => (j.samples = j.samples.slice(0, 1)),
];

/**
 * Dossiers made by chance: a third with nothing wrong, the others with one or two faults. What is wrong with them is
 * decided by whoever reads them; they carry no decision of their own.
 */
export function madeDossiers(n: number, seed = 1): Judged[] {
  const chance = dice(seed);
  const roll = (of: number): number => Math.floor(chance() * of);
  return Array.from({ length: n }, (_, i) => {
    const nameLine = `${one(FIRST, roll)} ${one(SECOND, roll)}`;
    const site = `${nameLine.toLowerCase().replace(' ', '')}.example`;
    const useCase = one(Object.keys(NEWS), roll);
    const words = NEWS[useCase] ?? [];
    const sample = (): string => `${nameLine}: ${one(words, roll)}. Reply STOP to end.`;
    const j: Judged = {
      id: `made-${i + 1}`,
      business: { legalName: `${nameLine} LLC`, nameLine, site },
      useCase,
      description: `${nameLine} sends ${one(PEOPLE, roll)} texts about what they asked for, ${one(['once a week', 'twice a month', 'when something changes'], roll)}.`,
      agreement: one(PLACES, roll).replace('SITE', site),
      samples: [sample(), sample()],
      decision: 'approved',
      reasons: [],
    };
    const faults = one([0, 1, 1, 2], roll);
    for (let k = 0; k < faults; k++) one(FAULTS, roll)(j, roll);
    return j;
  });
}
