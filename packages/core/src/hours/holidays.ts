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
