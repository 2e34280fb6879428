import type { ContactField } from '@long-gate/contracts';
import { guessColumns } from './columns';
import { readConsent, readRow, splitName, type Reading } from './reading';
import { openSource } from './sources';
import { Unreadable } from './text-source';

const bytesOf = (text: string): Blob => new Blob([text]);
const rowsOf = async (text: string, name = 'list.csv', choices = {}): Promise<string[][]> => {
  const { source } = await openSource(bytesOf(text), name, choices);
  return source.read(0, source.rows);
};
const refusal = async (bytes: Blob, name = 'list.csv'): Promise<string> => {
  try {
    await openSource(bytes, name);
    return '';
  } catch (error) {
    if (error instanceof Unreadable) return error.message;
    throw error;
  }
};

describe('a file of contacts', () => {
  it('is read with quotes, line ends in cells, marks, ragged rows, zero bytes and mixed line ends', async () => {
    expect(await rowsOf('\uFEFFa,b\r\n"x ""y""","1\n2"\n\n  \nlast')).toEqual([
      ['a', 'b'],
      ['x "y"', '1\n2'],
      ['last'],
    ]);
    expect(await rowsOf('a,b\rc,d\r\ne,f')).toEqual([
      ['a', 'b'],
      ['c', 'd'],
      ['e', 'f'],
    ]);
    expect((await rowsOf('Name,Phone\nA\u0000da,201-555-0101,,,,,,,,'))[1]?.[1]).toBe('201-555-0101');
    expect((await rowsOf('"never closed,201-555-0101\nB,C')).length).toBe(1);
  });

  it('has its delimiter found, or said, and its encoding too', async () => {
    for (const d of [',', ';', '\t', '|'])
      expect((await openSource(bytesOf(`Name${d}Phone\nAda${d}201-555-0101\n`), 'x')).delimiter)
        .withContext(d)
        .toBe(d);
    expect(await rowsOf('a;b,c\nd;e,f', 'x', { delimiter: ',' })).toEqual([
      ['a;b', 'c'],
      ['d;e', 'f'],
    ]);
    const latin = new Blob([new Uint8Array([0x5a, 0x6f, 0xeb, 0x2c, 0x31])]);
    expect((await openSource(latin, 'x')).encoding).toBe('Windows-1252');
    expect((await openSource(latin, 'x', { encoding: 'ISO-8859-2' })).encoding).toBe('ISO-8859-2');
  });

  it('is read a stretch at a time, every row the same as read at once', async () => {
    const lines = Array.from({ length: 30_000 }, (_, i) => `Name ${i},"cell ${i % 7 === 0 ? '\nline' : ''} ${i}",${i}`);
    const { source } = await openSource(bytesOf(lines.join('\n')), 'big.csv');
    expect(source.rows).toBe(30_000);
    for (const from of [0, 1, 2047, 9_999, 15_000, 29_990]) {
      const some = await source.read(from, 25);
      expect(some.map((r) => r[2])).toEqual(
        Array.from({ length: Math.min(25, 30_000 - from) }, (_, k) => String(from + k)),
      );
    }
    expect((await source.read(0, 30_000)).length).toBe(30_000);
  });

  it('may be address cards of either version; one that is broken is a row of its own', async () => {
    const cards = [
      'BEGIN:VCARD',
      'VERSION:3.0',
      'N:Fenwick;Ada;;;',
      'FN:Ada Fenwick',
      'TEL;TYPE=HOME:+1 201 555 0102',
      'TEL;TYPE=CELL:+1 201 555 0101',
      'EMAIL:ada@post.example',
      'ADR;TYPE=HOME:;;1 Quay;Quill;NJ;07001;USA',
      'CATEGORIES:crew,season',
      'END:VCARD',
      'BEGIN:VCARD',
      'VERSION:4.0',
      'FN:Bo Eide',
      'TEL;VALUE=uri;TYPE=cell:tel:+12015550103',
      'LANG:es',
      'END:VCARD',
      'BEGIN:VCARD',
      'no property at all',
      'END:VCARD',
    ].join('\r\n');
    const rows = await rowsOf(cards, 'cards.vcf');
    expect(rows[1]).toEqual([
      'Fenwick, Ada',
      '+1 201 555 0101',
      '+1 201 555 0102',
      'ada@post.example',
      '1 Quay',
      'Quill',
      'NJ',
      '07001',
      '',
      'crew;season',
    ]);
    expect([rows[2]?.[0], rows[2]?.[1], rows[2]?.[8]]).toEqual(['Bo Eide', 'tel:+12015550103', 'es']);
    expect(rows.length).toBe(4);
    expect(rows[3]?.[1]).toBe('');
  });

  it('may be lines of JSON, nested once; a line that is none is a row of its own', async () => {
    const rows = await rowsOf(
      '{"name":"Ada","phone":2015550101,"address":{"city":"Quill"},"tags":["a","b"]}\nnot json\n{"phone":"201-555-0102","vip":true}',
      'list.jsonl',
    );
    expect(rows).toEqual([
      ['name', 'phone', 'address.city', 'tags', 'vip'],
      ['Ada', '2015550101', 'Quill', 'a;b', ''],
      ['not json'],
      ['', '201-555-0102', '', '', 'true'],
    ]);
  });

  it('may be a spreadsheet: a sheet is chosen, days and numbers are read as they stand', async () => {
    const { default: ExcelJS } = await import('exceljs');
    const book = new ExcelJS.Workbook();
    book.addWorksheet('Notes').addRow(['nothing here']);
    const sheet = book.addWorksheet('People');
    sheet.addRow(['Name', 'Phone', 'Joined', 'Sum']);
    sheet.addRow(['Ada', 2015550101, new Date('2026-03-12T00:00:00Z'), { formula: '1+2', result: 3 }]);
    sheet.addRow([]);
    sheet.addRow(['Bo', '201-555-0102', null, null]);
    const bytes = await book.xlsx.writeBuffer();
    const opened = await openSource(new Blob([bytes as ArrayBuffer]), 'people.xlsx', { sheet: 'People' });
    expect([opened.sheets, opened.sheet]).toEqual([['Notes', 'People'], 'People']);
    const read = await opened.source.read(0, 9);
    expect(read.map((r) => r.slice(0, 4))).toEqual([
      ['Name', 'Phone', 'Joined', 'Sum'],
      ['Ada', '2015550101', '2026-03-12', '3'],
      ['Bo', '201-555-0102', ...Array.from({ length: (read[2]?.length ?? 2) - 2 }, () => '')],
    ]);
    expect(await refusal(bytesOf('PK\u0003\u0004 and no more'), 'x.xlsx')).toContain('could not be read');
  });

  it('is refused with what to do where it is none', async () => {
    expect(await refusal(new Blob([]))).toBe('The file is empty.');
    expect(await refusal(bytesOf(' \n \n'))).toContain('nothing but white space');
    expect(await refusal(bytesOf('x'.repeat(150_000)))).toContain('no list of contacts');
    expect(await refusal(new Blob([new Uint8Array([0xd0, 0xcf, 0x11, 0xe0])]), 'old.xls')).toContain(
      'Save it as XLSX or CSV',
    );
  });

  it('never breaks its reader, whatever bytes are in it', async () => {
    let seed = 7;
    const next = (n: number): number => (seed = (Math.imul(seed, 1103515245) + 12345) >>> 0) % n;
    const pieces = [
      '"',
      ',',
      ';',
      '\n',
      '\r',
      '\t',
      '{',
      '}',
      'BEGIN:VCARD\n',
      'END:VCARD\n',
      'PK',
      '\u0000',
      'ü',
      '201-555-0101',
      '=1+1',
      '\uFEFF',
    ];
    let read = 0;
    for (let k = 0; k < 80; k++) {
      const text = Array.from({ length: next(60) }, () => pieces[next(pieces.length)]).join('');
      const bytes =
        next(3) === 0 ? new Blob([new Uint8Array(Array.from({ length: next(200) }, () => next(256)))]) : bytesOf(text);
      try {
        const { source } = await openSource(bytes, ['a.csv', 'a.vcf', 'a.xlsx'][next(3)] ?? '');
        const rows = await source.read(0, source.rows);
        expect(rows.length).toBe(source.rows);
        const reading: Reading = {
          uses: guessColumns(rows[0] ?? [], rows),
          fields: [],
          region: 'US',
          dateOrder: null,
          today: '2027-03-12',
        };
        for (const [i, cells] of rows.entries()) readRow(i + 1, cells, reading);
        read++;
      } catch (error) {
        if (!(error instanceof Unreadable)) throw error;
      }
    }
    expect(read).toBeGreaterThan(25);
  });
});

describe('a row', () => {
  const FIELDS: ContactField[] = [
    { id: 'fld_1', name: 'Berth', kind: 'number', choices: [], outcome: false },
    { id: 'fld_2', name: 'Pass', kind: 'choice', choices: ['foot', 'car'], outcome: false },
  ];
  const read = (uses: Reading['uses'], cells: string[], over: Partial<Reading> = {}) =>
    readRow(1, cells, { uses, fields: FIELDS, region: 'US', dateOrder: null, today: '2027-03-12', ...over });

  it('has a whole name taken apart, either way round', () => {
    expect(splitName('Fenwick, Ada')).toEqual({ firstName: 'Ada', lastName: 'Fenwick' });
    expect(splitName(' Ada  Maria Fenwick ')).toEqual({ firstName: 'Ada Maria', lastName: 'Fenwick' });
    expect(splitName('Ada')).toEqual({ firstName: 'Ada', lastName: '' });
  });

  it('says yes, no or nothing of consent in the words people use', () => {
    for (const no of ['No', 'n', 'STOP', 'opted out', 'opt-out', 'Unsubscribed', 'FALSE', '0', 'do not text'])
      expect(readConsent(no)).withContext(no).toBe('no');
    for (const yes of ['Yes', 'y', 'opted in', 'opt-in', 'TRUE', '1', 'x'])
      expect(readConsent(yes)).withContext(yes).toBe('yes');
    for (const neither of ['', 'maybe', 'notable', 'know']) expect(readConsent(neither)).withContext(neither).toBe('');
  });

  it('is to be looked at where something of it is doubtful, and takes nothing that does not fit', () => {
    const r = read(
      ['phone', 'further', 'email', 'own:fld_1', 'own:fld_2', 'consentDate', 'language', 'tags'],
      ['201-555-0101', '12', 'ada@', 'a dozen', 'CAR', '03/04/2026', 'Spanish', 'a; b;a'],
    );
    expect(r.outcome).toBe('look');
    for (const doubt of [
      'the other number is none',
      'the e-mail is none',
      'Berth is left out: no number',
      'could be day or month first',
    ])
      expect(r.reason).toContain(doubt);
    expect([r.email, r.more]).toEqual(['', { own: { fld_2: 'car' }, language: 'es', tags: ['a', 'b'] }]);
    const said = read(['phone', 'consentDate'], ['201-555-0101', '03/04/2026'], { dateOrder: 'day first' });
    expect([said.outcome, said.more.consent?.date]).toEqual(['ok', '2026-04-03']);
    expect(read(['phone', 'consentDate'], ['201-555-0101', '2027-03-12']).outcome).toBe('ok');
    expect(read(['phone', 'consentDate'], ['201-555-0101', '2027-03-13']).reason).toContain('still to come');
  });

  it('is read as numbers are written where the list comes from', () => {
    expect(read(['phone'], ['020 7946 0101'], { region: 'GB' }).e164).toBe('+442079460101');
    expect(read(['phone'], ['020 7946 0101']).outcome).toBe('refused');
  });

  it('has its columns found by own fields too', () => {
    expect(
      guessColumns(['PASS', 'Opt-out', 'Consent date', 'Disclosure text', 'Alt phone', 'Cell'], [], FIELDS),
    ).toEqual(['own:fld_2', 'consentSays', 'consentDate', 'consentWords', 'further', 'phone']);
  });
});
