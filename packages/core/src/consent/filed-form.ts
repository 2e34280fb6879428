import { finding, type Finding } from '../finding/finding.js';
import { reviewDisclosure } from './disclosure.js';
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
  const { disclosure: words } = form;
  const out = reviewDisclosure(words, names, 'disclosure');
  if (form.signedOn > today)
    out.unshift(
      finding('form-in-future', 'signedOn', 'The day of the signature is still to come.', 'Write the day on the form.'),
    );
  if (!form.purposes.includes('promotional')) return out;
  if (!/\bautomat(?:ed|ic(?:ally)?)\b|\bautodial/i.test(words))
    out.push(
      finding(
        'form-not-automated',
        'disclosure',
        'It does not say that the texts are automated, which promotional texts have to.',
        'File it for informational texts only, or ask anew with “automated promotional texts”.',
      ),
    );
  if (!/\bnot?\b[^.]{0,40}\b(?:condition|requir\w+|need\w*)\b|\bwithout (?:buying|purchase)/i.test(words))
    out.push(
      finding(
        'form-conditional',
        'disclosure',
        'It does not say that agreeing is no condition of a purchase, which promotional texts have to.',
        'File it for informational texts only, or ask anew with “not a condition of any purchase”.',
      ),
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
