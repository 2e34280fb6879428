import { mergeContacts, type MergedFacts } from './merge-contacts.js';
import { readOwnValue, type OwnField } from './own-value.js';

describe('what stands in a field of one’s own', () => {
  const of = (kind: OwnField['kind'], raw: string, choices: string[] = []) => {
    const r = readOwnValue({ kind, choices }, raw);
    return r.ok ? r.value : `not: ${r.reason}`;
  };

  it('is kept in one form, however it was written', () => {
    expect(of('number', ' 1,250 ')).toBe('1250');
    expect(of('number', '$3.50')).toBe('3.5');
    expect(of('number', '-0')).toBe('0');
    expect(of('date', '12 Mar 2026')).toBe('2026-03-12');
    expect(of('choice', 'KEPT', ['kept', 'missed'])).toBe('kept');
    expect(of('text', '  berth 12 ')).toBe('berth 12');
  });

  it('is refused with what is wrong', () => {
    expect(of('number', 'a dozen')).toBe('not: no number');
    expect(of('number', '1,25')).toBe('not: no number');
    expect(of('number', '')).toBe('not: no number');
    expect(of('date', '03/04/2026')).toContain('could be either');
    expect(of('choice', 'maybe', ['kept', 'missed'])).toBe('not: none of its choices (kept, missed)');
    expect(of('text', 'x'.repeat(301))).toContain('300');
  });
});

describe('two contacts that are one person', () => {
  const NOBODY: MergedFacts = {
    firstName: '',
    lastName: '',
    email: '',
    stateCode: '',
    language: '',
    street: '',
    city: '',
    postalCode: '',
    own: {},
  };

  it('keep what is known of the kept one, and fill its blanks from the other', () => {
    const merged = mergeContacts(
      { ...NOBODY, firstName: 'Ada', city: 'Quill', own: { a: '1' } },
      {
        ...NOBODY,
        firstName: 'Adah',
        lastName: 'Fenwick',
        email: 'ada@mail.example',
        street: '1 Quay',
        own: { a: '2', b: '3' },
      },
    );
    expect(merged).toEqual({
      ...NOBODY,
      firstName: 'Ada',
      email: 'ada@mail.example',
      city: 'Quill',
      own: { a: '1', b: '3' },
    });
  });

  it('never get a name or an address that neither has', () => {
    const merged = mergeContacts(
      { ...NOBODY, lastName: 'Marsh', street: '2 Dune Row' },
      {
        ...NOBODY,
        firstName: 'Ada',
        lastName: 'Fenwick',
        street: '1 Quay',
        city: 'Quill',
        postalCode: '07001',
        stateCode: 'NJ',
      },
    );
    expect([merged.firstName, merged.lastName]).toEqual(['', 'Marsh']);
    expect([merged.street, merged.city, merged.stateCode]).toEqual(['2 Dune Row', '', '']);
  });
});
