import { openByHour } from './open-by-hour.js';
import { DEFAULT_HOURS, sendWindow } from './send-window.js';

const HOUR = 3_600_000;
/** Half past six in the evening in New York. */
const EVENING = Date.parse('2026-11-24T23:30:00Z');
const place = (zones: string, states: string, count: number) => ({ zones, states, count });

describe('who may be texted hour by hour', () => {
  it('adds those up whose hours are open, each by their own clock', () => {
    const open = openByHour(
      [
        place('America/New_York', 'NJ', 100),
        place('America/New_York', 'NJ', 20),
        place('America/New_York', 'FL', 7),
        place('America/Los_Angeles', 'CA', 3),
      ],
      DEFAULT_HOURS,
      EVENING,
      16,
    );
    // Florida closes at eight, New Jersey at nine, California at nine by its own clock; New Jersey opens at eight.
    expect(open).toEqual([130, 130, 123, 3, 3, 3, 0, 0, 0, 0, 0, 0, 0, 0, 127, 127]);
  });

  it('says of the hour that runs what is true of what is left of it', () => {
    // Ten minutes to nine: the half of this hour is past, its rest is open.
    const late = Date.parse('2026-11-25T01:50:00Z');
    expect(openByHour([place('America/New_York', 'NJ', 5)], DEFAULT_HOURS, late, 2)).toEqual([5, 0]);
    const closed = Date.parse('2026-11-25T02:05:00Z');
    expect(openByHour([place('America/New_York', 'NJ', 5)], DEFAULT_HOURS, closed, 1)).toEqual([0]);
  });

  it('keeps Sundays, and people who may be anywhere', () => {
    const sunday = Date.parse('2026-11-22T15:00:00Z');
    const people = [place('America/New_York', 'RI', 9), place('', '', 4)];
    const open = openByHour(people, DEFAULT_HOURS, sunday, 30);
    for (const [i, n] of open.entries()) {
      const at = Math.max(sunday, Math.floor(sunday / HOUR) * HOUR + (i + 0.5) * HOUR);
      const ri = sendWindow({ zones: ['America/New_York'], states: ['RI'] }, { ...DEFAULT_HOURS }, at).open;
      const anywhere = sendWindow({ zones: [], states: [] }, { ...DEFAULT_HOURS }, at).open;
      expect(n)
        .withContext(`hour ${i}`)
        .toBe((ri ? 9 : 0) + (anywhere ? 4 : 0));
    }
    expect(open.slice(0, 6).some((n) => n >= 9))
      .withContext('Rhode Island is closed on Sundays')
      .toBeFalse();
  });

  it('is nobody where there is nobody', () => {
    expect(openByHour([], DEFAULT_HOURS, EVENING, 3)).toEqual([0, 0, 0]);
  });
});
