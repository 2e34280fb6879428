import fc from 'fast-check';
import { composeText, reviewText, type TextContext } from './compose.js';
import { promotionalWords } from './promotion.js';
import { showsStop } from './stop-way.js';
import { mergeText, reviewMerge } from './merge.js';
import { segmentText, swapToGsm } from './segments.js';

describe('segmentText', () => {
  it('counts the limits of one and several segments', () => {
    expect(segmentText('a'.repeat(160)).parts.length).toBe(1);
    expect(segmentText('a'.repeat(161)).parts.map((p) => p.units)).toEqual([153, 8]);
    expect(segmentText('ж'.repeat(70)).parts.length).toBe(1);
    expect(segmentText('ж'.repeat(71)).parts.map((p) => p.units)).toEqual([67, 4]);
    expect(segmentText('').parts).toEqual([]);
    expect(segmentText('a'.repeat(161), { wideReference: true }).parts[0]?.units).toBe(152);
  });

  it('charges two septets for extension characters and never splits their pair', () => {
    expect(segmentText('€').units).toBe(2);
    const s = segmentText('a'.repeat(152) + '€' + 'a'.repeat(20));
    expect(s.parts[0]?.units).toBe(152);
    expect(s.parts[1]?.text.startsWith('€')).toBe(true);
  });

  it('never separates a surrogate pair', () => {
    const s = segmentText('ж'.repeat(66) + '😀' + 'ж'.repeat(10));
    expect(s.parts[0]?.units).toBe(66);
    expect(s.parts[1]?.text.startsWith('😀')).toBe(true);
  });

  it('names the characters that force UCS-2 and what swapping saves', () => {
    const s = segmentText('Don’t miss it…');
    expect(s.encoding).toBe('UCS-2');
    expect(s.culprits.map((c) => c.char)).toEqual(['’', '…']);
    expect(swapToGsm('Don’t miss it…')).toBe("Don't miss it...");
  });

  it('gives the text back when joined, and keeps every part within its limit', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'binary', maxLength: 400 }),
          fc.string({ unit: fc.constantFrom(...'ab€[é '), maxLength: 500 }),
        ),
        (text) => {
          const s = segmentText(text);
          expect(s.parts.map((p) => p.text).join('')).toBe(text);
          const limit = s.encoding === 'GSM-7' ? (s.parts.length > 1 ? 153 : 160) : s.parts.length > 1 ? 67 : 70;
          for (const p of s.parts) expect(p.units).toBeLessThanOrEqual(limit);
          expect(s.parts.reduce((n, p) => n + p.units, 0)).toBe(s.units);
        },
      ),
    );
  });
});

describe('merge fields', () => {
  it('uses the value, else the fallback', () => {
    expect(mergeText('Hello [firstName|traveller]!', { firstName: 'Ada' })).toBe('Hello Ada!');
    expect(mergeText('Hello [firstName|traveller]!', { firstName: ' ' })).toBe('Hello traveller!');
  });
  it('finds a missing fallback and an unknown field at the very words', () => {
    const f = reviewMerge('Hi [firstName], [shoe|x]');
    expect(f.map((x) => x.code)).toEqual(['merge-no-fallback', 'merge-unknown-field']);
    expect(f[0]?.span).toEqual({ start: 3, end: 14 });
  });
});

describe('the text as it is sent', () => {
  it('opens with the name line and ends with the stop line, each once', () => {
    const e = { nameLine: 'Saltmarsh Ferries', stopLine: true };
    expect(composeText('The 9:10 is late.', e, {})).toBe('Saltmarsh Ferries: The 9:10 is late. Reply STOP to end.');
    expect(composeText('Saltmarsh Ferries: late. Reply STOP to end.', e, {})).toBe(
      'Saltmarsh Ferries: late. Reply STOP to end.',
    );
    expect(showsStop('The next stop is Aldersund')).toBe(false);
  });
  describe('under review', () => {
    const codes = (text: string, over: Partial<TextContext> = {}): string[] =>
      reviewText(
        text,
        { purpose: 'informational', transactional: false, override: '', registered: null, ...over },
        { nameLine: 'Saltmarsh Ferries', stopLine: true },
      ).map((f) => `${f.code} ${f.severity}`);
    it('is contradicted where its words deny its purpose, and an override is said, never silent', () => {
      expect(codes('20% off all crossings')).toContain('purpose-contradicted block');
      expect(codes('20% off all crossings', { purpose: 'promotional' })).toEqual([]);
      expect(codes('20% off all crossings', { override: 'The fare the court ordered us to announce.' })).toEqual([
        'purpose-overridden advice',
      ]);
    });
    it('is never conversational, and promotional never transactional', () => {
      expect(codes('See you.', { purpose: 'conversational' })).toContain('purpose-conversational block');
      expect(codes('See you.', { purpose: 'promotional', transactional: true })).toContain(
        'transactional-promotional block',
      );
    });
    it('names the words of another use than the campaign’s', () => {
      const registered = { useCase: 'account-notification', subUses: [] };
      expect(codes('Your one-time code is 481 516', { registered })).toContain('use-not-registered block');
      expect(codes('The 9:10 leaves at 9:40', { registered })).toEqual([]);
      expect(
        codes('Your one-time code is 481 516', { registered: { useCase: 'mixed', subUses: ['customer-care'] } }),
      ).toContain('use-not-registered block');
      expect(
        codes('Your one-time code is 481 516', { registered: { useCase: 'mixed', subUses: ['two-factor'] } }),
      ).toEqual([]);
    });
    it('meets links that networks filter', () => {
      expect(codes('See bit.ly/3x')).toContain('link-filtered block');
      expect(codes('See http://192.0.2.7/x')).toContain('link-filtered block');
      expect(codes('See saltmarsh.example/x')).toEqual([]);
    });
  });
});

describe('promotionalWords', () => {
  for (const text of [
    '20% off all crossings',
    'Half-price Tuesdays all month',
    'Cabins to Aldersund from $19',
    'Book now and save',
    'Win a scooter! Enter now.',
    'Buy one, get one free',
    'Use promo code EASTER',
    'New offers every Friday',
    'The spring sale starts today',
  ])
    it(`finds an offer in “${text}”`, () => expect(promotionalWords(text)).not.toBeNull());
  for (const text of [
    'The 9:10 sails at 9:40',
    'May we offer you our apologies?',
    'Your ticket is for sale to nobody else',
    'We deal with lost property from 9 to 5',
    'Your pieces are fired and ready until Saturday.',
    'Thursday evening sailings are cancelled because of the storm.',
  ])
    it(`finds none in “${text}”`, () => expect(promotionalWords(text)).toBeNull());
  it('lets an answer name a programme of offers, but not make one', () => {
    expect(promotionalWords('Reply YES to get offers by text.', false)).toBeNull();
    expect(promotionalWords('Reply YES for 10% off.', false)).not.toBeNull();
  });
});
