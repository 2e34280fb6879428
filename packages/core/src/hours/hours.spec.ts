import fc from 'fast-check';
import { DateTime } from 'luxon';
import { isFederalHoliday } from './holidays.js';
import { STATE_HOURS } from './hours.data.js';
import { DEFAULT_HOURS, lastPacificMidnight, nextPacificMidnight, sendWindow } from './send-window.js';

const ny = (iso: string): number => DateTime.fromISO(iso, { zone: 'America/New_York' }).toMillis();
const open = (iso: string, states: string[], zones = ['America/New_York']): string => {
  const w = sendWindow({ zones, states }, DEFAULT_HOURS, ny(iso));
  if (w.open)
    return `open until ${DateTime.fromMillis(w.closesAt, { zone: 'America/New_York' }).toFormat('ccc HH:mm')}`;
  return 'never' in w
    ? 'never'
    : `opens ${DateTime.fromMillis(w.opensAt, { zone: 'America/New_York' }).toFormat('ccc HH:mm')}`;
};

describe('what was reckoned for a place before', () => {
  const places = [
    { zones: ['America/New_York'], states: ['NJ'] },
    { zones: ['America/Chicago'], states: ['LA', 'AL'] },
    { zones: ['America/New_York', 'America/Los_Angeles'], states: ['FL', 'CA'] },
    { zones: ['Pacific/Auckland'], states: ['FL'] },
    { zones: [], states: [] },
  ];
  const START = Date.parse('2026-10-20T00:00:00Z');

  it('changes no answer, in whatever order moments are asked, over the change of the clock and holidays too', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(places.length - 1), fc.nat(60 * 24 * 60)), { minLength: 2, maxLength: 12 }),
        (asked) => {
          for (const [i, minute] of asked) {
            const place = places[i] ?? { zones: [], states: [] };
            const at = START + minute * 60_000;
            // Rules of the same content that nobody asked before know of no earlier answer.
            expect(sendWindow(place, DEFAULT_HOURS, at)).toEqual(sendWindow(place, { ...DEFAULT_HOURS }, at));
          }
        },
      ),
      { numRuns: 200 },
    );
  });

  it('ends with the minute at which a place closes or opens', () => {
    const closes = Date.parse('2026-11-25T02:00:00Z'); // 21:00 in New York
    const at = (ms: number): unknown => sendWindow(places[0] ?? { zones: [], states: [] }, DEFAULT_HOURS, closes + ms);
    expect(at(-3_600_000)).toEqual({ open: true, closesAt: closes });
    expect(at(-1)).toEqual({ open: true, closesAt: closes });
    expect(at(0)).toEqual({ open: false, opensAt: closes + 11 * 3_600_000 });
    expect(at(-1))
      .withContext('and of earlier moments nothing is known by it')
      .toEqual({ open: true, closesAt: closes });
  });

  it('is another by other rules', () => {
    const noon = Date.parse('2026-11-24T17:00:00Z');
    const none = { ...DEFAULT_HOURS, federal: { ...DEFAULT_HOURS.federal, from: 13 }, states: [] };
    const place = { zones: ['America/New_York'], states: ['NJ'] };
    expect(sendWindow(place, DEFAULT_HOURS, noon).open).toBeTrue();
    expect(sendWindow(place, none, noon).open).toBeFalse();
  });
});

describe('sendWindow', () => {
  it('keeps 8 to 21 with the end exclusive', () => {
    expect(open('2026-11-24T08:00', ['NJ'])).toBe('open until Tue 21:00');
    expect(open('2026-11-24T07:59', ['NJ'])).toBe('opens Tue 08:00');
    expect(open('2026-11-24T21:00', ['NJ'])).toBe('opens Wed 08:00');
  });
  it('keeps narrower states, Sundays and holidays', () => {
    expect(open('2026-11-24T20:00', ['FL'])).toBe('opens Wed 08:00');
    expect(open('2026-11-22T12:00', ['RI'])).toBe('opens Mon 09:00');
    expect(open('2026-11-21T16:59', ['RI'])).toBe('open until Sat 17:00');
    expect(open('2026-11-26T12:00', ['LA'], ['America/Chicago'])).toBe('opens Sat 09:00');
  });
  it('keeps the holidays a state’s own law names', () => {
    // Good Friday and Mardi Gras of 2027: 26 March and 9 February.
    expect(open('2027-03-26T12:00', ['LA'], ['America/Chicago'])).toBe('opens Sat 09:00');
    expect(open('2027-02-09T12:00', ['LA'], ['America/Chicago'])).toBe('opens Wed 09:00');
    expect(open('2026-11-27T12:00', ['LA'], ['America/Chicago'])).toBe('opens Sat 09:00');
    expect(open('2027-03-26T12:00', ['AL'], ['America/Chicago'])).toBe('open until Fri 21:00');
    expect(open('2027-04-26T12:00', ['AL'], ['America/Chicago'])).toBe('opens Tue 09:00');
    expect(open('2027-06-07T12:00', ['AL'], ['America/Chicago'])).toBe('opens Tue 09:00');
    expect(open('2026-08-10T12:00', ['RI'])).toBe('opens Tue 09:00');
    expect(open('2027-03-26T12:00', ['NJ'])).toBe('open until Fri 21:00');
  });
  it('keeps Canadian weekends', () => {
    expect(open('2026-11-22T09:30', ['ON'], ['America/Toronto'])).toBe('opens Sun 10:00');
    expect(open('2026-11-22T18:00', ['ON'], ['America/Toronto'])).toBe('opens Mon 09:00');
  });
  it('needs every possible place to be open', () => {
    expect(open('2026-11-24T08:30', ['FL', 'AL'], ['America/New_York', 'America/Chicago'])).toBe('opens Tue 09:00');
  });
  it('answers never when no hour is common, and ends', () => {
    const never = { federal: { ...DEFAULT_HOURS.federal, from: 9, to: 9 }, states: [] };
    expect(sendWindow({ zones: ['America/New_York'], states: [] }, never, ny('2026-11-24T12:00'))).toEqual({
      open: false,
      never: true,
    });
  });
  it('opens at local eight on the days the clocks change', () => {
    expect(open('2026-03-08T06:00', ['NJ'])).toBe('opens Sun 08:00');
    expect(open('2026-11-01T06:00', ['NJ'])).toBe('opens Sun 08:00');
  });
  it('answers a moment that is open itself, for any place and time', () => {
    const states = fc.subarray(
      STATE_HOURS.map((s) => s.state),
      { maxLength: 3 },
    );
    const zones = fc.subarray(['America/New_York', 'America/Chicago', 'America/Denver', 'America/Los_Angeles'], {
      minLength: 1,
    });
    fc.assert(
      fc.property(
        states,
        zones,
        fc.integer({ min: ny('2026-01-01T00:00'), max: ny('2027-12-31T00:00') }),
        (s, z, at) => {
          const w = sendWindow({ zones: z, states: s }, DEFAULT_HOURS, at);
          if (w.open) expect(w.closesAt).toBeGreaterThan(at);
          else if (!('never' in w)) {
            expect(w.opensAt).toBeGreaterThan(at);
            expect(sendWindow({ zones: z, states: s }, DEFAULT_HOURS, w.opensAt).open).toBe(true);
            expect(sendWindow({ zones: z, states: s }, DEFAULT_HOURS, w.opensAt - 1).open).toBe(false);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('days', () => {
  it('knows the federal holidays of 2026', () => {
    const dates = [
      [1, 1],
      [1, 19],
      [2, 16],
      [5, 25],
      [6, 19],
      [7, 4],
      [9, 7],
      [10, 12],
      [11, 11],
      [11, 26],
      [12, 25],
    ];
    for (const [m, d] of dates)
      expect(isFederalHoliday(2026, m ?? 0, d ?? 0))
        .withContext(`${m}-${d}`)
        .toBe(true);
    expect(isFederalHoliday(2026, 11, 27)).toBe(false);
  });
  it('turns the daily cap at midnight Pacific', () => {
    const at = ny('2026-11-24T02:00');
    expect(DateTime.fromMillis(nextPacificMidnight(at), { zone: 'America/Los_Angeles' }).toISO()).toContain(
      '2026-11-24T00:00',
    );
    expect(nextPacificMidnight(at) - lastPacificMidnight(at)).toBe(86_400_000);
  });
});
