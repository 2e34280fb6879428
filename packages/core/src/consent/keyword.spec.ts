import fc from 'fast-check';
import { readReply } from '../replies/read-reply.js';
import type { ConsentState, Purpose } from './events.js';
import {
  answersFor,
  comerOf,
  KEYWORD_COMERS,
  keywordAnswer,
  longestAnswer,
  readCodes,
  readKeyword,
  reviewKeyword,
  toldFor,
  type KeywordDraft,
} from './keyword.js';

const NAMES = { legalName: 'Saltmarsh Ferries LLC', nameLine: 'Saltmarsh Ferries' };
const OFFERS = [{ purpose: 'promotional' as const, label: 'Text me fares', frequency: 'about four a month' }];
const TOLD =
  'Text FARES to 201-555-0142 to get automated promotional texts with fare offers from Saltmarsh Ferries, about four a month. Not a condition of any purchase. Msg & data rates may apply. Reply HELP for help, STOP to end. Terms and privacy at saltmarsh.example/terms.';
const draft = (over: Partial<KeywordDraft> = {}): KeywordDraft => ({
  words: ['FARES'],
  programmes: OFFERS,
  told: TOLD,
  doubleOptIn: true,
  answers: answersFor(NAMES.nameLine, OFFERS),
  ...over,
});
const codes = (over: Partial<KeywordDraft>, longest = ''): string[] =>
  reviewKeyword(draft(over), NAMES, longest).map((f) => `${f.code} ${f.field}`);

describe('a keyword', () => {
  it('is letters and digits, and none that means something of itself', () => {
    expect(readKeyword(' fares ')).toEqual({ ok: true, word: 'FARES' });
    expect(readKeyword('RYE2')).toEqual({ ok: true, word: 'RYE2' });
    for (const raw of ['', 'A', 'TWO WORDS', 'FÄHRE', 'FARES!', 'ABCDEFGHIJKLMNOPQRSTU'])
      expect(readKeyword(raw).ok).withContext(raw).toBeFalse();
    for (const raw of [
      'stop',
      'Start',
      'UNSTOP',
      'help',
      'INFO',
      'yes',
      'Y',
      'cancel',
      'END',
      'alto',
      'BAJA',
      'fin',
      'optout',
    ])
      expect(readKeyword(raw))
        .withContext(raw)
        .toEqual({ ok: false, why: jasmine.stringContaining('reserved') });
  });

  it('is read as joining wherever it may be one, in any dress, and never takes a stop for itself', () => {
    const word = fc.stringMatching(/^[A-Z][A-Z0-9]{1,11}$/).filter((x) => readKeyword(x).ok);
    fc.assert(
      fc.property(word, fc.constantFrom('', '.', '!', ' ', ' 🙂'), fc.boolean(), (k, end, low) => {
        const text = `${low ? k.toLowerCase() : k}${end}`;
        expect(readReply(text, { keywords: [k] }).intent)
          .withContext(text)
          .toBe('join');
        expect(readReply(`STOP ${k}`, { keywords: [k] }).intent).not.toBe('join');
        expect(readReply(`Please stop texting me ${k}`, { keywords: [k] }).intent).not.toBe('join');
      }),
    );
  });

  it('is texted by somebody new, in already, or coming back', () => {
    const at = (promotional: ConsentState): Record<Purpose, ConsentState> => ({
      conversational: 'granted',
      informational: 'none',
      promotional,
    });
    expect(comerOf(at('none'), [], OFFERS)).toBe('new');
    expect(comerOf(at('awaiting'), [], OFFERS)).toBe('new');
    expect(comerOf(at('unproven'), [], OFFERS)).toBe('new');
    expect(comerOf(at('granted'), [], OFFERS)).toBe('already');
    for (const x of ['revoked', 'declined', 'lapsed', 'expired', 'voided'] as const)
      expect(comerOf(at(x), [], OFFERS))
        .withContext(x)
        .toBe('back');
    expect(comerOf(at('granted'), ['promotional'], OFFERS))
      .withContext('refused by another number of theirs')
      .toBe('back');
    const both = [...OFFERS, { purpose: 'informational' as const, label: '', frequency: '' }];
    expect(comerOf(at('granted'), [], both))
      .withContext('half of it is new')
      .toBe('new');
  });

  it('finds nothing in a programme as it is proposed, and each part that is taken away', () => {
    expect(codes({})).toEqual([]);
    expect(
      codes({ told: toldFor(NAMES.nameLine, 'FARES', '201-555-0142', OFFERS, 'saltmarsh.example/terms') }),
    ).toEqual([]);
    expect(codes({ words: ['RYE'] })).toEqual(['keyword-not-told told']);
    expect(codes({ told: TOLD.replace('automated ', '') })).toEqual(['words-not-automated told']);
    expect(codes({ told: TOLD.replace('Not a condition of any purchase. ', '') })).toEqual(['words-conditional told']);
    expect(codes({ told: TOLD.replace('Msg & data rates may apply. ', '') })).toEqual(['disclosure-no-rates told']);
    expect(codes({ doubleOptIn: false })).toEqual(['keyword-single-opt-in doubleOptIn']);
    const answers = answersFor(NAMES.nameLine, OFFERS);
    for (const comer of KEYWORD_COMERS) {
      expect(codes({ answers: { ...answers, [comer]: ' ' } })).toEqual([`keyword-answer-empty answers.${comer}`]);
      expect(codes({ answers: { ...answers, [comer]: answers[comer].replace('Saltmarsh Ferries', 'We') } })).toEqual([
        `keyword-answer-incomplete answers.${comer}`,
      ]);
    }
    for (const part of ['HELP', 'STOP', 'rates', 'month'])
      expect(codes({ answers: { ...answers, new: answers.new.replace(part, 'x') } }))
        .withContext(part)
        .toEqual(['keyword-answer-incomplete answers.new']);
  });

  it('counts an answer in the longest it gets, and asks for a fallback of each field', () => {
    const answers = answersFor(NAMES.nameLine, OFFERS);
    const gives = { ...answers, already: 'Saltmarsh Ferries: your code is [code|at the counter].' };
    expect(codes({ answers: gives }, 'FERRY-2027')).toEqual([]);
    expect(longestAnswer(gives.already, 'FERRY-2027').units).toBe('Saltmarsh Ferries: your code is FERRY-2027.'.length);
    expect(codes({ answers: { ...gives, already: 'Saltmarsh Ferries: code [code]' } })).toEqual([
      'merge-no-fallback answers.already',
    ]);
    expect(codes({ answers: { ...gives, already: 'Saltmarsh Ferries: [seat|none]' } })).toEqual([
      'merge-unknown-field answers.already',
    ]);
    expect(codes({ answers: { ...gives, already: `Saltmarsh Ferries: ${'so '.repeat(120)}` } })).toEqual([
      'keyword-answer-long answers.already',
    ]);
    expect(keywordAnswer('Hello [firstName|traveller], [code|ask us]', { firstName: ' ', code: 'A1' })).toBe(
      'Hello traveller, A1',
    );
  });

  it('takes codes as they are pasted, each once', () => {
    expect(readCodes('A1, A2\nA1;\tA3\r\n\nA[4]')).toEqual({ codes: ['A1', 'A2', 'A3'], twice: 1, refused: ['A[4]'] });
  });
});
