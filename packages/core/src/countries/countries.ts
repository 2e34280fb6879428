import type { HoursRule } from '../hours/hours.data.js';
import { COUNTRY_RULES, type CountryRule } from './countries.data.js';

const BY_CODE = new Map(COUNTRY_RULES.map((c) => [c.code, c]));
const BY_DIAL = COUNTRY_RULES.filter((c) => c.dial !== '1').sort((a, b) => b.dial.length - a.dial.length);

/** The shipped rule of a country by its ISO code; undefined where there is none. */
export function countryRule(code: string): CountryRule | undefined {
  return BY_CODE.get(code);
}

/** The country a number outside the North American plan lies in, by its calling code; undefined where no rule is shipped. */
export function countryByDial(e164: string): CountryRule | undefined {
  return BY_DIAL.find((c) => e164.startsWith(`+${c.dial}`));
}

/** The key under which a country's hours stand beside those of the US states: `DE` alone would be Delaware. */
export function hoursKey(code: string): string {
  return `country ${code}`;
}

/** Hours of the countries, in the form the sending window reads. */
export const COUNTRY_HOURS: readonly HoursRule[] = COUNTRY_RULES.filter((c) => c.code !== 'US').map((c) => ({
  state: hoursKey(c.code),
  from: c.hours.from,
  to: c.hours.to,
  ...(c.hours.sunday === undefined ? {} : { sunday: c.hours.sunday }),
  source: c.source,
  checked: c.checked,
}));
