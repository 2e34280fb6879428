import Papa from 'papaparse';
import { openSource } from './sources';
import { encodingOf, TextSource, Unreadable } from './text-source';

/** A text in UTF-16 of either order, with its mark or without. */
function utf16(text: string, little: boolean, mark: boolean): Uint8Array<ArrayBuffer> {
  const t = (mark ? '\uFEFF' : '') + text;
  const view = new DataView(new ArrayBuffer(t.length * 2));
  for (let i = 0; i < t.length; i++) view.setUint16(i * 2, t.charCodeAt(i), little);
  return new Uint8Array(view.buffer);
}
const utf8 = (text: string): Uint8Array<ArrayBuffer> => new TextEncoder().encode(text);
const atOnce = (text: string): string[][] =>
  Papa.parse<string[]>(text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n'), {
    delimiter: ',',
    newline: '\n',
    skipEmptyLines: 'greedy',
  }).data;

/** A file in memory: a browser takes its time for each stretch of a real one. */
const atHand = (bytes: Uint8Array<ArrayBuffer>): Blob =>
  ({
    size: bytes.length,
    slice: (from: number, to: number) => ({ arrayBuffer: () => Promise.resolve(bytes.slice(from, to).buffer) }),
  }) as unknown as Blob;

describe('text that stays in its file', () => {
  it('is known by its mark or by what it is: UTF-8, UTF-16 of either order, Windows-1252', async () => {
    const text = 'Phone,Name\n201-555-0171,Zoë\n';
    const read = async (bytes: Uint8Array<ArrayBuffer>) => {
      const { source, encoding } = await openSource(new Blob([bytes]), 'list.csv');
      return { encoding, rows: await source.read(0, 9) };
    };
    const rows = [
      ['Phone', 'Name'],
      ['201-555-0171', 'Zoë'],
    ];
    expect(await read(utf8(text))).toEqual({ encoding: 'UTF-8', rows });
    expect(await read(utf8(`\uFEFF${text}`))).toEqual({ encoding: 'UTF-8', rows });
    for (const little of [true, false])
      for (const mark of [true, false])
        expect(await read(utf16(text, little, mark))).toEqual({ encoding: little ? 'UTF-16LE' : 'UTF-16BE', rows });
    const latin = Uint8Array.from(text, (c) => c.charCodeAt(0));
    expect(await read(latin)).toEqual({ encoding: 'Windows-1252', rows });
  });

  it('is Windows-1252 all through where its first letter that is none of UTF-8 stands far from its beginning', async () => {
    const lines = `${'201-555-0101,Ada\n'.repeat(60_000)}201-555-0102,Zo`;
    const bytes = new Blob([utf8(lines), new Uint8Array([0xeb])]);
    const { source, encoding, digest } = await openSource(bytes, 'list.csv');
    expect(encoding).toBe('Windows-1252');
    expect(await source.read(source.rows - 1, 1)).toEqual([['201-555-0102', 'Zoë']]);
    const whole = new Uint8Array(await crypto.subtle.digest('SHA-256', await bytes.arrayBuffer()));
    expect(digest)
      .withContext('of the file, once')
      .toBe(Array.from(whole, (b) => b.toString(16).padStart(2, '0')).join(''));
  });

  it('refuses what is empty or no text, and says what to do', () => {
    expect(encodingOf(new Uint8Array())).toEqual({ error: 'The file is empty.' });
    const binary = encodingOf(new Uint8Array(Array.from({ length: 400 }, (_, i) => i % 7)));
    expect('error' in binary && binary.error).toContain('Export the list as CSV');
  });

  it('has the same rows however little of it is read at once, in any encoding', async () => {
    let seed = 11;
    const next = (n: number): number => (seed = (Math.imul(seed, 1103515245) + 12345) >>> 0) % n;
    const pieces = [
      'a',
      'Zoë',
      '"',
      '""',
      ',',
      '\n',
      '\r\n',
      '\r',
      '"x\ny"',
      '"1, 2"',
      '201-555-0101',
      ' ',
      '日本',
      '\n\n',
    ];
    let rows = 0;
    for (let k = 0; k < 300; k++) {
      const text = Array.from({ length: next(50) }, () => pieces[next(pieces.length)]).join('');
      const wanted = atOnce(text);
      const of: [string, Uint8Array<ArrayBuffer>][] = [
        ['UTF-8', utf8(text)],
        ['UTF-16LE', utf16(text, true, false)],
        ['UTF-16BE', utf16(text, false, false)],
      ];
      for (const [encoding, bytes] of of) {
        const o = { encoding, delimiter: ',', sure: false, stretch: 1 + next(24) };
        const source = await TextSource.open(atHand(bytes), o);
        if (!source) throw new Error(encoding);
        expect(source.rows)
          .withContext(`${encoding} ${JSON.stringify(o)} ${JSON.stringify(text)}`)
          .toBe(wanted.length);
        expect(await source.read(0, source.rows))
          .withContext(JSON.stringify(text))
          .toEqual(wanted);
        const from = next(wanted.length + 1);
        expect(await source.read(from, 2)).toEqual(wanted.slice(from, from + 2));
        rows += wanted.length;
      }
    }
    expect(rows).toBeGreaterThan(1000);
  });

  it('says so where the file was taken away since it was chosen', async () => {
    const bytes = new Blob([utf8('201-555-0101,Ada\n')]);
    const source = await TextSource.open(bytes, { encoding: 'UTF-8', delimiter: ',', sure: true });
    spyOn(bytes, 'slice').and.returnValue({
      arrayBuffer: () => Promise.reject(new DOMException('gone', 'NotReadableError')),
    } as Blob);
    await expectAsync(source?.read(0, 1)).toBeRejectedWithError(Unreadable, /Choose it again/);
  });
});
