import fc from 'fast-check';
import { addBusinessDays, addDays, businessDaysBetween, isBusinessDay, isHolidayKept } from './business-days.js';
import { compareField, compareRecord, differingSpans, SPELLED_OTHERWISE } from './compare-record.js';
import {
  PORT_ACKNOWLEDGEMENTS,
  type CustomerRecord,
  type PortFacts,
  type PortNumber,
  type PortRequest,
} from './port-request.js';
import { isOurs, portAfter, PORT_STATES, type PortEvent, type PortState } from './port-states.js';
import { lastDayToChange, portTimeline } from './port-timeline.js';
import { reviewPort } from './review-port.js';

const day = fc.integer({ min: 0, max: 365 * 40 }).map((n) => addDays('2020-01-01', n));

describe('business days', () => {
  it('keeps every federal holiday of 2027, on the day it is kept', () => {
    const kept: string[] = [];
    for (let d = '2027-01-01'; d < '2028-01-01'; d = addDays(d, 1)) if (isHolidayKept(d)) kept.push(d.slice(5));
    // 5 U.S.C. 6103: Juneteenth falls on a Saturday, Independence Day on a Sunday, Christmas on a Saturday;
    // New Year's Day of 2028 is a Saturday and is kept on the last day of 2027.
    expect(kept).toEqual([
      '01-01',
      '01-18',
      '02-15',
      '05-31',
      '06-18',
      '06-19',
      '07-04',
      '07-05',
      '09-06',
      '10-11',
      '11-11',
      '11-25',
      '12-24',
      '12-25',
      '12-31',
    ]);
  });

  it('counts over a long weekend', () => {
    expect(addBusinessDays('2027-07-02', 1)).toBe('2027-07-06');
    expect(addBusinessDays('2027-07-06', -1)).toBe('2027-07-02');
    expect(addBusinessDays('2027-07-03', 0)).toBe('2027-07-06');
    expect(businessDaysBetween('2027-07-01', '2027-07-07')).toBe(3);
  });

  it('adding and counting undo one another, over every holiday', () => {
    fc.assert(
      fc.property(day, fc.integer({ min: -60, max: 60 }), (from, n) => {
        const to = addBusinessDays(from, n);
        expect(isBusinessDay(to)).toBeTrue();
        if (n !== 0) expect(businessDaysBetween(from, to)).toBe(n);
      }),
    );
  });

  it('steps add up: n days and then m days are n + m days', () => {
    fc.assert(
      fc.property(day, fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 30 }), (from, n, m) => {
        expect(addBusinessDays(addBusinessDays(from, n), m)).toBe(addBusinessDays(from, n + m));
      }),
    );
  });

  it('goes by the losing carrier’s own holidays where it names them', () => {
    expect(addBusinessDays('2027-07-02', 1, new Set(['2027-07-06']))).toBe('2027-07-05');
  });

  it('refuses what is no day', () => {
    expect(() => addDays('2027-02-30', 1)).toThrowError(RangeError);
    expect(() => isBusinessDay('soon')).toThrowError(RangeError);
  });
});

describe('the request beside the old carrier’s record', () => {
  const like = (field: Parameters<typeof compareField>[0], a: string, b: string, trading = ''): string =>
    compareField(field, a, b, trading).likeness;

  it('takes case, punctuation and the post’s abbreviations for the same', () => {
    expect(like('street', '18 Millrace Lane', '18 MILLRACE LN.')).toBe('same');
    expect(like('street', '4 North Quay Road', '4 N Quay Rd')).toBe('same');
    expect(like('unit', 'Suite 4', 'STE 4')).toBe('same');
    expect(like('unit', 'Apt. 4', '#4')).toBe('same');
    expect(like('holderName', 'Saltmarsh Ferries, L.L.C.', 'SALTMARSH FERRIES LLC')).toBe('same');
    expect(like('holderName', 'Oak & Ash', 'Oak and Ash')).toBe('same');
    expect(like('postalCode', '08602', '08602-1144')).toBe('same');
    expect(like('billingNumber', '+16095550110', '609-555-0110'.replace(/^/, '+1'))).toBe('same');
  });

  it('sees what a reviewer would reject', () => {
    expect(like('holderName', 'Orrin Pellworm', 'Orrin James Pellworm')).toBe('will be rejected');
    expect(like('holderName', 'Orrin James Pellworm', 'Orrin Pellworm')).toBe('will be rejected');
    expect(like('holderName', 'Northbank Seeds', 'Northbank Seed Library', 'Northbank Seeds')).toBe('will be rejected');
    expect(like('holderName', 'Orrin Pellworm dba Orrin Kiln', 'Orrin Pellworm')).toBe('will be rejected');
    expect(like('holderName', 'Northbank Seed Library', 'Northbank Seed Library Inc')).toBe('will be rejected');
    expect(like('unit', 'Suite 4', 'Suite 5')).toBe('will be rejected');
    expect(like('unit', '', 'Suite 5')).toBe('will be rejected');
    expect(like('street', '18 Millrace Lane', '19 Millrace Lane')).toBe('will be rejected');
    expect(like('accountNumber', '40712', '0040712')).toBe('will be rejected');
    expect(compareField('accountNumber', '40712', '0040712').why).toContain('Leading zeros count');
  });

  it('rejects a missing initial, one letter else, North for South, and says which it is', () => {
    const why = (field: Parameters<typeof compareField>[0], a: string, b: string): string => {
      const c = compareField(field, a, b);
      expect(c.likeness).withContext(`${a} / ${b}`).toBe('will be rejected');
      return c.why;
    };
    expect(why('holderName', 'Northbank Seed Libary', 'Northbank Seed Library')).toContain('One letter differs');
    expect(why('holderName', 'Orrin Pellworm', 'Orrin J Pellworm')).toContain('middle initial “J”');
    expect(why('holderName', 'Orrin J. Pellworm', 'Orrin Pellworm')).toContain('no middle initial “J”');
    expect(why('street', '18 Milrace Lane', '18 Millrace Ln')).toContain('One letter differs');
    expect(why('street', '4 North Quay Road', '4 S Quay Rd')).toBe('North here, South in the record.');
    expect(why('street', '4 Quay Road', '4 S Quay Rd')).toBe('The record has “South”, which is missing here.');
    expect(why('street', '4 NE Quay Road', '4 Quay Rd')).toBe('“Northeast” is not in the record.');
    expect(like('holderName', 'Pellworm Orrin', 'Orrin Pellworm')).toBe('doubtful');
  });

  it('lets no digit of one part slide into another, and takes no floor for a suite', () => {
    expect(like('unit', 'Building 2 Apartment 14', 'Building 21 Apartment 4')).toBe('will be rejected');
    expect(like('unit', 'Bldg 2, Apt 14', 'Building 2 # 14')).toBe('same');
    expect(like('unit', 'Apt 14 Bldg 2', 'Building 2 Apt 14'))
      .withContext('in any order')
      .toBe('same');
    expect(compareField('unit', 'Floor 4', 'Suite 4').why).toBe('The record has a suite or unit that is missing here.');
    expect(compareField('unit', 'Floor 4 Suite 2', 'Suite 2').why).toBe('The record has no floor.');
    expect(like('unit', '4', 'Suite 4')).toBe('same');
    expect(like('street', '1 23rd Street', '12 3rd Street')).toBe('will be rejected');
  });

  it('tells a saint from a street by its place', () => {
    expect(like('street', '12 St Mark St', '12 Saint Mark Street')).toBe('same');
    expect(like('street', '12 Mark St', '12 Saint Mark')).toBe('will be rejected');
    expect(like('street', '12 Main St N', '12 Main Street North')).toBe('same');
    expect(like('street', '12 St. Anne Ct', '12 Street Anne Ct')).toBe('will be rejected');
    expect(like('city', 'St Ives', 'Saint Ives')).toBe('same');
    expect(like('city', 'St Ives', 'Street Ives')).toBe('will be rejected');
  });

  it('says of what is spelled otherwise that it is', () => {
    expect(compareField('street', '18 Millrace Lane', '18 MILLRACE LN').why).toBe(SPELLED_OTHERWISE);
    expect(compareField('city', 'Northbank', 'Northbank').why).toBe('The same.');
  });

  it('marks just the characters that differ', () => {
    const s = differingSpans('18 Millrace Lane', '19 Millrace Lane');
    expect(s).toEqual({ a: [{ start: 1, end: 2 }], b: [{ start: 1, end: 2 }] });
    const c = compareField('holderName', 'Orrin Pellworm', 'Orrin James Pellworm');
    expect(c.oursDiffer).toEqual([]);
    expect(c.theirsDiffer.map((x) => c.theirs.slice(x.start, x.end))).toEqual(['James']);
  });

  it('what lies outside the marks is the same on both sides', () => {
    const words = fc.stringMatching(/^[A-Da-d .-]{0,14}$/);
    fc.assert(
      fc.property(words, words, (a, b) => {
        const spans = differingSpans(a, b);
        const rest = (t: string, cut: { start: number; end: number }[]): string =>
          [...t]
            .filter((_, i) => !cut.some((c) => i >= c.start && i < c.end))
            .join('')
            .toLowerCase()
            .replace(/[^a-z]/g, '');
        expect(rest(a, spans.a)).toBe(rest(b, spans.b));
      }),
    );
  });
});

const NUMBER: PortNumber = {
  e164: '+16095550110',
  kind: 'landline',
  losingCarrier: 'Harth Telephone',
  portable: true,
  whyNot: '',
};
const FACTS: PortFacts = {
  accountNumber: '0040712',
  pin: '',
  pinExpires: '',
  holderKind: 'business',
  holderName: 'Northbank Seed Library',
  authorisedName: 'Bram Oakenshaw',
  street: '18 Millrace Lane',
  unit: '',
  city: 'Northbank',
  state: 'NJ',
  postalCode: '08602',
  billingNumber: '+16095550110',
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
  city: 'NORTHBANK',
  state: 'NJ',
  postalCode: '08602',
  billingNumber: '+16095550110',
  numbers: [{ e164: '+16095550110', active: true }],
  authorisedNames: [],
  freeze: false,
  pendingOrder: '',
};
const GOOD: PortRequest = {
  numbers: [NUMBER],
  facts: FACTS,
  letter: {
    signedBy: 'Bram Oakenshaw',
    signedOn: '2027-03-10',
    holderName: 'Northbank Seed Library',
    numbers: ['+16095550110'],
  },
  billDated: '2027-03-01',
  acknowledged: PORT_ACKNOWLEDGEMENTS.map((a) => a.key),
};

describe('the review of a port request', () => {
  const codes = (change: Partial<PortRequest>, csr?: Partial<CustomerRecord>, submitOn = '2027-03-12'): string[] =>
    reviewPort({ ...GOOD, ...change }, { csr: csr && { ...RECORD, ...csr }, submitOn }).map(
      (f) => `${f.code} ${f.field}`,
    );
  const facts = (change: Partial<PortFacts>): Partial<PortRequest> => ({ facts: { ...FACTS, ...change } });

  it('finds nothing in a good one, also beside the record', () => {
    expect(codes({})).toEqual([]);
    expect(codes({}, {})).toEqual([]);
  });

  it('asks for what each kind of line is validated by', () => {
    const wireless: PortNumber = { ...NUMBER, kind: 'wireless' };
    expect(codes({ numbers: [wireless], billDated: null })).toEqual(['port-fact-missing pin']);
    expect(
      codes({ numbers: [wireless], billDated: null, facts: { ...FACTS, pin: '4471', street: '', billingNumber: '' } }),
    ).toEqual([]);
    expect(codes(facts({ street: '', billingNumber: '' }))).toEqual([
      'port-fact-missing street',
      'port-fact-missing billingNumber',
    ]);
    expect(codes({ numbers: [{ ...NUMBER, kind: 'toll-free' }] })).toEqual([
      'port-fact-missing responsibleOrganisation',
    ]);
    expect(codes(facts({ postalCode: '0860' }))).toEqual(['port-zip-malformed postalCode']);
  });

  it('wants a PIN that lives past the submission', () => {
    const w = (pinExpires: string): string[] =>
      codes({ numbers: [{ ...NUMBER, kind: 'wireless' }], ...facts({ pin: '4471', pinExpires }) });
    expect(w('2027-03-12')).toEqual(['port-pin-expires pinExpires']);
    expect(w('2027-03-13')).toEqual([]);
  });

  it('holds letter and bill to thirty days, and neither may come from the future', () => {
    const letter = (signedOn: string): Partial<PortRequest> => ({ letter: { ...GOOD.letter!, signedOn } });
    expect(codes(letter('2027-02-10'))).toEqual([]);
    expect(codes(letter('2027-02-09'))).toEqual(['port-letter-old letter']);
    expect(codes(letter('2027-03-13'))).toEqual(['port-letter-future letter']);
    expect(codes({ billDated: '2027-02-09' })).toEqual(['port-bill-old bill']);
    expect(codes({ billDated: null })).toEqual(['port-bill-missing bill']);
    expect(codes({ letter: null })).toEqual(['port-letter-missing letter']);
  });

  it('wants every number in the letter, and the right names under it', () => {
    const second: PortNumber = { ...NUMBER, e164: '+16095550111' };
    expect(codes({ numbers: [NUMBER, second] })).toEqual(['port-letter-number-missing letter']);
    expect(codes(facts({ holderName: 'Somebody Else' }))).toContain('port-letter-holder-differs letter');
    expect(codes(facts({ authorisedName: 'Odette Farrow' }))).toEqual(['port-letter-signer-differs letter']);
  });

  it('blocks an end of the old service before the numbers have changed over, and none behind that day', () => {
    const ends = (oldServiceEnds: string, focOn = ''): string[] =>
      reviewPort({ ...GOOD, ...facts({ oldServiceEnds }) }, { submitOn: '2027-03-12', focOn }).map((f) => f.code);
    expect(ends('2027-04-01', '2027-04-01')).toEqual(['port-old-service-ends']);
    expect(ends('2027-04-02', '2027-04-01')).toEqual([]);
    // Twenty business days are what practice takes at most.
    expect(ends('2027-04-09')).toEqual(['port-old-service-ends']);
    expect(ends('2027-04-10')).toEqual(['port-old-service-ends-later']);
  });

  it('holds the signer against those the carrier takes a decision from', () => {
    const authorisedNames = ['Odette Farrow', 'Marta Quill'];
    expect(codes({}, { authorisedNames })).toEqual(['port-signer-not-authorised authorisedName']);
    expect(codes({}, { authorisedNames: ['BRAM OAKENSHAW'] })).toEqual([]);
    expect(codes({}, { authorisedNames: [] }))
      .withContext('a carrier that does not say')
      .toEqual([]);
    const wireless: Partial<PortRequest> = { numbers: [{ ...NUMBER, kind: 'wireless' }], ...facts({ pin: '4471' }) };
    expect(codes(wireless, { authorisedNames })).toEqual(['port-signer-unknown-to-carrier authorisedName']);
  });

  it('wants a new billing number that is one of those that stay', () => {
    const staying = [...RECORD.numbers, { e164: '+16095550112', active: true }];
    const named = (newBillingNumber: string): string[] =>
      codes(facts({ linesStay: true, newBillingNumber }), { numbers: staying });
    expect(named('+16095550112')).toEqual([]);
    expect(named('+16095550119')).toEqual(['port-new-billing-number-unknown newBillingNumber']);
  });

  it('compares the numbers on a letter as numbers, however they are written', () => {
    const letter = { ...GOOD.letter!, numbers: ['(609) 555-0110'] };
    expect(codes({ letter })).toEqual([]);
    expect(codes({ letter: { ...letter, numbers: ['609 555 0111'] } })).toEqual(['port-letter-number-missing letter']);
  });

  it('finds an old bill on wireless lines too, where one was handed in', () => {
    const wireless: Partial<PortRequest> = { numbers: [{ ...NUMBER, kind: 'wireless' }], ...facts({ pin: '4471' }) };
    expect(codes({ ...wireless, billDated: '2027-01-02' })).toEqual(['port-bill-old-not-needed bill']);
    expect(codes({ ...wireless, billDated: null })).toEqual([]);
  });

  it('asks who is billed when the billing number leaves and lines stay', () => {
    expect(codes(facts({ linesStay: true }))).toEqual(['port-new-billing-number-missing newBillingNumber']);
    expect(codes(facts({ linesStay: true, newBillingNumber: '+16095550199' }))).toEqual([]);
    expect(codes(facts({ linesStay: true, newBillingNumber: NUMBER.e164 }))).toEqual([
      'port-new-billing-number-leaves newBillingNumber',
    ]);
  });

  it('finds in the record what the carrier would reject', () => {
    expect(codes({}, { holderName: 'Northbank Seed Library Inc', unit: 'Suite 2' })).toEqual([
      'port-record-differs holderName',
      'port-record-differs unit',
    ]);
    expect(codes({}, { freeze: true, pendingOrder: 'a new line' })).toEqual([
      'port-freeze numbers',
      'port-pending-order numbers',
    ]);
    expect(codes({}, { numbers: [{ e164: NUMBER.e164, active: false }] })).toEqual([
      'port-line-inactive numbers.+16095550110',
    ]);
    expect(codes({}, { numbers: [...RECORD.numbers, { e164: '+16095550112', active: true }] })).toEqual([
      'port-partial linesStay',
    ]);
    const wireless: Partial<PortRequest> = { numbers: [{ ...NUMBER, kind: 'wireless' }], ...facts({ pin: '4471' }) };
    expect(codes(wireless, { holderName: 'Quite Another' }))
      .withContext('a risk for wireless')
      .toEqual(['port-record-doubtful holderName']);
  });

  it('wants every acknowledgement by itself', () => {
    expect(codes({ acknowledged: [] }).length).toBe(PORT_ACKNOWLEDGEMENTS.length);
  });

  it('compares every field once', () => {
    expect(compareRecord(FACTS, RECORD).every((c) => c.likeness === 'same')).toBeTrue();
  });
});

describe('the way of a port', () => {
  it('no sequence of events makes a number ours that has not landed, or brings a closed request back', () => {
    const events: PortEvent[] = [
      'submit',
      'cancel',
      'reject',
      'accept',
      'move date',
      'cut over',
      'complete',
      'snap back',
      'return',
    ];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...events), { maxLength: 30 }), (sequence) => {
        let state: PortState = 'draft';
        let landed = 0;
        for (const e of sequence) {
          const next = portAfter(state, e);
          if (next === null) continue;
          expect(state).not.toBe('returned');
          // A cancellation may come too late; nothing else brings a cancelled request back.
          if (state === 'cancelled') expect(['cut over', 'complete']).toContain(e);
          if (!isOurs(state) && isOurs(next)) landed++;
          state = next;
          expect(PORT_STATES).toContain(state);
        }
        expect(landed).toBeLessThanOrEqual(1);
        expect(isOurs(state)).toBe(landed === 1 && state !== 'returned');
      }),
    );
  });

  it('says what is late in business days', () => {
    const p = {
      state: 'submitted' as const,
      simple: false,
      begun: '2027-03-10',
      submitted: '2027-03-12',
      answered: '' as const,
      foc: '' as const,
      completed: '' as const,
    };
    const answered = (today: string): string => portTimeline(p, today).find((s) => s.step === 'answered')?.state ?? '';
    expect(answered('2027-03-18')).toBe('expected');
    expect(answered('2027-03-19')).toBe('late');
    expect(lastDayToChange('2027-03-24')).toBe('2027-03-22');
    expect(lastDayToChange('2027-07-06')).toBe('2027-07-01');
  });
});
