import { allAreaCodes, areaCode } from './area-codes.js';
import { STATE_NAMES } from './states.data.js';
import { TOWN_LINES } from './towns.data.js';

/** Letters on the keys of a telephone. source: ITU-T E.161. */
const KEYS: Readonly<Record<string, string>> = Object.fromEntries(
  ['abc', 'def', 'ghi', 'jkl', 'mno', 'pqrs', 'tuv', 'wxyz'].flatMap((letters, i) =>
    [...letters].map((l) => [l, String(i + 2)]),
  ),
);

/**
 * Digits wished for in a number: letters stand for their keys, `?` for any one digit; spaces, dots and dashes do not
 * count. Matched anywhere in the ten digits of the number.
 * @returns digits and `?`, or what is wrong in words.
 */
export function readDigitPattern(text: string): { ok: true; pattern: string } | { ok: false; why: string } {
  const bare = text.replace(/[\s.()-]/g, '');
  if (bare.length > 10) return { ok: false, why: 'A number has ten digits; ask for fewer.' };
  let pattern = '';
  for (const c of bare) {
    const key = /[0-9?]/.test(c) ? c : KEYS[c.toLowerCase()];
    if (key === undefined)
      return { ok: false, why: `“${c}” is on no key; use digits, letters A to Z, or ? for any digit.` };
    pattern += key;
  }
  return { ok: true, pattern };
}

/** Whether ten national digits hold a pattern anywhere. The empty pattern is in all. */
export function holdsPattern(national: string, pattern: string): boolean {
  if (pattern === '') return true;
  return new RegExp(pattern.replaceAll('?', '\\d')).test(national);
}

/** Area codes laid over the same area as one of these, which are younger than the table of towns. */
function withOverlays(codes: readonly string[]): string[] {
  const centres = new Set(codes.map((c) => JSON.stringify(areaCode(c)?.centre)));
  const over = allAreaCodes().filter((a) => centres.has(JSON.stringify(a.centre)));
  return [...new Set([...codes, ...over.map((a) => a.code)])].sort();
}

let towns: { name: string; state: string; codes: string[] }[] | undefined;

/** Towns by their names; read when they are first asked for. */
function townsNamed(name: string, region: string): { name: string; state: string; codes: string[] }[] {
  towns ??= TOWN_LINES.trim()
    .split('\n')
    .flatMap((line) => {
      const [state = '', ...entries] = line.split('|');
      return entries.map((entry) => {
        const [town = '', codes = ''] = entry.split(':');
        return { name: town, state, codes: codes.split(' ') };
      });
    });
  const [town = '', state = ''] = name
    .toLowerCase()
    .split(',')
    .map((part) => part.trim());
  const inState = (code: string): boolean =>
    state === '' || code.toLowerCase() === state || STATE_NAMES[code]?.toLowerCase() === state;
  return towns.filter(
    (t) => t.name.toLowerCase() === town && inState(t.state) && areaCode(t.codes[0] ?? '')?.region === region,
  );
}

/** The area codes meant by `551`, `NJ`, `New Jersey`, `Jersey City` or `Springfield, IL`; null where it is none of these. */
export function areaCodesAt(where: string, region: string): { codes: string[]; label: string } | null {
  const text = where.trim();
  if (/^\d{3}$/.test(text)) {
    const area = areaCode(text);
    return area?.region === region ? { codes: [text], label: STATE_NAMES[area.state] ?? area.state } : null;
  }
  const wanted = text.toLowerCase();
  const state = Object.entries(STATE_NAMES).find(
    ([code, name]) => code.toLowerCase() === wanted || name.toLowerCase() === wanted,
  );
  if (!state) {
    const found = townsNamed(text, region);
    const [first] = found;
    if (!first) return null;
    const label = `${first.name}, ${found.map((t) => t.state).join(' or ')}`;
    return { codes: withOverlays(found.flatMap((t) => t.codes)), label };
  }
  const codes = allAreaCodes()
    .filter((a) => a.region === region && a.state === state[0])
    .map((a) => a.code);
  return codes.length > 0 ? { codes, label: state[1] } : null;
}
