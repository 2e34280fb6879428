import { COUNTRY_RULES, FEDERAL_HOURS, REASONS } from '../index.js';
import { KEYWORDS, WISHES } from '../replies/grammar.data.js';
import { ruleData } from './rule-data.js';

describe('the rules’ data as text', () => {
  const data = ruleData();

  it('is the same as long as nothing changes', () => {
    expect(ruleData()).toEqual(data);
    for (const [area, text] of Object.entries(data)) {
      expect(() => JSON.parse(text) as unknown)
        .withContext(area)
        .not.toThrow();
      // Nothing that was left out as an empty object.
      expect(text)
        .withContext(area)
        .not.toMatch(/[:[,]\{\}/);
    }
  });

  it('holds every value that decides: hours, countries, reasons, words and the weights behind a reading', () => {
    expect(data['hours']).toContain(FEDERAL_HOURS.source);
    expect(data['hours']).toContain('Easter');
    for (const c of COUNTRY_RULES) expect(data['countries']).withContext(c.code).toContain(`"${c.code}"`);
    for (const code of Object.keys(REASONS)) expect(data['gate']).withContext(code).toContain(`"${code}"`);
    for (const word of Object.keys(KEYWORDS)) expect(data['replies']).withContext(word).toContain(JSON.stringify(word));
    expect(data['replies']?.match(/"re":/g)?.length).toBeGreaterThanOrEqual(WISHES.length);
    expect(data['replies']?.length).toBeGreaterThan(60_000);
  });
});
