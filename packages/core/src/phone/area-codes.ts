import { countryByDial, hoursKey } from '../countries/countries.js';
import { AREA_CODE_LINES, TOLL_FREE_CODES } from './area-codes.data.js';

/** What the numbering plan says about one area code. */
export interface AreaCode {
  code: string;
  /** ISO 3166 country or territory. */
  region: string;
  /** US state or Canadian province, empty for territories. */
  state: string;
  /** IANA zones; more than one where the code lies in several. */
  zones: readonly string[];
  /** Degrees, of the main place; used only to order neighbours by distance. */
  centre: { lat: number; lon: number };
}

function readTable(): Map<string, AreaCode> {
  const table = new Map<string, AreaCode>();
  for (const line of AREA_CODE_LINES.trim().split('\n')) {
    const [region = '', state = '', zones = '', codes = ''] = line.split('|');
    for (const entry of codes.split(' ')) {
      const [head = '', ...own] = entry.split('/');
      const [code = '', centre = ''] = head.split(':');
      const [lat = 0, lon = 0] = centre.split(',').map(Number);
      const list = own.length > 0 ? own.join('/').split(',') : zones.split(',');
      table.set(code, { code, region, state, zones: list, centre: { lat, lon } });
    }
  }
  return table;
}

const TABLE = readTable();

/** Area code by its three digits; undefined where the plan has none (or it is not geographic). */
export function areaCode(code: string): AreaCode | undefined {
  return TABLE.get(code);
}

/** All geographic area codes of the plan. */
export function allAreaCodes(): AreaCode[] {
  return [...TABLE.values()];
}

export function isTollFree(e164: string): boolean {
  return e164.startsWith('+1') && TOLL_FREE_CODES.includes(e164.slice(2, 5));
}

/** The area code of a NANP number in E.164, or undefined. */
export function areaCodeOf(e164: string): AreaCode | undefined {
  return e164.startsWith('+1') ? TABLE.get(e164.slice(2, 5)) : undefined;
}

/** Great-circle distance in kilometres (haversine, mean radius 6,371 km). */
export function distanceKm(a: AreaCode['centre'], b: AreaCode['centre']): number {
  const rad = Math.PI / 180;
  const dLat = (b.lat - a.lat) * rad;
  const dLon = (b.lon - a.lon) * rad;
  const h = Math.sin(dLat / 2) ** 2 + Math.cos(a.lat * rad) * Math.cos(b.lat * rad) * Math.sin(dLon / 2) ** 2;
  return 2 * 6371 * Math.asin(Math.min(1, Math.sqrt(h)));
}

/** Codes of the same country, nearest first by their centres; overlays (distance 0) lead. */
export function neighboursOf(code: string, limit = 8): { code: string; state: string; km: number }[] {
  const here = TABLE.get(code);
  if (!here) return [];
  return [...TABLE.values()]
    .filter((a) => a.code !== code && a.region === here.region)
    .map((a) => ({ code: a.code, state: a.state, km: Math.round(distanceKm(here.centre, a.centre)) }))
    .sort(
      (a, b) =>
        a.km - b.km ||
        (a.state === here.state ? -1 : 0) - (b.state === here.state ? -1 : 0) ||
        a.code.localeCompare(b.code),
    )
    .slice(0, limit);
}

/** Every IANA zone a US state or Canadian province lies in, by its area codes; empty where there is no such state. */
export function zonesOfState(state: string): string[] {
  if (state === '') return [];
  return [...new Set([...TABLE.values()].filter((a) => a.state === state).flatMap((a) => a.zones))];
}

/** The rows of the hours table an area code may fall under: its state or states, its territory, or its country. */
function statesOf(area: AreaCode): string[] {
  // One code for three territories of Canada.
  if (area.code === '867') return ['YT', 'NT', 'NU'];
  if (area.state !== '') return [area.state];
  return [US_TERRITORIES.has(area.region) ? area.region : hoursKey(area.region)];
}
const US_TERRITORIES = new Set(['PR', 'VI', 'GU', 'MP', 'AS']);

/** Where someone with this number may be: by their own state if known, else all of the area code's (rules.md, hours). */
export function placeOf(e164: string, ownState: string): { country: string; zones: string[]; states: string[] } {
  const area = areaCodeOf(e164);
  const own = zonesOfState(ownState);
  if (own.length > 0) return { country: area?.region ?? 'US', zones: own, states: [ownState] };
  const abroad = e164.startsWith('+1') ? undefined : countryByDial(e164);
  if (abroad) return { country: abroad.code, zones: [...abroad.zones], states: [hoursKey(abroad.code)] };
  return {
    country: area?.region ?? (isTollFree(e164) ? 'US' : ''),
    zones: [...(area?.zones ?? [])],
    states: area ? statesOf(area) : [],
  };
}
