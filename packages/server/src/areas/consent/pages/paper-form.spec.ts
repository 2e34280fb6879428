import { inflateSync } from 'node:zlib';
import { disclosureOf } from '@long-gate/core';
import { paperForm } from './paper-form.js';

const NAMES = { privacyUrl: 'https://heron.example/privacy', termsUrl: 'https://heron.example/terms' };
const page = (kinds: readonly ('informational' | 'promotional')[]) => ({
  slug: 'heron',
  business: 'Heron Lane Bakery LLC',
  nameLine: 'Heron Lane',
  title: 'Texts from Heron Lane',
  intro: 'Choose what you want.',
  ...NAMES,
  language: 'en' as const,
  ground: '#ffffff',
  accent: '#0f5c63',
  button: '',
  thanks: '',
  thanksCode: '',
  asks: { firstName: 'asked', lastName: 'no', email: 'no' } as const,
  picture: null,
  paused: false,
  words: 'ab'.repeat(16),
  purposes: kinds.map((purpose) => ({
    purpose,
    disclosure: disclosureOf(
      'Heron Lane Bakery LLC',
      { purpose, label: `Text me ${purpose} things`, frequency: 'weekly' },
      NAMES,
    ),
  })),
});

/** What is drawn, in the operators of the format: the pages of a document, unpacked. */
function drawn(pdf: Buffer): string[] {
  const pages: string[] = [];
  for (let at = pdf.indexOf('stream\n'); at >= 0; at = pdf.indexOf('stream\n', at + 7)) {
    if (pdf.subarray(at - 3, at).toString() === 'end') continue;
    try {
      const text = inflateSync(pdf.subarray(at + 7, pdf.indexOf('endstream', at))).toString('latin1');
      if (text.includes(' Tf')) pages.push(text);
    } catch {
      // No page: a typeface.
    }
  }
  return pages;
}
const boxes = (text: string): number => (text.match(/ re$/gm) ?? []).length;

describe('a form for paper', () => {
  it('has a box of its own for each kind of text, none of them ticked, and four lines to write on', async () => {
    const one = drawn(await paperForm(page(['promotional']), 3, 1, 0));
    const two = drawn(await paperForm(page(['informational', 'promotional']), 3, 1, 0));
    expect([one.length, two.length]).toEqual([1, 1]);
    expect([boxes(one[0] ?? ''), boxes(two[0] ?? '')]).toEqual([1, 2]);
    // Boxes are drawn, never filled.
    expect(one[0]).not.toMatch(/^[fFbB]\*?$/m);
    expect((one[0]?.match(/ l$/gm) ?? []).length).toBe(4);
  });

  it('comes in as many sheets as are asked for, all alike', async () => {
    const sheets = drawn(await paperForm(page(['informational']), 1, 3, 0));
    expect(sheets.length).toBe(3);
    expect(new Set(sheets).size).toBe(1);
  });
});
