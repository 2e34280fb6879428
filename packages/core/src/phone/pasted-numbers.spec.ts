import { readPastedNumbers } from './pasted-numbers.js';

describe('pasted numbers', () => {
  const read = (text: string) =>
    readPastedNumbers(text, { defaultRegion: 'US', allowFictional: true }).map((n) =>
      n.ok ? `${n.e164}${n.extension ? ` x${n.extension}` : ''}` : `${n.raw}: ${n.why}`,
    );
  const BOTH = ['+16095550110', '+16095550111'];

  it('are two where two stand in one cell, whatever stands between them', () => {
    for (const between of [', ', '; ', ' / ', ' and ', ' or ', ' & ', ' | ', '\t', '\n', '  ', ' '])
      expect(read(`609-555-0110${between}609-555-0111`))
        .withContext(JSON.stringify(between))
        .toEqual(BOTH);
    expect(read('(609) 555-0110 (609) 555-0111')).toEqual(BOTH);
    expect(read('1 609 555 0110 1 609 555 0111')).toEqual(BOTH);
    expect(read('+1 609 555 0110 609.555.0111')).toEqual(BOTH);
  });

  it('keep an extension apart, also behind a comma', () => {
    expect(read('609-555-0110 ext. 12')).toEqual(['+16095550110 x12']);
    expect(read('609-555-0110, ext 12, 609-555-0111')).toEqual(['+16095550110 x12', '+16095550111']);
  });

  it('come once each, and say of the rest what is wrong', () => {
    expect(read('609-555-0110\n+16095550110\n12')).toEqual(['+16095550110', '12: Too few digits for a phone number.']);
    expect(read(' \n')).toEqual([]);
  });
});
