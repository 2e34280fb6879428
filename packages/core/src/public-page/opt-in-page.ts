import type { Programme } from '../consent/disclosure.js';
import { escaped } from './escaped.js';
import { pagesAbout } from './form-parts.js';
import { pageDocument, paragraphs, withLinks } from './page-frame.js';
import { filledWords, PAGE_WORDS, type PageLanguage, type PageWords } from './words.js';

/** What is asked beside the number, which is always asked: not at all, if one likes, or needed. */
export const ASKED = ['no', 'asked', 'needed'] as const;
export type Asked = (typeof ASKED)[number];
export const PAGE_FIELDS = ['firstName', 'lastName', 'email'] as const;
export type PageField = (typeof PAGE_FIELDS)[number];

/** An opt-in page as somebody sees it. */
export interface PageSeen {
  slug: string;
  /** The legal name of the business. */
  business: string;
  title: string;
  intro: string;
  language: PageLanguage;
  ground: string;
  accent: string;
  /** Words of the button; the page's own where it is empty. */
  button: string;
  thanks: string;
  /** Shown to who has asked to join, for the counter; empty where there is none. */
  thanksCode: string;
  asks: Record<PageField, Asked>;
  /** A picture on top: its address, or the picture itself as a data URI. */
  picture: { src: string; words: string } | null;
  purposes: readonly { purpose: Programme['purpose']; disclosure: string }[];
  privacyUrl: string;
  termsUrl: string;
  /** Nobody can join at the moment. */
  paused: boolean;
}

/** What somebody has filled in, and what is wrong with it. */
export interface PageFilled {
  values: Partial<Record<PageField | 'phone', string>>;
  purposes: readonly string[];
  faults: readonly { field: string; message: string }[];
  /** What is wrong altogether. */
  problem: string;
}
/** How a page is shown: to be used, to be looked at by who makes it, or as it was. */
export type PageShown =
  | { as: 'live'; action: string; words: string; nonce: string; script: string; framed: boolean; filled?: PageFilled }
  | { as: 'preview'; nonce: string }
  | { as: 'kept' };

const TYPES: Record<PageField | 'phone', string> = {
  phone: 'type="tel" inputmode="tel" autocomplete="tel"',
  firstName: 'autocomplete="given-name"',
  lastName: 'autocomplete="family-name"',
  email: 'type="email" inputmode="email" autocomplete="email"',
};

const labelOf = (field: PageField | 'phone', t: PageWords): string => (field === 'phone' ? t.phone : t[field]);

/** The picture and the head of a page. */
function headOf(p: PageSeen): string {
  const picture = p.picture
    ? `<img class="picture" src="${escaped(p.picture.src)}" alt="${escaped(p.picture.words)}">\n`
    : '';
  return `${picture}<p class="business">${escaped(p.business)}</p><h1>${escaped(p.title)}</h1>`;
}
const frameOf = (p: PageSeen, shown: PageShown) => ({
  language: p.language,
  title: `${p.title} · ${p.business}`,
  ground: p.ground,
  accent: p.accent,
  ...(shown.as === 'live' ? { nonce: shown.nonce, script: shown.script, framed: shown.framed } : {}),
  ...(shown.as === 'preview' ? { nonce: shown.nonce } : {}),
});
/**
 * An opt-in page as a document: the number, what else is asked, each kind of text with its own box, unticked. It works
 * without a script. Kept (`as: 'kept'`) it needs nothing else to be opened again, and does nothing; of the same page the
 * same bytes, so that its digest names it.
 */
export function optInPage(p: PageSeen, shown: PageShown): string {
  const t = PAGE_WORDS[p.language];
  const filled = shown.as === 'live' ? shown.filled : undefined;
  const off = shown.as === 'live' ? '' : ' disabled';
  const faultOf = (field: string): string | undefined => filled?.faults.find((f) => f.field === field)?.message;
  const faultAt = (field: string): string => {
    const fault = faultOf(field);
    return fault === undefined ? '' : `<span class="fault" id="${field}-fault">${escaped(fault)}</span>`;
  };
  const described = (field: string): string =>
    faultOf(field) === undefined ? '' : ` aria-invalid="true" aria-describedby="${field}-fault"`;
  const input = (field: PageField | 'phone', asked: Asked): string =>
    `<label class="field"><span>${labelOf(field, t)}${asked === 'asked' ? ` <small>${t.ifYouLike}</small>` : ''}</span>${faultAt(field)}<input id="${field}" name="${field}" ${TYPES[field]} value="${escaped(filled?.values[field] ?? '')}"${described(field)}${off}></label>`;
  // Kept it is searched for the words to the letter; nothing leads out of it.
  const said = shown.as === 'kept' ? escaped : withLinks;
  const boxes = p.purposes.map(
    (x) =>
      `<label class="choice"><input type="checkbox" name="purposes" value="${x.purpose}"${filled?.purposes.includes(x.purpose) ? ' checked' : ''}${off}> <span>${said(x.disclosure)}</span></label>`,
  );
  const faults =
    filled && (filled.faults.length > 0 || filled.problem !== '')
      ? `<div class="faults" role="alert"><strong>${t.toMend}</strong>${filled.problem ? `<p>${escaped(filled.problem)}</p>` : ''}${filled.faults
          .map((f) => `<p><a href="#${escaped(f.field)}">${escaped(f.message)}</a></p>`)
          .join('')}</div>\n`
      : '';
  const begin =
    shown.as === 'live'
      ? `<form method="post" action="${escaped(shown.action)}" novalidate><input type="hidden" name="words" value="${escaped(shown.words)}">`
      : '<form>';
  const asked = PAGE_FIELDS.filter((f) => p.asks[f] !== 'no');
  const joining = p.paused
    ? `<p><strong>${t.paused}</strong></p>`
    : `${asked.map((f) => input(f, p.asks[f])).join('\n')}
<fieldset id="purposes"><legend>${t.what}</legend>${faultAt('purposes')}
${boxes.join('\n')}</fieldset>
<button name="wish" value="join"${off}>${escaped(p.button.trim() || t.send)}</button>`;
  const kept =
    shown.as === 'kept'
      ? `\n<p class="as">Kept as it was shown at /join/${escaped(p.slug)}. Nothing can be sent from here.</p>`
      : '';
  return pageDocument(
    frameOf(p, shown),
    `${headOf(p)}
${paragraphs(p.intro)}
${faults}${begin}
${input('phone', 'needed')}
${joining}
<button class="plain" name="wish" value="leave"${off}>${t.leave}</button></form>
${pagesAbout(p.language, p)}${kept}`,
  );
}

/** What follows: it was asked to join, or it was left. */
export type AfterPage = { what: 'asked'; shown: string; from: string } | { what: 'left'; shown: string };

/** The page after it, with the words of thanks and the code to show, where it was asked to join. */
export function afterOptInPage(p: PageSeen, after: AfterPage, shown: PageShown): string {
  const t = PAGE_WORDS[p.language];
  const body =
    after.what === 'left'
      ? `<h1>${t.done}</h1><p>${escaped(filledWords(t.noMore, { business: p.business, shown: after.shown }))}</p>`
      : `<h1>${t.look}</h1>${paragraphs(p.thanks)}${p.thanksCode.trim() ? `<p>${t.code}</p><p class="code">${escaped(p.thanksCode)}</p>` : ''}
<p>${escaped(filledWords(t.onItsWay, { shown: after.shown, from: after.from }))}</p>`;
  return pageDocument(frameOf(p, shown), `<p class="business">${escaped(p.business)}</p>${body}`);
}

/** Said where an address leads nowhere, or something went wrong that is not the person's. */
export function saysOnly(
  page: { language: PageLanguage; title: string; text: string },
  colours: { ground: string; accent: string },
  nonce: string,
): string {
  return pageDocument(
    { language: page.language, title: page.title, ...colours, nonce },
    `<h1>${escaped(page.title)}</h1><p>${escaped(page.text)}</p>`,
  );
}
