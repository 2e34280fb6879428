import { escaped } from './escaped.js';
import type { PageFilled } from './opt-in-page.js';
import { PAGE_WORDS, type PageLanguage } from './words.js';

// What the forms behind personal links have in common.

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
export function phoneField(label: string, filled?: PageFilled): string {
  const fault = faultOf('phone', filled);
  return `<label class="field"><span>${escaped(label)}</span>${fault === undefined ? '' : `<span class="fault" id="phone-fault">${escaped(fault)}</span>`}<input id="phone" name="phone" type="tel" inputmode="tel" autocomplete="tel" value="${escaped(filled?.values.phone ?? '')}"${fault === undefined ? '' : ' aria-invalid="true" aria-describedby="phone-fault"'}></label>`;
}

/** A box for a kind of text. @param said what stands beside it, as HTML. */
export const kindBox = (purpose: string, ticked: boolean, said: string): string =>
  `<label class="choice"><input type="checkbox" name="purposes" value="${purpose}"${ticked ? ' checked' : ''}> <span>${said}</span></label>`;

/** The pages about privacy and terms. */
export const pagesAbout = (language: PageLanguage, p: { privacyUrl: string; termsUrl: string }): string =>
  `<p class="pages"><a href="${escaped(p.privacyUrl)}" target="_blank" rel="noopener">${PAGE_WORDS[language].privacy}</a> <a href="${escaped(p.termsUrl)}" target="_blank" rel="noopener">${PAGE_WORDS[language].terms}</a></p>`;
