import type { StateHoliday } from './holidays.js';

/** Permitted hours of one state, local time. `days` follow ISO: 1 Monday … 7 Sunday; null is closed all day. */
export interface HoursRule {
  state: string;
  /** Opening and closing hour on ordinary days, end exclusive. */
  from: number;
  to: number;
  saturday?: [number, number] | null;
  sunday?: [number, number] | null;
  /** Closed on legal (US federal) holidays. */
  notOnHolidays?: boolean;
  /** Closed on these holidays of the state too. */
  alsoNotOn?: readonly StateHoliday[];
  source: string;
  checked: string;
}

/** Where no state rule is narrower: 47 CFR 64.1200(c)(1), 8 a.m. to 9 p.m. at the called party's location. */
export const FEDERAL_HOURS: HoursRule = { state: '', from: 8, to: 21, source: '47 CFR 64.1200(c)(1)', checked: '2026-11-25' };

const CHECKED = '2026-11-25';
/** States whose solicitation law is narrower. Defaults, to be checked row by row; not legal advice. */
export const STATE_HOURS: readonly HoursRule[] = [
  { state: 'FL', from: 8, to: 20, source: 'Fla. Stat. 501.616(6)', checked: CHECKED },
  { state: 'OK', from: 8, to: 20, source: 'Okla. Stat. 15 § 775C', checked: CHECKED },
  { state: 'WA', from: 8, to: 20, source: 'RCW 80.36.390', checked: CHECKED },
  { state: 'MD', from: 8, to: 20, source: 'Md. Code, Com. Law 14-4501 ff.', checked: CHECKED },
  { state: 'MA', from: 8, to: 20, source: 'M.G.L. c. 159C', checked: CHECKED },
  { state: 'WY', from: 8, to: 20, source: 'Wyo. Stat. 40-12-301 ff.', checked: CHECKED },
  { state: 'AL', from: 8, to: 20, sunday: null, notOnHolidays: true, alsoNotOn: ['Confederate Memorial Day', 'Jefferson Davis’ Birthday'], source: 'Ala. Code 8-19A; PSC rules; holidays Ala. Code 1-3-8', checked: CHECKED },
  { state: 'LA', from: 8, to: 20, sunday: null, notOnHolidays: true, alsoNotOn: ['Mardi Gras', 'Good Friday', 'day after Thanksgiving'], source: 'La. R.S. 45:844.11 ff.; PSC rules; holidays La. R.S. 1:55', checked: CHECKED },
  { state: 'MS', from: 8, to: 20, sunday: null, source: 'Miss. Code 77-3-701 ff.', checked: CHECKED },
  { state: 'TX', from: 9, to: 21, sunday: [12, 21], source: 'Tex. Bus. & Com. Code 301.051', checked: CHECKED },
  { state: 'CT', from: 9, to: 20, source: 'Conn. Gen. Stat. 42-288a', checked: CHECKED },
  { state: 'KY', from: 10, to: 21, source: 'KRS 367.46955', checked: CHECKED },
  { state: 'MN', from: 9, to: 21, source: 'Minn. Stat. 325E.30', checked: CHECKED },
  { state: 'NM', from: 9, to: 21, source: 'N.M. Stat. 57-12-22', checked: CHECKED },
  { state: 'SD', from: 9, to: 21, sunday: null, source: 'SDCL 37-30A-3', checked: CHECKED },
  { state: 'RI', from: 9, to: 18, saturday: [10, 17], sunday: null, notOnHolidays: true, alsoNotOn: ['Victory Day'], source: 'R.I. Gen. Laws 5-61-3.6; holidays 25-1-1', checked: CHECKED },
  // Where no narrower law is known the federal hours stand, each in a row of its own.
  ...'AK AZ AR CA CO DE DC GA HI ID IL IN IA KS ME MI MO MT NE NV NH NJ NY NC ND OH OR PA SC TN UT VT VA WV WI'
    .split(' ')
    .map((state) => ({ state, from: 8, to: 21, source: '47 CFR 64.1200(c)(1); no narrower state law known', checked: '2026-11-26' })),
  ...'PR VI GU MP AS'
    .split(' ')
    .map((state) => ({ state, from: 8, to: 21, source: '47 CFR 64.1200(c)(1), in the territories too', checked: '2026-11-26' })),
  // Canada: 9:00 to 21:30 on weekdays, 10:00 to 18:00 at weekends; kept to the full hour, so narrower.
  ...'AB BC MB NB NL NS NT NU ON PE QC SK YT'.split(' ').map((state) => ({
    state,
    from: 9,
    to: 21,
    saturday: [10, 18] as [number, number],
    sunday: [10, 18] as [number, number],
    source: 'CRTC Unsolicited Telecommunications Rules, part III',
    checked: '2026-11-26',
  })),
  // The other countries of the numbering plan: no rule of theirs is shipped, so the narrow hours of the careful.
  ...'AG AI BB BM BS DM DO GD JM KN KY LC MS SX TC TT VC VG'.split(' ').map((code) => ({
    state: `country ${code}`,
    from: 9,
    to: 20,
    sunday: null,
    source: 'no rule shipped: kept narrow',
    checked: '2026-11-26',
  })),
];
