import fc from 'fast-check';
import { isListStale, keepsOff, readSuppressionLine, SUPPRESSION_KINDS } from './suppression.js';

const read = (line: string): string => {
  const found = readSuppressionLine(line, true);
  return found === null ? 'nothing' : 'e164' in found ? found.e164 : 'refused';
};

describe('a file of numbers not to be texted', () => {
  it('is read however its numbers are written, with the area code in a cell of its own or not', () => {
    for (const line of [
      '2015550142',
      '201,5550142',
      '201, 555-0142',
      '201\t5550142',
      '"201","5550142"',
      '(201) 555-0142',
      '201.555.0142',
      '1-201-555-0142',
      '+12015550142',
      '12015550142',
      ' 201 555 0142 ',
      '201-555-0142,2026-11-02,complaint',
      '201-555-0142;Ada Fenwick',
      '"(201) 555-0142"',
    ])
      expect(read(line)).withContext(line).toBe('+12015550142');
  });

  it('has headings and empty lines, which are no faults, and lines that are', () => {
    for (const line of ['', '   ', 'phone', 'area code,number', ';;'])
      expect(read(line)).withContext(line).toBe('nothing');
    for (const line of ['911-555-0142', '201555014', '201-155-0142', 'Ada,201-555-0142'])
      expect(read(line)).withContext(line).toBe('refused');
  });

  it('is read the same by the quick way and the thorough one', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2_000_000_000, max: 9_999_999_999 }),
        fc.constantFrom('', '1', '+1'),
        fc.constantFrom('', ',note'),
        (n, lead, rest) => {
          const ten = String(n);
          const plain = read(`${lead}${ten}${rest}`);
          const spaced = read(`${ten.slice(0, 3)} ${ten.slice(3, 6)} ${ten.slice(6)}${rest}`);
          return plain === spaced && (plain === 'refused' || plain === `+1${ten}`);
        },
      ),
    );
  });
});

describe('a suppression list', () => {
  it('keeps off solicitations where it is a registry, and everything where a carrier or we ourselves made it', () => {
    expect(SUPPRESSION_KINDS.map(keepsOff)).toEqual(['solicitations', 'solicitations', 'all', 'all']);
  });

  it('that is a registry is too old after thirty-one days; others do not grow old', () => {
    expect(SUPPRESSION_KINDS.map((k) => isListStale(k, 31))).toEqual([false, false, false, false]);
    expect(SUPPRESSION_KINDS.map((k) => isListStale(k, 32))).toEqual([true, true, false, false]);
  });
});
