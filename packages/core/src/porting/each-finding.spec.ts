import { inShort } from '../testing/findings.js';
import { compareField, compareRecord, differingSpans, COMPARED_FIELDS, type ComparedField } from './compare-record.js';
import {
  factsNeeded,
  isSimplePort,
  PORT_ACKNOWLEDGEMENTS,
  type CustomerRecord,
  type PortFacts,
  type PortNumber,
  type PortRequest,
} from './port-request.js';
import {
  isEditable,
  isOpenPort,
  isOurs,
  portAfter,
  PORT_STATES,
  type PortEvent,
  type PortState,
} from './port-states.js';
import { answerDays, portTimeline, type PortDays } from './port-timeline.js';
import {
  HOSTED_STATES,
  hostedAfter,
  reviewHosted,
  type HostedEvent,
  type HostedRequest,
  type HostedState,
} from './review-hosted.js';
import { reviewPort } from './review-port.js';

const TODAY = '2027-03-12';
const LINE = '+16095550110';
const MOBILE = '+16095550126';

const FACTS: PortFacts = {
  accountNumber: '0040712',
  pin: '90815',
  pinExpires: '',
  holderKind: 'business',
  holderName: 'Northbank Seed Library',
  authorisedName: 'Odette Farrow',
  street: '18 Millrace Lane',
  unit: '',
  city: 'Aldersund',
  state: 'NJ',
  postalCode: '08602',
  billingNumber: LINE,
  linesStay: false,
  newBillingNumber: '',
  responsibleOrganisation: '',
  oldServiceEnds: '',
};
const RECORD: CustomerRecord = {
  accountNumber: '0040712',
  holderName: 'NORTHBANK SEED LIBRARY',
  tradingAs: '',
  street: '18 MILLRACE LN',
  unit: '',
  city: 'ALDERSUND',
  state: 'NJ',
  postalCode: '08602',
  billingNumber: LINE,
  numbers: [{ e164: LINE, active: true }],
  authorisedNames: [],
  freeze: false,
  pendingOrder: '',
};
const number = (over: Partial<PortNumber> = {}): PortNumber => ({
  e164: LINE,
  kind: 'landline',
  losingCarrier: 'Harth Telephone',
  portable: true,
  whyNot: '',
  ...over,
});
interface Said {
  numbers?: PortNumber[];
  facts?: Partial<PortFacts>;
  letter?: Partial<NonNullable<PortRequest['letter']>> | null;
  billDated?: string | null;
  acknowledged?: string[];
  csr?: Partial<CustomerRecord> | null;
}
function found(s: Said = {}): string[] {
  const numbers = s.numbers ?? [number()];
  const facts = { ...FACTS, ...s.facts };
  const request: PortRequest = {
    numbers,
    facts,
    letter:
      s.letter === null
        ? null
        : {
            signedBy: 'Odette Farrow',
            signedOn: '2027-03-01',
            holderName: 'Northbank Seed Library',
            numbers: numbers.map((n) => n.e164),
            ...s.letter,
          },
    billDated: s.billDated === undefined ? '2027-03-01' : s.billDated,
    acknowledged: s.acknowledged ?? PORT_ACKNOWLEDGEMENTS.map((a) => a.key),
  };
  const csr = s.csr === undefined ? null : s.csr && { ...RECORD, ...s.csr };
  return inShort(reviewPort(request, { csr, submitOn: TODAY }), (f) => String(facts[f as keyof PortFacts]));
}
const wireless = (s: Said = {}): string[] =>
  found({
    billDated: null,
    ...s,
    numbers: s.numbers ?? [number({ e164: MOBILE, kind: 'wireless' })],
    facts: { billingNumber: '', ...s.facts },
  });

describe('a port request under review', () => {
  it('is let through where there is nothing to say', () => {
    expect(found()).toEqual([]);
    expect(found({ csr: {} })).toEqual([]);
    expect(wireless()).toEqual([]);
  });

  it('names numbers that were tested, can come, and are with one carrier', () => {
    expect(found({ numbers: [] })).toContain('port-no-numbers numbers');
    expect(found({ numbers: [number({ kind: null })] })).toContain(`port-number-unchecked numbers.${LINE}`);
    expect(found({ numbers: [number({ portable: null })] })).toEqual([`port-number-unchecked numbers.${LINE}`]);
    expect(found({ numbers: [number({ portable: false, whyNot: 'not served' })] })).toEqual([
      `port-not-portable numbers.${LINE}`,
    ]);
    const other = number({ e164: '+16095550111', losingCarrier: 'Voxmere' });
    expect(found({ numbers: [number(), other] })).toEqual(['port-mixed-carriers numbers']);
    expect(found({ numbers: [number(), { ...other, losingCarrier: '' }] })).toEqual([]);
    expect(found({ numbers: [number(), { ...other, losingCarrier: 'Harth Telephone' }] })).toEqual([]);
  });

  it('asks each kind of line for just the facts it is validated by', () => {
    const needed = (kind: PortNumber['kind'] & string) => [...factsNeeded([kind])].map(String).sort();
    const always = ['accountNumber', 'authorisedName', 'holderName', 'postalCode'];
    expect(needed('wireless')).toEqual([...always, 'pin'].sort());
    expect(needed('landline')).toEqual([...always, 'billingNumber', 'city', 'state', 'street'].sort());
    expect(needed('toll-free')).toEqual(
      [...always, 'billingNumber', 'city', 'responsibleOrganisation', 'state', 'street'].sort(),
    );
    expect([...factsNeeded([])].map(String).sort()).toEqual(always);
    const empty = Object.fromEntries(
      Object.keys(FACTS).map((k) => [k, typeof FACTS[k as keyof PortFacts] === 'boolean' ? false : '']),
    ) as unknown as PortFacts;
    const missing = (list: string[]) => list.filter((f) => /fact-missing|zip/.test(f)).map((f) => f.split(' ')[1]);
    expect(missing(found({ facts: { ...empty, holderKind: 'business' } }))).toEqual([
      'accountNumber',
      'holderName',
      'authorisedName',
      'street',
      'city',
      'state',
      'billingNumber',
      'postalCode',
    ]);
    expect(missing(wireless({ facts: { ...empty, holderKind: 'business' } }))).toEqual([
      'accountNumber',
      'holderName',
      'authorisedName',
      'postalCode',
      'pin',
    ]);
    const tollFree = [number({ e164: '+18005550199', kind: 'toll-free' })];
    expect(found({ numbers: tollFree, facts: { billingNumber: '+18005550199' } })).toEqual([
      'port-fact-missing responsibleOrganisation',
    ]);
  });

  it('has a ZIP code, a PIN that lives past the day, a responsible organisation of five', () => {
    for (const postalCode of ['08602', '08602-1144']) expect(found({ facts: { postalCode } })).toEqual([]);
    for (const postalCode of ['8602', '086021', '08602-1', 'x08602', '08602x'])
      expect(found({ facts: { postalCode } })).toEqual([`port-zip-malformed postalCode “${postalCode}”`]);
    for (const pin of ['0000', 'abcd', 'A1b2C3d4E5f6G7h']) expect(wireless({ facts: { pin } })).toEqual([]);
    for (const pin of ['000', '0000000000000000', '12 34', '12-34', ' 1234'])
      expect(wireless({ facts: { pin } })).toEqual(['port-pin-malformed pin']);
    expect(wireless({ facts: { pinExpires: '2027-03-13' } })).toEqual([]);
    for (const pinExpires of ['2027-03-12', '2027-03-11'])
      expect(wireless({ facts: { pinExpires } })).toEqual([`port-pin-expires pinExpires “${pinExpires}”`]);
    expect(wireless({ facts: { pinExpires: '1 March' } }))
      .withContext('no day')
      .toEqual([]);
    expect(found({ facts: { pin: 'x', pinExpires: '2027-01-01' } }))
      .withContext('a landline has none')
      .toEqual([]);
    const tollFree = { numbers: [number({ e164: '+18005550199', kind: 'toll-free' })] };
    const org = (responsibleOrganisation: string) =>
      found({ ...tollFree, facts: { billingNumber: '+18005550199', responsibleOrganisation } });
    for (const good of ['HRT01', 'hrt01']) expect(org(good)).toEqual([]);
    for (const bad of ['HRT1', 'HRT012', 'HRT-1'])
      expect(org(bad)).toEqual([`port-responsible-organisation-malformed responsibleOrganisation “${bad}”`]);
    expect(found({ facts: { responsibleOrganisation: 'nonsense' } })).toEqual([]);
  });

  it('says where bills go when the billing number leaves and lines stay, and keeps the old service on', () => {
    expect(found({ facts: { linesStay: true } })).toEqual(['port-new-billing-number-missing newBillingNumber']);
    expect(found({ facts: { linesStay: true, newBillingNumber: '+16095550119' } })).toEqual([]);
    expect(found({ facts: { linesStay: true, billingNumber: '+16095550119' } })).toEqual([]);
    expect(wireless({ facts: { linesStay: true } })).toEqual([]);
    expect(found({ facts: { linesStay: true, newBillingNumber: LINE } })).toEqual([
      'port-new-billing-number-leaves newBillingNumber',
    ]);
    expect(found({ facts: { oldServiceEnds: '2027-04-01' } })).toEqual([
      'port-old-service-ends oldServiceEnds “2027-04-01”',
    ]);
  });

  it('carries a letter of at most 30 days, for every number, by the one who may sign', () => {
    expect(found({ letter: null })).toEqual(['port-letter-missing letter']);
    for (const [signedOn, what] of [
      ['2027-03-12', []],
      ['2027-02-10', []],
      ['2027-02-09', ['port-letter-old letter']],
      ['2027-03-13', ['port-letter-future letter']],
    ] as const)
      expect(found({ letter: { signedOn } }))
        .withContext(signedOn)
        .toEqual([...what]);
    expect(found({ letter: { numbers: ['+16095550111'] } })).toEqual(['port-letter-number-missing letter']);
    expect(found({ letter: { holderName: 'Northbank Seeds' } })).toEqual(['port-letter-holder-differs letter']);
    expect(found({ letter: { holderName: 'NORTHBANK, seed-library.' } })).toEqual([]);
    expect(found({ letter: { signedBy: 'Wren Holloway' } })).toEqual(['port-letter-signer-differs letter']);
    expect(found({ letter: { signedBy: 'odette farrow' } })).toEqual([]);
    expect(found({ letter: { signedBy: 'Wren Holloway' }, facts: { authorisedName: '' } })).toEqual([
      'port-fact-missing authorisedName',
    ]);
  });

  it('carries a bill of at most 30 days, unless every number is a mobile', () => {
    for (const [billDated, what] of [
      [null, ['port-bill-missing bill']],
      ['2027-03-12', []],
      ['2027-02-10', []],
      ['2027-02-09', ['port-bill-old bill']],
      ['2027-03-13', ['port-bill-old bill']],
    ] as const)
      expect(found({ billDated }))
        .withContext(String(billDated))
        .toEqual([...what]);
    expect(wireless({ billDated: '2020-01-01' })).toEqual(['port-bill-old-not-needed bill']);
    expect(wireless({ billDated: null })).toEqual([]);
    const both = [number(), number({ e164: MOBILE, kind: 'wireless' })];
    expect(found({ numbers: both, billDated: null })).toEqual(['port-bill-missing bill']);
  });

  it('is laid beside the record: what a carrier rejects blocks, what it may overlook is a risk', () => {
    expect(found({ csr: { street: '19 MILLRACE LN' } })).toEqual(['port-record-differs street “8 Millrace Lane”']);
    expect(found({ csr: { holderName: 'NORTHBANK SEED LIBARY' } })).toEqual(['port-record-differs holderName “r”']);
    expect(found({ csr: { holderName: 'LIBRARY SEED NORTHBANK' } }).map((f) => f.split(' ')[0])).toEqual([
      'port-record-doubtful',
    ]);
    expect(found({ csr: { unit: 'STE 4' } })).toEqual(['port-record-differs unit']);
    expect(found({ csr: { accountNumber: '40712' } })).toEqual(['port-record-differs accountNumber “00”']);
    const mine = { numbers: [{ e164: MOBILE, active: true }], billingNumber: '+16095550177' };
    expect(wireless({ csr: mine }))
      .withContext('a mobile has no billing number')
      .toEqual([]);
    for (const field of ['holderName', 'street', 'unit', 'city', 'state'] as const)
      expect(wireless({ csr: { ...mine, [field]: 'QX 77' } }).map((f) => f.split(' ').slice(0, 2).join(' ')))
        .withContext(field)
        .toEqual([`port-record-doubtful ${field}`]);
    for (const field of ['accountNumber', 'postalCode'] as const)
      expect(wireless({ csr: { ...mine, [field]: '77777' } }).map((f) => f.split(' ').slice(0, 2).join(' ')))
        .withContext(field)
        .toEqual([`port-record-differs ${field}`]);
    expect(found({ csr: { freeze: true } })).toEqual(['port-freeze numbers']);
    expect(found({ csr: { pendingOrder: 'a move' } })).toEqual(['port-pending-order numbers']);
    expect(found({ csr: { numbers: [] } })).toEqual([`port-not-on-account numbers.${LINE}`]);
    expect(found({ csr: { numbers: [{ e164: LINE, active: false }] } })).toEqual([
      `port-line-inactive numbers.${LINE}`,
    ]);
    const more = {
      numbers: [...RECORD.numbers, { e164: '+16095550111', active: true }, { e164: '+16095550112', active: false }],
    };
    expect(found({ csr: more })).toEqual(['port-partial linesStay']);
    expect(found({ csr: more, facts: { linesStay: true, newBillingNumber: '+16095550111' } })).toEqual([]);
  });

  it('of a landline beside a mobile is judged as a landline is', () => {
    const both = [number(), number({ e164: MOBILE, kind: 'wireless' })];
    const csr = { numbers: both.map((n) => ({ e164: n.e164, active: true })), city: 'QX' };
    expect(found({ numbers: both, csr }).map((f) => f.split(' ')[0])).toEqual(['port-record-differs']);
    const third = { e164: '+16095550113', active: true };
    expect(found({ numbers: both, csr: { numbers: [...csr.numbers, third] } })).toEqual(['port-partial linesStay']);
  });

  it('says in words what is wrong and how to mend it', () => {
    const words = (over: Partial<PortRequest>, csr?: CustomerRecord) =>
      reviewPort(
        {
          numbers: [number()],
          facts: FACTS,
          letter: {
            signedBy: 'Odette Farrow',
            signedOn: '2027-03-01',
            holderName: 'Northbank Seed Library',
            numbers: [LINE],
          },
          billDated: '2027-03-01',
          acknowledged: PORT_ACKNOWLEDGEMENTS.map((a) => a.key),
          ...over,
        },
        { csr: csr ?? null, submitOn: TODAY },
      ).map((f) => `${f.message} ${f.fix}`);
    expect(words({ facts: { ...FACTS, postalCode: '' } })[0]).toMatch(/^The ZIP code is missing\./);
    expect(words({ facts: { ...FACTS, postalCode: '86' } })[0]).toMatch(/^“86” is no ZIP code\./);
    expect(words({ billDated: '2027-03-13' })[0]).toBe(
      'The bill is dated 2027-03-13, which has not come yet. Upload one dated 2027-02-10 or later.',
    );
    expect(words({ billDated: '2027-02-01' })[0]).toMatch(/more than 30 days before 2027-03-12/);
    expect(words({}, { ...RECORD, unit: 'STE 4' })[0]).toMatch(/Write “STE 4”/);
    expect(words({ facts: { ...FACTS, unit: 'Suite 4' } }, RECORD)[0]).toMatch(/Leave it empty/);
    expect(words({}, { ...RECORD, numbers: [...RECORD.numbers, { e164: '+16095550113', active: true }] })[0]).toMatch(
      /^1 more on this account would stay: \+16095550113/,
    );
  });

  it('wants each acknowledgement by itself', () => {
    expect(found({ acknowledged: [] })).toEqual(
      PORT_ACKNOWLEDGEMENTS.map((a) => `port-not-acknowledged acknowledged.${a.key}`),
    );
    for (const a of PORT_ACKNOWLEDGEMENTS)
      expect(found({ acknowledged: PORT_ACKNOWLEDGEMENTS.filter((b) => b !== a).map((b) => b.key) })).toEqual([
        `port-not-acknowledged acknowledged.${a.key}`,
      ]);
  });

  it('is simple for one mobile alone', () => {
    const mobile = number({ kind: 'wireless' });
    expect([[mobile], [mobile, mobile], [number()], [number({ kind: null })], []].map(isSimplePort)).toEqual([
      true,
      false,
      false,
      false,
      false,
    ]);
  });
});

describe('a field beside the record', () => {
  const judged = (field: ComparedField, ours: string, theirs: string, trading = ''): string => {
    const c = compareField(field, ours, theirs, trading);
    return `${c.likeness}: ${c.why}`;
  };
  const SPELLED = 'same: The same, spelled otherwise.';

  it('says why, in each case', () => {
    for (const [field, ours, theirs, what] of [
      ['holderName', 'Northbank', 'Northbank', 'same: The same.'],
      ['holderName', 'Saltmarsh Ferries Incorporated', 'SALTMARSH FERRIES INC.', SPELLED],
      ['holderName', 'Saltmarsh Ferries Company Limited', 'Saltmarsh Ferries Co Ltd', SPELLED],
      ['holderName', 'Renée O’Hara', 'RENEE OHARA', SPELLED],
      [
        'holderName',
        'Orrin Pellworm t/a Orrin Kiln',
        'Orrin Pellworm',
        'will be rejected: A trading name (dba) stands here; the record is under the legal name.',
      ],
      [
        'holderName',
        'Orrin Pellworm trading as Kiln',
        'Orrin Pellworm',
        'will be rejected: A trading name (dba) stands here; the record is under the legal name.',
      ],
      [
        'holderName',
        'Saltmarsh Ferries LLC',
        'Saltmarsh Ferries Inc',
        'will be rejected: The legal form at the end of the name differs.',
      ],
      [
        'holderName',
        'Saltmarsh Ferries',
        'Saltmarsh Ferries Corporation',
        'will be rejected: The legal form at the end of the name differs.',
      ],
      [
        'holderName',
        'Orrin Pellworm',
        'Orrin J Pellworm',
        'will be rejected: The record has the middle initial “J”, which is missing here.',
      ],
      ['holderName', 'Orrin Pellworm', 'Orrin J K Pellworm', 'will be rejected: The record also has “j k”.'],
      ['holderName', 'Orrin Pellworm', 'Orrin James Pellworm', 'will be rejected: The record also has “james”.'],
      ['holderName', 'Orrin James Pellworm', 'Orrin Pellworm', 'will be rejected: “james” is not in the record.'],
      ['holderName', 'Pellworm Orrin', 'Orrin Pellworm', 'doubtful: The same words in another order.'],
      [
        'holderName',
        'Northbank Seed Libary',
        'Northbank Seed Library',
        'will be rejected: One letter differs: the record is compared letter by letter.',
      ],
      [
        'holderName',
        'Northbnk Seed Libary',
        'Northbank Seed Library',
        'will be rejected: Two letters differ: the record is compared letter by letter.',
      ],
      [
        'holderName',
        'Nrthbnk Seed Libary',
        'Northbank Seed Library',
        'will be rejected: Another name than in the record.',
      ],
      ['holderName', 'Kilm', 'Kiln', 'will be rejected: Another name than in the record.'],
      ['street', '18 Millrace Lane', '18 MILLRACE LN.', SPELLED],
      ['street', '19 Millrace Lane', '18 Millrace Lane', 'will be rejected: Another house number than in the record.'],
      ['street', '18 Millrace', '18 Millrace Lane 2', 'will be rejected: Another house number than in the record.'],
      [
        'street',
        '18 Milrace Lane',
        '18 Millrace Lane',
        'will be rejected: One letter differs: the record is compared letter by letter.',
      ],
      ['street', '18 Harbour Road', '18 Millrace Lane', 'will be rejected: Another street than in the record.'],
      ['city', 'Aldersund', 'ALDERSUND', SPELLED],
      ['city', 'Northbank', 'Aldersund', 'will be rejected: Another street than in the record.'],
      ['unit', 'Suite 4', '#4', SPELLED],
      ['unit', 'Building 2 Room 4', 'Bldg 2, Rm 4', SPELLED],
      ['unit', '', 'Suite 4', 'will be rejected: The record has a suite or unit that is missing here.'],
      ['unit', 'Suite 4', '', 'will be rejected: The record has no suite or unit.'],
      ['unit', 'Suite 4', 'Suite 5', 'will be rejected: Another suite or unit than in the record.'],
      ['accountNumber', '77-0040', '770040', SPELLED],
      ['accountNumber', 'ab1', 'AB1', SPELLED],
      ['accountNumber', '40712', '0040712', 'will be rejected: Leading zeros count: write them as in the record.'],
      ['accountNumber', '0040712', '40712', 'will be rejected: Leading zeros count: write them as in the record.'],
      ['accountNumber', '40713', '40712', 'will be rejected: Another account number than in the record.'],
      ['billingNumber', '+16095550111', '+16095550110', 'will be rejected: Another billing number than in the record.'],
      ['state', 'NY', 'NJ', 'will be rejected: Another state than in the record.'],
      ['postalCode', '08602', '08602-1144', SPELLED],
      ['postalCode', '08603', '08602', 'will be rejected: Another ZIP code than in the record.'],
    ] as const)
      expect(judged(field, ours, theirs))
        .withContext(`${field}: ${ours} / ${theirs}`)
        .toBe(what);
    expect(judged('holderName', 'Northbank Seeds', 'Northbank Seed Library', 'Northbank Seeds')).toBe(
      'will be rejected: A trading name (dba) stands here; the record is under the legal name.',
    );
    expect(judged('holderName', 'Northbank Seeds', 'Northbank Seed Library', 'Other')).not.toContain('trading');
  });

  it('knows the post’s abbreviations in both directions', () => {
    for (const [long, short] of [
      ['Avenue', 'Ave'],
      ['Boulevard', 'Blvd'],
      ['Court', 'Ct'],
      ['Drive', 'Dr'],
      ['Parkway', 'Pkwy'],
      ['Square', 'Sq'],
      ['Terrace', 'Ter'],
      ['Highway', 'Hwy'],
    ] as const) {
      expect(judged('street', `4 Quay ${long}`, `4 QUAY ${short.toUpperCase()}`)).toBe(SPELLED);
      expect(judged('street', `4 Quay ${short}.`, `4 Quay ${long}`)).toBe(SPELLED);
    }
    expect(judged('street', '4 Northeast Quay', '4 NE Quay')).toBe(SPELLED);
  });

  it('marks the characters that differ on either side, joined over what is no letter', () => {
    const marks = (a: string, b: string) => {
      const s = differingSpans(a, b);
      return [s.a.map((x) => a.slice(x.start, x.end)), s.b.map((x) => b.slice(x.start, x.end))];
    };
    expect(marks('abc', 'abc')).toEqual([[], []]);
    expect(marks('A-b C', 'a b.c')).toEqual([[], []]);
    expect(marks('', 'ab')).toEqual([[], ['ab']]);
    expect(marks('ab', '')).toEqual([['ab'], []]);
    expect(marks('18 Millrace', '19 Millrace')).toEqual([['8'], ['9']]);
    expect(marks('abXcdYef', 'abcdef')).toEqual([['X', 'Y'], []]);
    expect(marks('a x-y b', 'a b')).toEqual([['x-y'], []]);
  });

  it('is compared for every field there is, and marked only where it is not the same', () => {
    const all = compareRecord(FACTS, { ...RECORD, city: 'NORTHBANK' });
    expect(all.map((c) => c.field)).toEqual([...COMPARED_FIELDS]);
    for (const c of all) {
      expect([c.ours, c.theirs]).toEqual([FACTS[c.field], { ...RECORD, city: 'NORTHBANK' }[c.field]]);
      expect(c.oursDiffer.length > 0 && c.theirsDiffer.length > 0)
        .withContext(c.field)
        .toBe(c.field === 'city');
    }
  });
});

describe('the states of a port', () => {
  const EVENTS: PortEvent[] = [
    'submit',
    'cancel',
    'reject',
    'accept',
    'move date',
    'cut over',
    'complete',
    'snap back',
    'return',
    'stay',
  ];
  const LEADS: Record<PortState, Partial<Record<PortEvent, PortState>>> = {
    draft: { submit: 'submitted', cancel: 'cancelled' },
    submitted: { reject: 'rejected', accept: 'accepted', cancel: 'cancelled' },
    rejected: { submit: 'submitted', cancel: 'cancelled' },
    accepted: { 'move date': 'accepted', 'cut over': 'cutting over', cancel: 'cancelled', reject: 'rejected' },
    'cutting over': { complete: 'done' },
    done: { 'snap back': 'returning' },
    cancelled: { 'cut over': 'cutting over', complete: 'done' },
    returning: { return: 'returned', stay: 'done' },
    returned: {},
  };
  it('lead only where they can', () => {
    for (const state of PORT_STATES)
      for (const event of EVENTS)
        expect(portAfter(state, event))
          .withContext(`${state}, ${event}`)
          .toBe(LEADS[state][event] ?? null);
  });
  it('say whose the number is, what is open, and what may be edited', () => {
    expect(PORT_STATES.filter(isOurs)).toEqual(['done', 'returning']);
    expect(PORT_STATES.filter((s) => !isOpenPort(s))).toEqual(['done', 'cancelled', 'returned']);
    expect(PORT_STATES.filter(isEditable)).toEqual(['draft', 'rejected']);
  });
});

describe('the way of a port in business days', () => {
  const DAYS: PortDays = {
    state: 'draft',
    simple: false,
    begun: '2027-03-01',
    submitted: '',
    answered: '',
    foc: '',
    completed: '',
  };
  const way = (over: Partial<PortDays>, today = TODAY) =>
    portTimeline({ ...DAYS, ...over }, today).map((s) => `${s.step}: ${s.state}${s.day ? ` ${s.day}` : ''}`);
  const notes = (over: Partial<PortDays>, today = TODAY) =>
    portTimeline({ ...DAYS, ...over }, today).map((s) => s.note);

  it('is prepared, submitted, answered, changed over and landed', () => {
    expect(way({})).toEqual([
      'prepared: now 2027-03-01',
      'submitted: ahead',
      'answered: ahead',
      'changing over: ahead',
      'landed: ahead',
    ]);
    const submitted = { state: 'submitted', submitted: '2027-03-08' } as const;
    expect(way(submitted)).toEqual([
      'prepared: done 2027-03-08',
      'submitted: done 2027-03-08',
      'answered: expected 2027-03-12',
      'changing over: ahead',
      'landed: ahead',
    ]);
    expect(way(submitted, '2027-03-13')[2]).toBe('answered: late 2027-03-12');
    const accepted = { ...submitted, state: 'accepted', answered: '2027-03-10', foc: '2027-03-19' } as const;
    expect(way(accepted)).toEqual([
      'prepared: done 2027-03-08',
      'submitted: done 2027-03-08',
      'answered: done 2027-03-10',
      'changing over: ahead 2027-03-19',
      'landed: ahead',
    ]);
    expect(way(accepted, '2027-03-19')[3]).toBe('changing over: ahead 2027-03-19');
    expect(way(accepted, '2027-03-20')[3]).toBe('changing over: late 2027-03-19');
    expect(way({ ...accepted, state: 'cutting over' })[3]).toBe('changing over: now 2027-03-19');
    expect(way({ ...accepted, state: 'done', completed: '2027-03-19' }).slice(3)).toEqual([
      'changing over: done 2027-03-19',
      'landed: done 2027-03-19',
    ]);
  });

  it('may be rejected, or given up', () => {
    expect(
      way({ state: 'rejected', submitted: '2027-03-08', answered: '2027-03-09', foc: '2027-03-19' }).slice(2),
    ).toEqual(['answered: failed 2027-03-09', 'changing over: ahead', 'landed: ahead']);
    expect(way({ state: 'cancelled' })).toEqual([
      'prepared: failed 2027-03-01',
      'submitted: ahead',
      'answered: ahead',
      'changing over: failed',
      'landed: failed',
    ]);
  });

  it('says the rule, what has passed, and what practice takes', () => {
    expect([answerDays(true), answerDays(false)]).toEqual([1, 4]);
    expect(notes({})[1]).toBe('From here practice takes 10 to 20 business days in all.');
    expect(notes({ simple: true })[1]).toBe('From here practice takes 1 to 3 business days in all.');
    expect(notes({ simple: true })[2]).toBe('The rule is 1 business day from submission.');
    expect(notes({})[2]).toBe('The rule is 4 business days from submission.');
    const submitted = { state: 'submitted', submitted: '2027-03-08' } as const;
    expect(notes(submitted)[2]).toBe('The rule is 4 business days from submission.');
    expect(notes(submitted, '2027-03-16')[2]).toBe(
      'Late: the rule is 4 business days, 2 more have passed. Ask the port bureau.',
    );
    expect(notes({ ...submitted, simple: true }, '2027-03-10')[2]).toBe(
      'Late: the rule is 1 business day, 1 more have passed. Ask the port bureau.',
    );
    const accepted = { ...submitted, state: 'accepted', answered: '2027-03-09', foc: '2027-03-19' } as const;
    expect(notes(accepted)[2]).toBe('After 1 business day; the rule is 4.');
    expect(notes({ ...accepted, answered: '2027-03-10' })[2]).toBe('After 2 business days; the rule is 4.');
    expect(notes(accepted)[3]).toBe('FOC date. Changes and cancellation until 2027-03-17.');
    expect(notes({})[3]).toContain('names the day');
    expect(notes({ ...accepted, state: 'done', completed: '2027-03-19' })[4]).toBe(
      '9 business days after submission; practice is 10 to 20.',
    );
    expect(notes({})[4]).toContain('three days');
  });
});

describe('a hosted number under review', () => {
  const REQUEST: HostedRequest = {
    e164: LINE,
    kind: 'landline',
    enabledElsewhere: '',
    holderName: 'Northbank Seed Library',
    authorisedName: 'Odette Farrow',
    street: '18 Millrace Lane',
    city: 'Aldersund',
    state: 'NJ',
    postalCode: '08602',
    letter: {
      signedBy: 'Odette Farrow',
      signedOn: '2027-03-01',
      holderName: 'Northbank Seed Library',
      numbers: [LINE],
    },
    codeConfirmed: true,
  };
  const hosted = (over: Partial<HostedRequest>) => inShort(reviewHosted({ ...REQUEST, ...over }, TODAY), () => '');
  const signed = (over: Partial<NonNullable<HostedRequest['letter']>>) =>
    hosted({ letter: { ...(REQUEST.letter as NonNullable<HostedRequest['letter']>), ...over } });

  it('is let through where letter and code are there, and nobody else texts for it', () => {
    expect(hosted({})).toEqual([]);
    expect(hosted({ kind: 'toll-free' })).toEqual([]);
    expect(hosted({ kind: 'wireless' })).toEqual(['hosted-mobile e164']);
    expect(hosted({ enabledElsewhere: 'Pellmark Messaging' })).toEqual(['hosted-elsewhere e164']);
    expect(hosted({ codeConfirmed: false })).toEqual(['hosted-code-missing code']);
  });
  it('has every fact', () => {
    for (const field of ['holderName', 'authorisedName', 'street', 'city', 'state', 'postalCode'] as const)
      expect(
        hosted({
          [field]: '',
          letter: {
            ...(REQUEST.letter as NonNullable<HostedRequest['letter']>),
            holderName: field === 'holderName' ? '' : REQUEST.holderName,
          },
        }),
      ).toEqual([`hosted-fact-missing ${field}`]);
  });
  it('has a letter of at most 30 days under the holder’s name', () => {
    expect(hosted({ letter: null })).toEqual(['hosted-letter-missing letter']);
    expect(signed({ signedOn: '2027-02-10' })).toEqual([]);
    expect(signed({ signedOn: TODAY })).toEqual([]);
    expect(signed({ signedOn: '2027-02-09' })).toEqual(['hosted-letter-old letter']);
    expect(signed({ signedOn: '2027-03-13' })).toEqual(['hosted-letter-future letter']);
    expect(signed({ numbers: ['+16095550119'] })).toEqual(['hosted-letter-number-missing letter']);
    expect(signed({ signedBy: 'Somebody Else' })).toEqual(['hosted-letter-signer-differs letter']);
    expect(signed({ holderName: 'Northbank Seeds' })).toEqual(['hosted-letter-holder-differs letter']);
  });
  it('goes from draft to on and off, and nowhere else', () => {
    const events: HostedEvent[] = ['submit', 'approve', 'refuse', 'take off', 'cancel'];
    const leads: Record<HostedState, Partial<Record<HostedEvent, HostedState>>> = {
      draft: { submit: 'submitted', cancel: 'cancelled' },
      submitted: { approve: 'on', refuse: 'refused' },
      refused: { submit: 'submitted', cancel: 'cancelled' },
      on: { 'take off': 'off' },
      off: {},
      cancelled: {},
    };
    for (const state of HOSTED_STATES)
      for (const event of events) expect(hostedAfter(state, event)).toBe(leads[state][event] ?? null);
  });
});
