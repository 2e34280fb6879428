import { KeywordEdit } from '@long-gate/contracts';
import { answersFor } from '@long-gate/core';
import type { z } from 'zod';

/** The offers of the bakery, as a page or a word brings them. */
export const OFFERS = [
  { purpose: 'promotional' as const, label: 'Text me news of bread', frequency: 'about four a month' },
];
/** What stands on the sign. */
export const TOLD =
  'Text RYE to 201-555-0142 to get automated promotional texts with news of bread from Heron Lane, about four a month. Not a condition of any purchase. Msg & data rates may apply. Reply HELP for help, STOP to end. Terms and privacy at heron.example/terms.';

/** The word on the sign beside the bakery's till, as it is saved. */
export function wordAtTheTill(
  numberId: string,
  over: Partial<z.input<typeof KeywordEdit>> = {},
): z.output<typeof KeywordEdit> {
  return KeywordEdit.parse({
    title: 'At the till',
    numberId,
    words: ['RYE'],
    purposes: OFFERS,
    told: TOLD,
    place: 'a sign beside the till',
    termsUrl: 'https://heron.example/terms',
    doubleOptIn: true,
    answers: answersFor('Heron Lane', OFFERS),
    active: true,
    ...over,
  });
}
