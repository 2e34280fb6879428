import { finding, type Finding } from '../finding/finding.js';

/** What a short code is leased for: one programme, looked at by the networks before they approve the code. */
export interface ShortCodeProgramme {
  /** What people know it by. */
  name: string;
  /** What is sent, to whom, how often. */
  what: string;
  /** How people agree to it. */
  agreement: string;
  sample: string;
  /** Where people get help: a page, an address or a telephone number. */
  help: string;
}

const LEAST = 40;
const CONTACT = /(?:https?:\/\/|\S+@\S+\.\S+|\b[a-z0-9-]+(?:\.[a-z0-9-]+)+\b|\+?\d[\d ().-]{6,})/i;

/**
 * What the networks would decline a short code's programme for, found before it is ordered. source: rules.md (short
 * codes: one programme each; what reviewers decline); the trade's handbook for short codes.
 */
export function reviewShortCode(p: ShortCodeProgramme, names: { legalName: string; nameLine: string }): Finding[] {
  const out: Finding[] = [];
  if (p.name.trim() === '')
    out.push(finding('programme-no-name', 'name', 'The programme has no name.', 'Say what people will know it by.'));
  if (p.what.trim().length < LEAST)
    out.push(
      finding(
        'programme-short',
        'what',
        `What is sent takes at least ${LEAST} characters.`,
        'Say what is sent, to whom and how often.',
      ),
    );
  if (p.agreement.trim().length < LEAST)
    out.push(
      finding(
        'programme-agreement-short',
        'agreement',
        `How people agree takes at least ${LEAST} characters.`,
        'Name the place and the words by which they agree.',
      ),
    );
  const sample = p.sample.toLowerCase();
  if (![names.legalName, names.nameLine].some((n) => n !== '' && sample.includes(n.toLowerCase())))
    out.push(
      finding(
        'programme-sample-no-name',
        'sample',
        'The sample does not name the business.',
        `Say “${names.nameLine}”.`,
      ),
    );
  if (!/\bstop\b/i.test(p.sample))
    out.push(
      finding('programme-sample-no-stop', 'sample', 'The sample does not say how to stop.', 'Add “Reply STOP to end.”'),
    );
  if (!CONTACT.test(p.help))
    out.push(
      finding(
        'programme-help-no-contact',
        'help',
        'It names no way to get help.',
        'Give a page, an e-mail address or a telephone number.',
      ),
    );
  return out;
}
