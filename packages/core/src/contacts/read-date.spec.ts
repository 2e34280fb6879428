import { dateOrderOf, readDate } from './read-date.js';

describe('reading a date', () => {
  const date = (raw: string, order?: 'day first' | 'month first') => {
    const r = readDate(raw, order);
    return r.ok ? r.date : r.reason;
  };

  it('knows the ways people and spreadsheets write one', () => {
    for (const [raw, want] of [
      ['2026-03-12', '2026-03-12'],
      ['2026/3/2', '2026-03-02'],
      ['2026-03-12T14:05:00Z', '2026-03-12'],
      ['12 Mar 2026', '2026-03-12'],
      ['12th March 2026', '2026-03-12'],
      ['Mar 12, 2026', '2026-03-12'],
      ['March 12 2026', '2026-03-12'],
      ['12-Sept-98', '1998-09-12'],
      ['25/12/2025', '2025-12-25'],
      ['12/25/2025', '2025-12-25'],
      ['12/25/2025 10:30', '2025-12-25'],
      ['7.7.24', '2024-07-07'],
      ['46093', '2026-03-12'],
    ])
      expect(date(raw ?? ''))
        .withContext(raw ?? '')
        .toBe(want ?? '');
  });

  it('is in doubt where day and month could be either, until the order is said', () => {
    expect(date('03/04/2026')).toBe('doubtful');
    expect(date('03/04/2026', 'day first')).toBe('2026-04-03');
    expect(date('03/04/2026', 'month first')).toBe('2026-03-04');
    expect(date('25/04/2026', 'month first')).withContext('can only be one').toBe('2026-04-25');
  });

  it('takes nothing for a date that is none', () => {
    for (const raw of ['', 'soon', '2026-02-30', '31/02/2026', '13/13/2026', '12 Foo 2026', '2125550101', '12 Ma 2026'])
      expect(date(raw)).withContext(raw).toBe('no date');
  });

  it('sees the order of a column by those that tell, and asks where they contradict', () => {
    expect(dateOrderOf(['03/04/2026', '25/04/2026'])).toBe('day first');
    expect(dateOrderOf(['03/04/2026', '04/25/2026'])).toBe('month first');
    expect(dateOrderOf(['03/04/2026'])).toBeNull();
    expect(dateOrderOf(['25/04/2026', '04/25/2026'])).toBeNull();
  });
});
