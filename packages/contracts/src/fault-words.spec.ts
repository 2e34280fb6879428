import fc from 'fast-check';
import * as z from 'zod';
import { faultWords, ALL_ENDPOINTS } from './index.js';

const told = (schema: z.ZodType, value: unknown): string[] => {
  const read = schema.safeParse(value, { error: faultWords });
  return read.success ? [] : read.error.issues.map((i) => i.message);
};

describe('what is wrong with something that was given', () => {
  it('is said as what to give instead', () => {
    for (const [schema, value, words] of [
      [z.number(), NaN, 'Give a number.'],
      [z.number(), undefined, 'This is missing.'],
      [z.number().int(), 1.5, 'Give a whole number.'],
      [z.number().max(31), 40, 'At most 31.'],
      [z.number().gt(0), 0, 'More than 0, please.'],
      [z.string().max(80), 'a'.repeat(81), 'At most 80 characters.'],
      [z.string().min(1), '', 'This is missing.'],
      [z.string().min(3), 'ab', 'At least 3 characters.'],
      [z.array(z.string()).min(1), [], 'At least 1 entry.'],
      [z.email(), 'ada', 'Give an e-mail address, such as name@firm.example.'],
      [z.string().regex(/^a+$/), 'b', 'Give it in the form that belongs here.'],
      [z.enum(['one', 'two']), 'three', 'Choose one of these: one, two.'],
      [z.literal('one'), 'two', 'Choose one of those that are offered.'],
      [z.strictObject({ a: z.string() }), { a: '', b: '' }, 'Nobody knows “b” here: leave it out.'],
      [z.union([z.string(), z.number()]), true, 'This cannot be read as what belongs here.'],
    ] as const)
      expect(told(schema, value)).withContext(words).toEqual([words]);
  });

  it('keeps the words a schema has of its own', () => {
    expect(told(z.string().min(3, 'Three letters at least.'), 'a')).toEqual(['Three letters at least.']);
  });

  it('is never said in a parser’s words, whatever is sent to whichever address', () => {
    const PARSERS = /expected|received|invalid|too (big|small)|unrecognized|undefined|NaN|<=|>=|\[object/i;
    const anything = fc.oneof(fc.anything(), fc.constantFrom(NaN, null, '', 'a'.repeat(5_000), -1, 1e15, [], {}));
    let faults = 0;
    for (const { id, body, query } of ALL_ENDPOINTS)
      for (const schema of [body, query]) {
        const fields = schema instanceof z.ZodObject ? Object.keys(schema.shape) : [];
        const given = fc.record(Object.fromEntries(fields.map((f) => [f, anything])), { requiredKeys: [] });
        for (const value of fc.sample(given, { numRuns: 20, seed: 10 }))
          for (const words of told(schema, value)) {
            faults++;
            if (PARSERS.test(words)) fail(`${id}: ${words}`);
          }
      }
    expect(faults).toBeGreaterThan(1_000);
  });
});
