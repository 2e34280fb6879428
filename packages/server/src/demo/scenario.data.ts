import type { CampaignBodyValue } from '@long-gate/contracts';
import type { Industry, LegalForm } from '@long-gate/core';

/** The demo always begins at this moment: Friday 12 March 2027, 14:41 in Quillmere (Eastern time). */
export const DEMO_START = Date.UTC(2027, 2, 12, 19, 41);

export const PEOPLE = [
  { role: 'administrator', name: 'Maren Oakhurst', email: 'administrator@quillmere.example', mobile: '+12015550190' },
  { role: 'coordinator', name: 'Tobiah Fenwether', email: 'coordinator@quillmere.example', mobile: '+12015550191' },
  { role: 'viewer', name: 'Isolde Quarrie', email: 'viewer@quillmere.example', mobile: '' },
] as const;

export const FIRST_NAMES = 'Ottoline Pim Ximena Halvor Rosalind Bram Iseult Caspian Juno Alaric Thessaly Wren Lucan Marguerite Oswin Delphine Emeric Sunniva Tamsin Leofric Anwen Cosmo Perpetua Jorah Linnea Barnaby Zelie Thorne Maribel Ansel Odette Rafferty Inga Valentin Clementine Dorian Elspeth Fergus Ghislaine Hollis Ilse Jasper Keziah Lorcan Mirabel Niall Ondine Percival Quilla Romilly Sorrel Tiberius Ursa Vesper Winifred Yarrow Aldous Brisa Corwin Damaris'.split(' ');
export const LAST_NAMES = 'Brandt Vandersloot Farrow Eide Harcastle Solheim Quillfeather Marlowe Penhallow Ostrander Thistlewood Carrow Vantongeren Aldersey Birchall Coldwater Dunmore Ellingboe Fairweather Grimsby Hathersage Inglenook Jessamy Kittredge Lindqvister Merriwether Northcote Oakenshaw Pellworm Quaife Ravensdale Saltonstallard Tarrant Underwell Vossberg Wexcombe Yarborough Zellaby Ashgrove Bellwether Cranbrook Dellacort Emberly Foxworthy Gainsford Holloway Ivesby Jorgenstad Kestrelby Larkspur Mossgrave Netherby Orrisroot Pinecroft Quenby Rookhope Stonecrop Thornbury Uppark Vinterfjord'.split(' ');

/** Area codes in which the contacts live, with weights. */
export const CONTACT_AREAS: readonly [string, number][] = [
  ['201', 8], ['551', 7], ['609', 7], ['732', 7], ['848', 6], ['856', 5], ['862', 5], ['908', 6], ['973', 6], ['640', 5], ['212', 3], ['315', 3], ['332', 3], ['347', 4], ['516', 4], ['518', 3], ['585', 2], ['607', 2], ['631', 4], ['646', 3], ['716', 2], ['718', 4], ['845', 4], ['914', 4], ['917', 3], ['929', 3], ['215', 4], ['267', 3], ['484', 3], ['610', 3], ['203', 4], ['860', 3], ['401', 2], ['508', 2], ['617', 3], ['781', 2], ['410', 3], ['302', 2], ['561', 2], ['850', 1], ['239', 1], ['703', 2], ['312', 1], ['713', 1], ['303', 1], ['206', 1], ['415', 1],
];

type Campaign = { key: string; name: string; state: 'registered' | 'declined' | 'in review' | 'draft'; attempts: number; body: Partial<CampaignBodyValue> & { useCase: string } };
export interface DemoBusiness {
  key: string;
  legalName: string;
  nameLine: string;
  form: LegalForm;
  taxNumber: string;
  street: string;
  city: string;
  postalCode: string;
  contactName: string;
  contactTitle: string;
  contactPhone: string;
  industry: Industry;
  domain: string;
  score: number | null;
  contacts: number;
  topUps: number[];
  numbers: { e164: string; label: string; description: string; campaign: string | null; daysAgo: number }[];
  campaigns: Campaign[];
  page: { slug: string; title: string; intro: string; face: { ground: string; accent: string; thanks: string; thanksCode: string }; number: string; informational: { label: string; frequency: string }; promotional: { label: string; frequency: string } };
}

const replies = (name: string, domain: string): Pick<CampaignBodyValue, 'optInMessage' | 'optOutMessage' | 'helpMessage' | 'privacyUrl' | 'termsUrl'> => ({
  optInMessage: `${name}: you are in. 2 to 6 texts a month. Msg & data rates may apply. Reply HELP for help, STOP to end.`,
  optOutMessage: `${name}: you are out and will get no more texts from us.`,
  helpMessage: `${name}: write to office@${domain}. Reply STOP to end.`,
  privacyUrl: `https://${domain}/privacy`,
  termsUrl: `https://${domain}/terms`,
});
const plain = { subUses: [] as string[], hasPhones: false, ageRestricted: false, lending: false };

/** How the carriers of the demo limit what is sent to them; all others pace a campaign. */
export const CARRIER_KINDS: Record<string, 'A' | 'B' | 'C'> = { 'Nimbrel Mobile': 'B', 'Cobalt Ridge Cellular': 'C' };

export const BUSINESSES: readonly DemoBusiness[] = [
  {
    key: 'saltmarsh', legalName: 'Saltmarsh Ferries LLC', nameLine: 'Saltmarsh Ferries', form: 'private company', taxNumber: '36-4820917', street: '4 Quay Road', city: 'Aldersund', postalCode: '07030', contactName: 'Marit Solheim', contactTitle: 'managing director', contactPhone: '+12015550145', industry: 'transport', domain: 'saltmarsh.example', score: 63, contacts: 2640,
    topUps: [900, 600, 400],
    numbers: [
      { e164: '+12015550142', label: 'Sailing alerts', description: 'Changes and delays', campaign: 'notices', daysAgo: 230 },
      { e164: '+12015550117', label: 'Fare offers', description: 'Offers to the fare list', campaign: 'offers', daysAgo: 228 },
      { e164: '+15515550188', label: 'Lost property', description: 'The desk answers from here', campaign: 'care', daysAgo: 150 },
      { e164: '+15515550160', label: 'Harbour office', description: '', campaign: null, daysAgo: 31 },
    ],
    campaigns: [
      {
        key: 'notices', name: 'Service notices', state: 'registered', attempts: 1,
        body: { ...plain, useCase: 'account-notification', description: 'Saltmarsh Ferries sends ticket holders and season-pass holders notices about changed, late and cancelled sailings they booked.', agreement: 'At the ticket counter and on the page saltmarsh.example/join people give their number and tick “notices about my sailings”; nothing is ticked beforehand.', samples: ['Saltmarsh Ferries: the 9:10 to Aldersund leaves at 9:40 today. Reply STOP to end.', 'Saltmarsh Ferries: Hi [first name], your Saturday crossing is moved to the north quay: saltmarsh.example/s2 Reply STOP to end.'], hasLinks: true, ...replies('Saltmarsh Ferries', 'saltmarsh.example') },
      },
      {
        key: 'offers', name: 'Offers', state: 'registered', attempts: 2,
        body: { ...plain, useCase: 'marketing', description: 'Saltmarsh Ferries sends people who joined its fare list offers on crossings and season passes, two to four times a month, so that they can book early.', agreement: 'On the page saltmarsh.example/join people enter their number and tick a separate box for fare offers; it is not a condition of any purchase. A confirming text asks for YES.', samples: ['Saltmarsh Ferries: Hi [first name], cabins to Aldersund from $19 until 30 April: saltmarsh.example/f4 Reply STOP to end.', 'Saltmarsh Ferries: last places on the Saturday crossing: saltmarsh.example/f5 Reply STOP to end.'], hasLinks: true, ...replies('Saltmarsh Ferries', 'saltmarsh.example') },
      },
      {
        key: 'care', name: 'Customer care', state: 'registered', attempts: 1,
        body: { ...plain, useCase: 'customer-care', description: 'Saltmarsh Ferries answers passengers who write to the lost-property desk about things left on board.', agreement: 'People write to the number first; it stands on the lost-property page saltmarsh.example/lost and on posters at the counter.', samples: ['Saltmarsh Ferries: we found a blue umbrella that fits your note. Come to the desk until 18:00. Reply STOP to end.', ''], hasLinks: false, ...replies('Saltmarsh Ferries', 'saltmarsh.example') },
      },
      {
        key: 'winter', name: 'Winter pier events', state: 'declined', attempts: 1,
        body: { ...plain, useCase: 'marketing', description: 'We send news about concerts and markets on the winter pier to people who like that kind of thing, once or twice a month.', agreement: 'On the page saltmarsh.example/pier people enter their number. By buying a ticket they agree to receive offers.', samples: ['Saltmarsh Ferries: lanterns and cider on the pier this Friday from 17:00. Reply STOP to end.', 'Last places for Saturday! lnk.example/9x Reply STOP to end.'], hasLinks: true, ...replies('Saltmarsh Ferries', 'saltmarsh.example') },
      },
    ],
    page: { slug: 'saltmarsh', title: 'Texts from Saltmarsh Ferries', intro: 'Choose what you would like to hear about. You can leave at any time.', face: { ground: '#edf3f5', accent: '#0b5563', thanks: 'A hot drink is on us the next time you cross.', thanksCode: 'QUAY' }, number: '+12015550117', informational: { label: 'Text me notices about changed, late and cancelled sailings', frequency: 'as they happen' }, promotional: { label: 'Text me fare offers', frequency: 'two to four times a month' } },
  },
  {
    key: 'northbank', legalName: 'Northbank Seed Library', nameLine: 'Northbank Seeds', form: 'non-profit', taxNumber: '22-7140356', street: '18 Millrace Lane', city: 'Northbank', postalCode: '08602', contactName: 'Bram Oakenshaw', contactTitle: 'librarian', contactPhone: '+16095550145', industry: 'non-profit work', domain: 'northbank.example', score: 48, contacts: 610,
    topUps: [120, 80],
    numbers: [
      { e164: '+16095550121', label: 'Workshops', description: 'Workshops and seed days', campaign: 'workshops', daysAgo: 200 },
      { e164: '+16095550164', label: 'Volunteers', description: '', campaign: null, daysAgo: 12 },
    ],
    campaigns: [
      {
        key: 'workshops', name: 'Workshops', state: 'registered', attempts: 1,
        body: { ...plain, useCase: 'low-volume-mixed', description: 'Northbank Seeds sends members reminders of workshops they booked and news of seed days, about three times a month.', agreement: 'On the paper form at the library counter and on the page northbank.example/join people write their number and tick which texts they want.', samples: ['Northbank Seeds: your grafting workshop is on Thursday at 18:00. Reply STOP to end.', 'Northbank Seeds: bean swap on Sunday, all welcome: northbank.example/b Reply STOP to end.'], hasLinks: true, ...replies('Northbank Seeds', 'northbank.example') },
      },
      {
        key: 'volunteers', name: 'Volunteer rota', state: 'in review', attempts: 1,
        body: { ...plain, useCase: 'charity', description: 'Northbank Seeds sends its volunteers the weekly rota and asks for help when somebody is ill.', agreement: 'Volunteers sign a paper form at the library counter with their number and a box of its own for texts about the rota.', samples: ['Northbank Seeds: can anybody take the Tuesday desk from 14:00? Reply STOP to end.', ''], hasLinks: false, ...replies('Northbank Seeds', 'northbank.example') },
      },
    ],
    page: { slug: 'northbank', title: 'Texts from the seed library', intro: 'Reminders and news from the library. Choose what you want.', face: { ground: '#f3f5ea', accent: '#41591f', thanks: '', thanksCode: '' }, number: '+16095550121', informational: { label: 'Text me reminders of workshops I booked and seeds I borrowed', frequency: 'before each' }, promotional: { label: 'Text me news of seed days and workshops', frequency: 'about three times a month' } },
  },
  {
    key: 'orrin', legalName: 'Orrin Kiln Studio', nameLine: 'Orrin Kiln', form: 'sole proprietor', taxNumber: '', street: '77 Clay Street', city: 'Quillmere', postalCode: '08701', contactName: 'Orrin Pellworm', contactTitle: 'owner', contactPhone: '+17325550134', industry: 'arts and recreation', domain: 'orrinkiln.example', score: null, contacts: 128,
    topUps: [50],
    numbers: [{ e164: '+17325550133', label: 'Studio', description: 'Classes and firings', campaign: 'classes', daysAgo: 120 }],
    campaigns: [
      {
        key: 'classes', name: 'Classes and firings', state: 'registered', attempts: 1,
        body: { ...plain, useCase: 'sole-proprietor', description: 'Orrin Kiln sends people who booked a class reminders, and tells them when their fired pieces can be picked up.', agreement: 'People give their number on the sign-up sheet in the studio and tick a box for texts; it says what is sent and how to stop.', samples: ['Orrin Kiln: your pieces are fired and ready until Saturday. Reply STOP to end.', 'Orrin Kiln: reminder, wheel class tomorrow at 10:00. Reply STOP to end.'], hasLinks: false, ...replies('Orrin Kiln', 'orrinkiln.example') },
      },
    ],
    page: { slug: 'orrin', title: 'Texts from the studio', intro: 'Reminders and pick-ups.', face: { ground: '#f7f1ec', accent: '#8a3f22', thanks: '', thanksCode: '' }, number: '+17325550133', informational: { label: 'Text me reminders of classes I booked and when my pieces are ready', frequency: 'as it comes up' }, promotional: { label: 'Text me when new classes open', frequency: 'about once a month' } },
  },
];

/** Past dispatches: who, what, how many days ago; `offTopic` is the one that drew opt-outs and filtering. */
export const DISPATCHES: readonly { business: string; title: string; text: string; purpose: 'informational' | 'promotional'; number: string; list: string; daysAgo: number; offTopic?: boolean }[] = [
  { business: 'saltmarsh', title: 'Winter timetable', text: 'The winter timetable begins on Sunday: saltmarsh.example/w', purpose: 'informational', number: '+12015550142', list: 'Passengers', daysAgo: 124 },
  { business: 'saltmarsh', title: 'Advent crossings', text: 'Hello [firstName|traveller], advent crossings from $22: saltmarsh.example/a', purpose: 'promotional', number: '+12015550117', list: 'Fare list', daysAgo: 104 },
  { business: 'saltmarsh', title: 'Storm on Thursday', text: 'Thursday evening sailings after 18:00 are cancelled because of the storm.', purpose: 'informational', number: '+12015550142', list: 'Commuters', daysAgo: 86 },
  { business: 'saltmarsh', title: 'New-year season pass', text: 'Hello [firstName|traveller], the season pass is $40 less until Friday: saltmarsh.example/p', purpose: 'promotional', number: '+12015550117', list: 'Fare list', daysAgo: 70 },
  { business: 'saltmarsh', title: 'Quay works', text: 'From Monday we leave from the north quay while the south quay is mended.', purpose: 'informational', number: '+12015550142', list: 'Commuters', daysAgo: 52 },
  { business: 'saltmarsh', title: 'Half-price Tuesdays', text: 'Hello [firstName|traveller], half-price Tuesdays all month: saltmarsh.example/t', purpose: 'promotional', number: '+12015550117', list: 'Fare list', daysAgo: 41 },
  { business: 'saltmarsh', title: 'Partner: pier raffle', text: 'Win a scooter! Our friends on the pier raffle one off this week only, enter now: saltmarsh.example/r', purpose: 'promotional', number: '+12015550117', list: 'Fare list', daysAgo: 28, offTopic: true },
  { business: 'saltmarsh', title: 'Fog this morning', text: 'Fog: the 7:10 and 7:40 leave when the pilot says so, about 8:00.', purpose: 'informational', number: '+12015550142', list: 'Commuters', daysAgo: 17 },
  { business: 'saltmarsh', title: 'Spring fares', text: 'Hello [firstName|traveller], spring fares from $17 until 31 March: saltmarsh.example/s', purpose: 'promotional', number: '+12015550117', list: 'Fare list', daysAgo: 9 },
  { business: 'saltmarsh', title: 'Extra Friday boat', text: 'An extra boat leaves tonight at 18:20 from the north quay.', purpose: 'informational', number: '+12015550142', list: 'Commuters', daysAgo: 3 },
  { business: 'northbank', title: 'Bean swap', text: 'Bean swap on Sunday, all welcome: northbank.example/b', purpose: 'promotional', number: '+16095550121', list: 'Members', daysAgo: 60 },
  { business: 'northbank', title: 'Grafting reminder', text: 'Your grafting workshop is on Thursday at 18:00. Bring a knife.', purpose: 'informational', number: '+16095550121', list: 'Members', daysAgo: 33 },
  { business: 'northbank', title: 'Seed day', text: 'Seed day on 6 March: 140 kinds of tomato. northbank.example/d', purpose: 'promotional', number: '+16095550121', list: 'Members', daysAgo: 11 },
  { business: 'orrin', title: 'February firing', text: 'The kiln is fired on Friday; please bring your pieces by Thursday noon.', purpose: 'informational', number: '+17325550133', list: 'Students', daysAgo: 24 },
];

/** What is scheduled when the demo begins; the moment is one of the business's zone. */
export const ROTA = { title: 'Crew rota', text: 'The crew rota from 22 March is out: saltmarsh.example/rota', leaves: '2027-03-15T09:30' } as const;

/** A draft whose readers each get a link to their own page. */
export const TEXT_LINKS = { title: 'Your texts, your choice', text: 'Hello [firstName|traveller], which texts do you want from us? Choose or end them here: [ownPage]', number: '+12015550142', list: 'Commuters' } as const;

/** Forms that were signed at the counter and turned up later, as one scan. */
export const PAPER_FORM = { title: 'Texts from Saltmarsh Ferries', file: 'counter-forms-january.pdf', people: 3, signedOn: '2027-01-08' } as const;

export const INCOMING = [
  'Is the 9:10 running today?', 'Thank you!', 'I left a grey scarf on the evening boat', 'Can I bring my bike?', 'Great, see you then', 'What time does the last boat leave?', 'Do you take dogs', 'ok thanks', 'My pass shows the wrong date', 'Wonderful news', 'Which quay is it', 'How much for two adults and a child?',
];
export const ANSWERS = ['Yes, it is, with ten minutes’ delay.', 'You can pick it up at the desk until 18:00.', 'Bikes travel free outside the rush hour.', 'The north quay, next to the ticket hut.'];

/** Passengers abroad, in the ranges their regulators keep for fiction; one more lives in a country nobody opened. */
export const ABROAD_CONTACTS = [
  '+447700900112', '+447700900145', '+447700900163', '+447700900178', '+447700900184', '+447700900190',
  '+46701740605', '+46701740612', '+46701740633',
  '+61491570006', '+61491570156', '+61491570157',
  '+14165550117', '+14165550142',
] as const;
export const SENDER_ID = { business: 'saltmarsh', text: 'SALTMARSH', signature: 'Stop or reply: saltmarsh.example/stop', label: 'Abroad', free: ['GB'], asked: ['AU'], open: ['GB'], daysAgo: 1.5 } as const;

/** The seed library's landline, being text-enabled; its voice stays with the carrier. */
export const HOSTED = { business: 'northbank', e164: '+16095550125', carrier: 'Harth Telephone', daysAgo: 0.9, label: 'Library landline', campaign: 'workshops' } as const;

/** Port-ins of the demo: one landed long ago after a rejection, one just rejected, one being prepared with a name the old carrier writes otherwise. */
export const PORTS: readonly {
  business: string;
  key: string;
  numbers: readonly string[];
  kind: 'wireless' | 'landline';
  carrier: string;
  state: 'done' | 'rejected' | 'draft';
  daysAgo: number;
  label: string;
  campaign: string | null;
  facts: { accountNumber: string; pin: string; holderName: string; authorisedName: string; street: string; unit: string; city: string; postalCode: string };
  /** How the losing carrier has it. */
  record: { accountNumber: string; pin: string; holderName: string; street: string; unit: string; answers: boolean; others: readonly string[] };
}[] = [
  {
    business: 'saltmarsh', key: 'counter', numbers: ['+12015550151'], kind: 'landline', carrier: 'Harth Telephone', state: 'done', daysAgo: 96, label: 'Ticket counter', campaign: 'care',
    facts: { accountNumber: '0088412', pin: '', holderName: 'Saltmarsh Ferries LLC', authorisedName: 'Marit Solheim', street: '4 Quay Road', unit: '', city: 'Aldersund', postalCode: '07030' },
    record: { accountNumber: '0088412', pin: '', holderName: 'SALTMARSH FERRIES LLC', street: '4 QUAY RD', unit: '', answers: true, others: [] },
  },
  {
    business: 'saltmarsh', key: 'pilot', numbers: ['+12015550152'], kind: 'wireless', carrier: 'Tessary Wireless', state: 'rejected', daysAgo: 2, label: 'Pilot house', campaign: 'notices',
    facts: { accountNumber: '551078223', pin: '4417', holderName: 'Saltmarsh Ferries LLC', authorisedName: 'Marit Solheim', street: '4 Quay Road', unit: '', city: 'Aldersund', postalCode: '07030' },
    record: { accountNumber: '551078223', pin: '7144', holderName: 'Saltmarsh Ferries LLC', street: '4 Quay Road', unit: '', answers: false, others: [] },
  },
  {
    business: 'northbank', key: 'library', numbers: ['+16095550110', '+16095550111'], kind: 'landline', carrier: 'Harth Telephone', state: 'draft', daysAgo: 1.4, label: 'Library desk', campaign: 'workshops',
    facts: { accountNumber: '40712', pin: '', holderName: 'Northbank Seeds', authorisedName: 'Bram Oakenshaw', street: '18 Millrace Lane', unit: '', city: 'Northbank', postalCode: '08602' },
    record: { accountNumber: '0040712', pin: '', holderName: 'NORTHBANK SEED LIBRARY', street: '18 MILLRACE LN', unit: 'STE 2', answers: true, others: ['+16095550113'] },
  },
];
