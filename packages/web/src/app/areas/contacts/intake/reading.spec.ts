import { guessColumns, looksLikeHeader } from './columns';
import { readPhone } from './reading';
import { decodeText } from './sources';

const bytes = (...list: number[]): Uint8Array => new Uint8Array(list);

describe('reading a file', () => {
  it('knows UTF-8, UTF-16 of either order with and without its mark, and Windows-1252', () => {
    const text = 'Phone,Name\n201-555-0171,Zoë\n';
    const utf16 = (little: boolean, mark: boolean): Uint8Array => {
      const t = (mark ? '\uFEFF' : '') + text;
      const view = new DataView(new ArrayBuffer(t.length * 2));
      for (let i = 0; i < t.length; i++) view.setUint16(i * 2, t.charCodeAt(i), little);
      return new Uint8Array(view.buffer);
    };
    expect(decodeText(new TextEncoder().encode(text))).toEqual({ text, encoding: 'UTF-8' });
    for (const little of [true, false])
      for (const mark of [true, false])
        expect(decodeText(utf16(little, mark))).toEqual({ text, encoding: little ? 'UTF-16LE' : 'UTF-16BE' });
    expect(decodeText(bytes(0x5a, 0x6f, 0xeb))).toEqual({ text: 'Zoë', encoding: 'Windows-1252' });
  });

  it('refuses what is empty or no text, and says what to do', () => {
    expect(decodeText(bytes())).toEqual({ error: 'The file is empty.' });
    const binary = decodeText(bytes(...Array.from({ length: 400 }, (_, i) => i % 7)));
    expect('error' in binary && binary.error).toContain('Export the list as CSV');
  });
});

describe('columns', () => {
  it('are guessed by heading, then by what stands in them, each use once', () => {
    expect(guessColumns(['Surname', 'Given name', 'Mobile phone', 'Other phone', 'E-mail', 'State'], [])).toEqual([
      'lastName',
      'firstName',
      'phone',
      'further',
      'email',
      'stateCode',
    ]);
    expect(
      guessColumns(
        ['', '', ''],
        [
          ['Ada', 'ada@post.example', '(201) 555-0171'],
          ['Bo', 'bo@post.example', '201 555 0172'],
        ],
      ),
    ).toEqual(['ignore', 'email', 'phone']);
  });
  it('know a heading row from a first contact', () => {
    expect(looksLikeHeader(['Name', 'Phone'], ['Ada', '2015550171'])).toBe(true);
    expect(looksLikeHeader(['Ada', '2015550171'], ['Bo', '2015550172'])).toBe(false);
  });
});

describe('a cell', () => {
  it('is ok, to look at, or refused with its reason', () => {
    expect(readPhone('(201) 555-0171')).toEqual({ outcome: 'ok', reason: '', e164: '+12015550171' });
    expect(readPhone("'2015550171")).toEqual({ outcome: 'ok', reason: '', e164: '+12015550171' });
    expect(readPhone('201-555-0171 x9')).toEqual(
      jasmine.objectContaining({ outcome: 'look', reason: 'an extension was kept apart' }),
    );
    expect(readPhone('2.01E+09')).toEqual(jasmine.objectContaining({ outcome: 'refused', e164: '' }));
    expect(readPhone('')).toEqual({ outcome: 'refused', reason: 'There is no number.', e164: '' });
  });
});
