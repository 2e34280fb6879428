/** Weekday of a date, ISO: 1 Monday … 7 Sunday. */
function weekday(year: number, month: number, day: number): number {
  return ((new Date(Date.UTC(year, month - 1, day)).getUTCDay() + 6) % 7) + 1;
}

function nth(year: number, month: number, wanted: number, n: number): number {
  const first = weekday(year, month, 1);
  return 1 + ((wanted - first + 7) % 7) + (n - 1) * 7;
}

function lastOf(year: number, month: number, wanted: number): number {
  const days = new Date(Date.UTC(year, month, 0)).getUTCDate();
  return days - ((weekday(year, month, days) - wanted + 7) % 7);
}

/** US federal holidays on their own day. source: 5 U.S.C. 6103. */
export function isFederalHoliday(year: number, month: number, day: number): boolean {
  switch (month) {
    case 1:
      return day === 1 || day === nth(year, 1, 1, 3);
    case 2:
      return day === nth(year, 2, 1, 3);
    case 5:
      return day === lastOf(year, 5, 1);
    case 6:
      return day === 19 && year >= 2021;
    case 7:
      return day === 4;
    case 9:
      return day === nth(year, 9, 1, 1);
    case 10:
      return day === nth(year, 10, 1, 2);
    case 11:
      return day === 11 || day === nth(year, 11, 4, 4);
    case 12:
      return day === 25;
    default:
      return false;
  }
}

/** Easter Sunday. (Anonymous Gregorian computus; Meeus, Astronomical Algorithms) */
function easter(year: number): { month: number; day: number } {
  const a = year % 19;
  const b = Math.floor(year / 100);
  const c = year % 100;
  const d = (19 * a + b - Math.floor(b / 4) - Math.floor((b - Math.floor((b + 8) / 25) + 1) / 3) + 15) % 30;
  const e = (32 + 2 * (b % 4) + 2 * Math.floor(c / 4) - d - (c % 4)) % 7;
  const f = d + e - 7 * Math.floor((a + 11 * d + 22 * e) / 451) + 114;
  return { month: Math.floor(f / 31), day: (f % 31) + 1 };
}

function isDaysFromEaster(year: number, month: number, day: number, days: number): boolean {
  const e = easter(year);
  const at = new Date(Date.UTC(year, e.month - 1, e.day + days));
  return at.getUTCMonth() + 1 === month && at.getUTCDate() === day;
}

/** Holidays some states keep beside the federal ones, by the law that names them. */
export const STATE_HOLIDAYS = {
  'Good Friday': (y: number, m: number, d: number) => isDaysFromEaster(y, m, d, -2),
  'Mardi Gras': (y: number, m: number, d: number) => isDaysFromEaster(y, m, d, -47),
  'day after Thanksgiving': (y: number, m: number, d: number) => m === 11 && d === nth(y, 11, 4, 4) + 1,
  'Confederate Memorial Day': (y: number, m: number, d: number) => m === 4 && d === nth(y, 4, 1, 4),
  'Jefferson Davis’ Birthday': (y: number, m: number, d: number) => m === 6 && d === nth(y, 6, 1, 1),
  'Victory Day': (y: number, m: number, d: number) => m === 8 && d === nth(y, 8, 1, 2),
} as const satisfies Record<string, (year: number, month: number, day: number) => boolean>;
export type StateHoliday = keyof typeof STATE_HOLIDAYS;
