import { escaped } from './escaped.js';
import type { PageFilled } from './opt-in-page.js';
import { withLinks } from './page-frame.js';
import { PAGE_WORDS, type PageLanguage } from './words.js';

// What the forms behind personal links have in common.

/** How such a page is shown: to be used, or as it was, when it does nothing. */
export type LinkPageShown =
  | { as: 'live'; action: string; words: string; nonce: string; filled?: PageFilled }
  /** Of the same page the same bytes, so that its digest names it. */
  | { as: 'kept' };
const offIn = (shown: LinkPageShown): string => (shown.as === 'kept' ? ' disabled' : '');
/** What somebody has filled in, where the page is shown to them again for what is wrong with it. */
export const filledIn = (shown: LinkPageShown): PageFilled | undefined =>
  shown.as === 'live' ? shown.filled : undefined;

/** A page of one person as it may be kept: all that it says, but to whom. */
export const withoutPerson = <P extends { firstName: string; number: string }>(page: P): P => ({
  ...page,
  firstName: '',
  number: '•••',
});

/** Where the form begins. */
export const formOf = (shown: LinkPageShown): string =>
  shown.as === 'live'
    ? `<form method="post" action="${escaped(shown.action)}" novalidate><input type="hidden" name="words" value="${escaped(shown.words)}">`
    : '<form>';
/** A button of it; the plain ones are not what most press. */
export const buttonOf = (shown: LinkPageShown, words: string, of: { wish?: string; plain?: boolean } = {}): string =>
  `<button${of.plain ? ' class="plain"' : ''}${of.wish ? ` name="wish" value="${of.wish}"` : ''}${offIn(shown)}>${words}</button>`;
/** Words to the letter; kept they are searched for, and nothing leads out of them. */
export const saidIn = (shown: LinkPageShown): ((text: string) => string) => (shown.as === 'kept' ? escaped : withLinks);
/** What a page that was kept says of itself. */
export const keptNote = (shown: LinkPageShown): string =>
  shown.as === 'kept'
    ? '\n<p class="as">Kept as it was shown behind a personal link, less the name and the number on file. Nothing can be sent from here.</p>'
    : '';

const faultOf = (field: string, filled?: PageFilled): string | undefined =>
  filled?.faults.find((f) => f.field === field)?.message;

/** All that is wrong, on top, to be read out at once; nothing where nothing is. */
export function faultsBox(language: PageLanguage, filled?: PageFilled): string {
  const all = filled ? [...filled.faults.map((f) => f.message), filled.problem].filter((m) => m !== '') : [];
  return all.length > 0
    ? `<div class="faults" role="alert"><strong>${PAGE_WORDS[language].toMend}</strong>${all.map((m) => `<p>${escaped(m)}</p>`).join('')}</div>\n`
    : '';
}

/** The field for a number, with what is wrong with it. */
export function phoneField(label: string, shown: LinkPageShown): string {
  const filled = filledIn(shown);
  const fault = faultOf('phone', filled);
  return `<label class="field"><span>${escaped(label)}</span>${fault === undefined ? '' : `<span class="fault" id="phone-fault">${escaped(fault)}</span>`}<input id="phone" name="phone" type="tel" inputmode="tel" autocomplete="tel" value="${escaped(filled?.values.phone ?? '')}"${fault === undefined ? '' : ' aria-invalid="true" aria-describedby="phone-fault"'}${offIn(shown)}></label>`;
}

/** A box for a kind of text. @param said what stands beside it, as HTML. */
export const kindBox = (shown: LinkPageShown, purpose: string, ticked: boolean, said: string): string =>
  `<label class="choice"><input type="checkbox" name="purposes" value="${purpose}"${ticked ? ' checked' : ''}${offIn(shown)}> <span>${said}</span></label>`;

/** The pages about privacy and terms. */
export const pagesAbout = (language: PageLanguage, p: { privacyUrl: string; termsUrl: string }): string =>
  `<p class="pages"><a href="${escaped(p.privacyUrl)}" target="_blank" rel="noopener">${PAGE_WORDS[language].privacy}</a> <a href="${escaped(p.termsUrl)}" target="_blank" rel="noopener">${PAGE_WORDS[language].terms}</a></p>`;
