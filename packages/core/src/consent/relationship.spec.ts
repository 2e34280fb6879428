import fc from 'fast-check';
import { dayIn } from '../porting/business-days.js';
import type { LedgerEvent } from './ledger.js';
import {
  readRelationshipLine,
  relationshipBroken,
  relationshipEnds,
  RELATIONSHIP_KINDS,
  standsAfter,
  type RelationshipKind,
} from './relationship.js';

const ZONE = 'America/New_York';
const ends = (kind: RelationshipKind, day: string, zone = ZONE): string =>
  new Date(relationshipEnds(kind, day, zone)).toISOString();
const read = (...cells: string[]) => readRelationshipLine(cells, { allowFictional: true, today: '2027-03-10' });

describe('a recorded relationship', () => {
  it('lasts eighteen months from a purchase and three from an inquiry, to the day as it begins where the business is', () => {
    expect(ends('purchase', '2026-01-15')).toBe('2027-07-15T04:00:00.000Z');
    expect(ends('inquiry', '2026-01-15')).toBe('2026-04-15T04:00:00.000Z');
    expect(ends('inquiry', '2026-01-15', 'America/Los_Angeles')).toBe('2026-04-15T07:00:00.000Z');
  });

  it('ends with the month where that has no such day, and over a change of the clock at midnight all the same', () => {
    expect(ends('inquiry', '2026-11-30')).toBe('2027-02-28T05:00:00.000Z');
    expect(ends('purchase', '2026-08-31')).toBe('2028-02-29T05:00:00.000Z');
    expect(ends('inquiry', '2026-12-14')).toBe('2027-03-14T05:00:00.000Z');
    expect(ends('inquiry', '2026-12-15')).toBe('2027-03-15T04:00:00.000Z');
  });

  it('is never longer for having happened sooner, and a purchase is longer than an inquiry', () => {
    const day = fc.integer({ min: Date.UTC(2020, 0, 1) / 864e5, max: Date.UTC(2035, 0, 1) / 864e5 });
    const iso = (n: number): string => new Date(n * 864e5).toISOString().slice(0, 10);
    fc.assert(
      fc.property(day, day, (a, b) => {
        const [sooner, later] = [iso(Math.min(a, b)), iso(Math.max(a, b))];
        for (const kind of RELATIONSHIP_KINDS)
          expect(relationshipEnds(kind, sooner, ZONE)).toBeLessThanOrEqual(relationshipEnds(kind, later, ZONE));
        expect(relationshipEnds('inquiry', sooner, ZONE)).toBeLessThan(relationshipEnds('purchase', sooner, ZONE));
        // It ends with the beginning of a day there.
        const at = relationshipEnds('purchase', sooner, ZONE);
        expect(dayIn(at - 1, ZONE)).not.toBe(dayIn(at, ZONE));
      }),
    );
  });

  it('is broken by its person’s no to offers, or where the number is somebody else’s, and by nothing less', () => {
    const event = (kind: LedgerEvent['kind'], happenedAt: number, ...purposes: LedgerEvent['purposes']) => ({
      kind,
      happenedAt,
      purposes,
    });
    expect(relationshipBroken([])).toBeNull();
    expect(
      relationshipBroken([
        event('granted', 1, 'promotional'),
        event('revoked', 2, 'informational'),
        event('declined', 3, 'promotional'),
        event('expired', 4, 'promotional'),
      ]),
    ).toBeNull();
    expect(relationshipBroken([event('revoked', 5, 'informational', 'promotional')])).toBe(5);
    expect(relationshipBroken([event('voided', 7, 'informational'), event('revoked', 5, 'promotional')])).toBe(7);
  });

  it('stands in spite of a no only where it came on a later day', () => {
    const no = Date.parse('2027-01-20T15:00:00Z');
    expect(['2027-01-19', '2027-01-20', '2027-01-21'].map((d) => standsAfter(d, no, ZONE))).toEqual([
      false,
      false,
      true,
    ]);
    expect(standsAfter('2027-01-19', null, ZONE)).toBeTrue();
  });
});

describe('a file of purchases and inquiries', () => {
  it('is read with days and words as people write them', () => {
    const sale = { e164: '+12015550142', kind: 'purchase' as const, happenedOn: '2027-01-04', reference: 'ticket 12' };
    expect(read('(201) 555-0142', '2027-01-04', 'purchase', 'ticket 12')).toEqual(sale);
    expect(read(' 201.555.0142 ', '4 Jan 2027', 'Purchase', ' ticket 12 ', 'more')).toEqual(sale);
    expect(read('2015550142', '2027-01-04', 'enquiry')).toEqual({ ...sale, kind: 'inquiry', reference: '' });
    for (const heading of [[''], ['phone', 'day', 'what', 'about'], []]) expect(read(...heading)).toBeNull();
  });

  it('says of each line what is wrong with it', () => {
    const why = (...cells: string[]): string => {
      const line = read(...cells);
      return line !== null && 'why' in line ? line.why : '';
    };
    expect(why('201555', '2027-01-04', 'purchase')).not.toBe('');
    expect(why('2015550142', '2027-02-30', 'purchase')).toContain('“2027-02-30” is no day');
    expect(why('2015550142', '1/4/2027', 'purchase')).toContain('“1/4/2027” could be two days');
    expect(why('2015550142', '12/31/2026', 'purchase')).toBe('');
    expect(why('2015550142', '', 'purchase')).toContain('“” is no day');
    expect(why('2015550142', '2027-03-11', 'purchase')).toBe('Its day is still to come.');
    expect(why('2015550142', '2027-03-10', 'gift')).toContain('neither purchase nor inquiry');
  });
});
