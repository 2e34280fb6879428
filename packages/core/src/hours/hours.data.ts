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
  { state: 'AL', from: 8, to: 20, sunday: null, notOnHolidays: true, source: 'Ala. Code 8-19A; PSC rules', checked: CHECKED },
  { state: 'LA', from: 8, to: 20, sunday: null, notOnHolidays: true, source: 'La. R.S. 45:844.11 ff.; PSC rules', checked: CHECKED },
  { state: 'MS', from: 8, to: 20, sunday: null, source: 'Miss. Code 77-3-701 ff.', checked: CHECKED },
  { state: 'TX', from: 9, to: 21, sunday: [12, 21], source: 'Tex. Bus. & Com. Code 301.051', checked: CHECKED },
  { state: 'CT', from: 9, to: 20, source: 'Conn. Gen. Stat. 42-288a', checked: CHECKED },
  { state: 'KY', from: 10, to: 21, source: 'KRS 367.46955', checked: CHECKED },
  { state: 'MN', from: 9, to: 21, source: 'Minn. Stat. 325E.30', checked: CHECKED },
  { state: 'NM', from: 9, to: 21, source: 'N.M. Stat. 57-12-22', checked: CHECKED },
  { state: 'SD', from: 9, to: 21, sunday: null, source: 'SDCL 37-30A-3', checked: CHECKED },
  { state: 'RI', from: 9, to: 18, saturday: [10, 17], sunday: null, source: 'R.I. Gen. Laws 5-61-3.6', checked: CHECKED },
];
