import { finding, type Finding } from '../finding/finding.js';
import { reviewWords } from './disclosure.js';
import type { ConsentState, Purpose } from './events.js';
import { OWNERS_WORD } from './fold.js';

/** A form that people filled in and signed: what it stands for as proof. */
export interface FiledForm {
  purposes: readonly Exclude<Purpose, 'conversational'>[];
  /** The day of the signature, year-month-day. */
  signedOn: string;
  /** The words they were shown, to the letter. */
  disclosure: string;
}

/**
 * What keeps a form from being proof: a day to come, or words that do not say what people have to be told; for promotional
 * texts also that they are automated and that agreeing is no condition of a purchase.
 * @param today year-month-day where the business is.
 * Source: rules.md, consent; 47 CFR 64.1200(f)(9) for promotional texts.
 */
export function reviewForm(form: FiledForm, names: { legalName: string; nameLine: string }, today: string): Finding[] {
  const out = reviewWords(form.disclosure, form.purposes, names, 'disclosure');
  if (form.signedOn > today)
    out.unshift(
      finding('form-in-future', 'signedOn', 'The day of the signature is still to come.', 'Write the day on the form.'),
    );
  return out;
}

/** The purposes for which a form is proof of a person who stands so; none where only they can speak. */
export function provenBy(
  states: Readonly<Record<Purpose, ConsentState>>,
  purposes: FiledForm['purposes'],
): FiledForm['purposes'] {
  return purposes.filter((p) => !OWNERS_WORD.includes(states[p]));
}
