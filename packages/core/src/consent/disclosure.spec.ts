import { showsStop } from '../text/stop-way.js';
import {
  confirmingLess,
  confirmingText,
  disclosureOf,
  greetingTemplate,
  joinedText,
  reviewDisclosure,
  sourceOfWords,
  versionInWords,
  type Programme,
} from './disclosure.js';

const NAMES = { legalName: 'Saltmarsh Ferries LLC', nameLine: 'Saltmarsh Ferries' };
const PAGES = { privacyUrl: 'https://saltmarsh.example/privacy', termsUrl: 'https://saltmarsh.example/terms' };
const OFFERS: Programme = {
  purpose: 'promotional',
  label: 'Text me fare offers',
  frequency: 'two to four times a month',
};
const NOTICES: Programme = {
  purpose: 'informational',
  label: 'Text me notices about my sailings',
  frequency: 'as they happen',
};
const codes = (words: string): string[] => reviewDisclosure(words, NAMES, 'greeting').map((f) => f.code);

describe('a disclosure', () => {
  it('as it is made has all its parts, and offers are no condition of a purchase', () => {
    for (const p of [OFFERS, NOTICES]) expect(codes(disclosureOf(NAMES.legalName, p, PAGES))).toEqual([]);
    expect(disclosureOf(NAMES.legalName, OFFERS, PAGES)).toContain('not a condition of any purchase');
  });
  it('agrees with the confirming and the joining text on kind and frequency', () => {
    const page = disclosureOf(NAMES.legalName, OFFERS, PAGES);
    for (const text of [
      confirmingText(NAMES.nameLine, [OFFERS], PAGES.termsUrl),
      joinedText(NAMES.nameLine, [OFFERS]),
    ]) {
      expect(text).toContain('offers (two to four times a month)');
      expect(showsStop(text)).toBe(true);
    }
    expect(page).toContain('How often: two to four times a month.');
  });
  it('is asked about as if what was refused since had never been in the question, in both languages', () => {
    for (const language of ['en', 'es'] as const) {
      const [offers, notices] = [OFFERS, NOTICES].map((p) => ({ ...p, language })) as [Programme, Programme];
      const question = (...of: Programme[]): string => confirmingText(NAMES.nameLine, of, PAGES.termsUrl);
      for (const still of [offers, notices])
        expect(confirmingLess(question(offers, notices), [offers, notices], [still])).toBe(question(still));
    }
  });
  it('names each missing part', () => {
    const whole =
      'Saltmarsh Ferries here. For texts about your sailings, a few a week, press 1. Rates may apply. Reply HELP for help, STOP to end. Terms and privacy at saltmarsh.example.';
    expect(codes(whole)).toEqual([]);
    expect(codes(whole.replace('Saltmarsh Ferries here. ', ''))).toEqual(['disclosure-no-name']);
    expect(codes(whole.replace('texts about your sailings, ', 'this, '))).toEqual(['disclosure-no-kind']);
    expect(codes(whole.replace(', a few a week', ''))).toEqual(['disclosure-no-frequency']);
    expect(codes(whole.replace('Rates may apply. ', ''))).toEqual(['disclosure-no-rates']);
    expect(codes(whole.replace('HELP for help, ', ''))).toEqual(['disclosure-no-help']);
    expect(codes(whole.replace(', STOP to end', ''))).toEqual(['disclosure-no-stop']);
    expect(codes(whole.replace('Terms and privacy', 'More'))).toEqual(['disclosure-no-terms']);
  });

  it('finds nothing missing in the greeting that invites, for whatever business', () => {
    for (const website of ['https://heron.example/', 'heron.example', '']) {
      const names = { legalName: 'Heron Lane Bakery LLC', nameLine: 'Heron Lane' };
      const words = greetingTemplate({ nameLine: names.nameLine, website }, true);
      expect(reviewDisclosure(words, names, 'greeting'))
        .withContext(words)
        .toEqual([]);
      expect(words).toMatch(/press 1/);
    }
  });

  it('promises nothing in the greeting that does not invite', () => {
    expect(greetingTemplate({ nameLine: 'Heron Lane', website: '' }, false)).not.toMatch(/press|automated/);
  });
});

describe('a version of words', () => {
  it('tells whose words they are, also where that itself speaks of a version', () => {
    expect(['saltmarsh, version 12', 'form frm_1', 'a page, version 2, version 3'].map(sourceOfWords)).toEqual([
      'saltmarsh',
      'form frm_1',
      'a page, version 2',
    ]);
  });

  it('is called as its source is, with its number; by itself where that has no name', () => {
    const named = new Map([
      ['saltmarsh', 'Texts from us'],
      ['form frm_1', 'form “counter.pdf”'],
    ]);
    const versions = ['saltmarsh, version 12', 'form frm_1', 'another, version 1', ''];
    expect(versions.map((v) => versionInWords(v, named))).toEqual([
      'Texts from us, version 12',
      'form “counter.pdf”',
      'another, version 1',
      '',
    ]);
  });
});
