import { CONFIRM_WITHIN_MS } from '../consent/events.js';
import { COUNTRY_RULES } from '../countries/countries.data.js';
import { GATE } from '../gate/posts/index.js';
import { STATE_HOLIDAYS } from '../hours/holidays.js';
import { DEFAULT_HOURS } from '../hours/send-window.js';
import { DEFAULT_PRICES } from '../money/money.js';
import { AREA_CODE_LINES, TOLL_FREE_CODES } from '../phone/area-codes.data.js';
import { ZONE_DIFFERENCES } from '../phone/zone-differences.data.js';
import { EIN_PREFIXES_NEVER_ASSIGNED, SHARED_SHORT_LINK_HOSTS, USE_CASES } from '../registration/terms.data.js';
import * as grammar from '../replies/grammar.data.js';
import { WEIGHTS } from '../replies/weights.data.js';
import { STOP_LINE } from '../text/compose.js';
import { DEFAULT_TEXTABILITY, LOOKUP_PACE_PER_SECOND, PASSING_FAULTS_HOLD } from '../textability/textability.js';

/**
 * What the rules themselves read, by area, each as text that stays the same as long as nothing in it changes. The server
 * keeps each text whenever it changes, so that evidence can say which rules stood on a day.
 */
export function ruleData(): Readonly<Record<string, string>> {
  return (told ??= {
    hours: words({ DEFAULT_HOURS, STATE_HOLIDAYS }),
    places: words({ AREA_CODE_LINES, TOLL_FREE_CODES, ZONE_DIFFERENCES }),
    countries: words(COUNTRY_RULES),
    textability: words({ DEFAULT_TEXTABILITY, LOOKUP_PACE_PER_SECOND, PASSING_FAULTS_HOLD }),
    consent: words({ CONFIRM_WITHIN_MS, STOP_LINE }),
    replies: words({ ...grammar, WEIGHTS }),
    registration: words({ USE_CASES, EIN_PREFIXES_NEVER_ASSIGNED, SHARED_SHORT_LINK_HOSTS }),
    gate: words(GATE.map(({ key, reasons }) => ({ key, reasons }))),
    prices: words(DEFAULT_PRICES),
  });
}
/** The data never changes while the program runs, and putting it into words takes as long as opening a database. */
let told: Record<string, string> | null = null;

/** JSON, with what JSON has no form for: a set and a map as lists, an expression and a function by what is written. */
function words(value: unknown): string {
  return JSON.stringify(value, (_, x: unknown) => {
    if (x instanceof RegExp || typeof x === 'function') return String(x);
    if (x instanceof Set || x instanceof Map) return [...(x as Iterable<unknown>)];
    return x;
  });
}
