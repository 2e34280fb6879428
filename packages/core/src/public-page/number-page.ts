import type { Programme } from '../consent/disclosure.js';
import { escaped } from './escaped.js';
import {
  buttonOf,
  faultsBox,
  filledIn,
  formOf,
  keptNote,
  kindBox,
  pagesAbout,
  phoneField,
  saidIn,
  type LinkPageShown,
} from './form-parts.js';
import { pageDocument } from './page-frame.js';
import { filledWords, NUMBER_WORDS, PAGE_WORDS, type PageLanguage } from './words.js';

/** The page behind a personal link on which somebody gives a number that texts reach. */
export interface NumberPage {
  language: PageLanguage;
  business: string;
  firstName: string;
  /** The number texts do not reach, all but its last two figures hidden. */
  number: string;
  /** They gave one before, and its handset said YES. */
  confirmed: boolean;
  purposes: readonly { purpose: Programme['purpose']; disclosure: string }[];
  privacyUrl: string;
  termsUrl: string;
  ground: string;
  accent: string;
}

const titleOf = ({ language, firstName }: NumberPage): string =>
  firstName ? filledWords(NUMBER_WORDS[language].titleTo, { name: firstName }) : NUMBER_WORDS[language].title;
const frame = (p: NumberPage, nonce?: string) => ({
  language: p.language,
  title: `${NUMBER_WORDS[p.language].title} · ${p.business}`,
  ground: p.ground,
  accent: p.accent,
  ...(nonce === undefined ? {} : { nonce }),
});

/** The page as a document that works without a script: the number, and each kind of text with its own box, unticked. */
export function numberPage(p: NumberPage, shown: LinkPageShown): string {
  const t = NUMBER_WORDS[p.language];
  const common = PAGE_WORDS[p.language];
  const filled = filledIn(shown);
  const boxes = p.purposes.map((x) =>
    kindBox(shown, x.purpose, filled?.purposes.includes(x.purpose) ?? false, saidIn(shown)(x.disclosure)),
  );
  return pageDocument(
    frame(p, shown.as === 'live' ? shown.nonce : undefined),
    `<p class="business">${escaped(p.business)}</p><h1>${escaped(titleOf(p))}</h1>
<p>${escaped(p.confirmed ? t.confirmed : filledWords(t.asks, { number: p.number }))}</p>
${faultsBox(p.language, filled)}${formOf(shown)}
${phoneField(common.phone, shown)}
<fieldset id="purposes"><legend>${common.what}</legend>
${boxes.join('\n')}</fieldset>
${buttonOf(shown, common.send)}</form>
<p>${escaped(t.doNothing)}</p>
${pagesAbout(p.language, p)}${keptNote(shown)}`,
  );
}

/** What follows: the handset that was given is asked. */
export function afterNumberPage(p: NumberPage, asked: { shown: string; from: string }, nonce: string): string {
  return pageDocument(
    frame(p, nonce),
    `<p class="business">${escaped(p.business)}</p><h1>${PAGE_WORDS[p.language].look}</h1>
<p>${escaped(filledWords(NUMBER_WORDS[p.language].asked, asked))}</p>`,
  );
}
