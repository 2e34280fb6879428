import { answersFor } from '@long-gate/core';
import { idFrom } from '../platform/ids.js';
import { pagesOf } from './demo-page.js';
import { BUSINESSES, type DemoBusiness } from './scenario.data.js';

const [FERRIES] = BUSINESSES;

/** The sign at the ticket counter by which people join the fare list. */
export const KEYWORD = {
  id: idFrom('kwd', 'demo', 'fares'),
  word: 'FARES',
  title: 'Sign at the ticket counter',
  place: 'a sign on the ticket counter at the south quay',
  told: `Text FARES to 201-555-0117 to get automated promotional texts with fare offers from Saltmarsh Ferries, two to four times a month. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end. Terms and privacy at saltmarsh.example/terms.`,
  codes: Array.from({ length: 150 }, (_, i) => `QUAY-${(1207 + i * 37).toString(36).toUpperCase()}`),
} as const;

export const version = `${KEYWORD.title}, version 1`;

/** Whether somebody joined by the sign: every sixteenth of those who wanted offers did. */
export const cameByWord = (b: DemoBusiness, i: number): boolean => b.key === FERRIES?.key && i % 16 === 5;

export function keywordOf(b: DemoBusiness) {
  const purposes = [{ purpose: 'promotional' as const, ...b.page.promotional }];
  const answers = answersFor(b.nameLine, purposes);
  const code = 'Your code for 10% off: [code|ask at the counter].';
  return {
    id: KEYWORD.id,
    title: KEYWORD.title,
    words: [KEYWORD.word, 'FERRY'],
    purposes,
    told: KEYWORD.told,
    place: KEYWORD.place,
    termsUrl: pagesOf(b).termsUrl,
    doubleOptIn: true,
    answers: {
      new: answers.new.replace('. Msg', `. ${code} Msg`),
      already: `${b.nameLine}: you are on the fare list already. ${code}`,
      back: answers.back.replace('. Msg', `. ${code} Msg`),
    },
    active: true,
  };
}
