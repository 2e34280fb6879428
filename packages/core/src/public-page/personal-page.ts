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
import { filledWords, PAGE_WORDS, PERSONAL_WORDS, type PageLanguage } from './words.js';

/** How a kind of text stands with the owner of a number: they get it, their YES is awaited, or they do not. */
export type KindStanding = 'in' | 'awaited' | 'out';

/** The page of one person, behind a link that is theirs. */
export interface PersonalPage {
  language: PageLanguage;
  business: string;
  firstName: string;
  /** The number on file, all but its last two figures hidden: its owner knows it, and others learn nothing. */
  number: string;
  purposes: readonly { purpose: Programme['purpose']; disclosure: string; standing: KindStanding }[];
  /** Whether another number may be given: not where the link came to the number itself. */
  another: boolean;
  privacyUrl: string;
  termsUrl: string;
  ground: string;
  accent: string;
}

/** What one can wish on it. */
export const PERSONAL_WISHES = ['choose', 'number', 'answers', 'leave'] as const;
export type PersonalWish = (typeof PERSONAL_WISHES)[number];

const frame = (p: PersonalPage, nonce?: string) => ({
  language: p.language,
  title: filledWords(PERSONAL_WORDS[p.language].title, { business: p.business }),
  ground: p.ground,
  accent: p.accent,
  ...(nonce === undefined ? {} : { nonce }),
});

/**
 * The personal page as a document that works without a script: each kind of text by itself with its present state,
 * another number, answers only, and leaving.
 */
export function personalPage(p: PersonalPage, shown: LinkPageShown): string {
  const t = PERSONAL_WORDS[p.language];
  const filled = filledIn(shown);
  const boxes = p.purposes.map((x) => {
    const ticked = filled ? filled.purposes.includes(x.purpose) : x.standing !== 'out';
    const stands = `<strong>${escaped(t.kinds[x.purpose])}</strong> <em>${escaped(t.standings[x.standing])}</em>`;
    return kindBox(shown, x.purpose, ticked, `${stands}<br>${saidIn(shown)(x.disclosure)}`);
  });
  const button = (wish: PersonalWish, words: string): string =>
    buttonOf(shown, words, { wish, plain: wish !== 'choose' });
  const hello = p.firstName ? `<p>${escaped(filledWords(t.hello, { name: p.firstName }))}</p>\n` : '';
  return pageDocument(
    frame(p, shown.as === 'live' ? shown.nonce : undefined),
    `<p class="business">${escaped(p.business)}</p><h1>${escaped(filledWords(t.title, { business: p.business }))}</h1>
${hello}<p>${escaped(filledWords(t.about, { number: p.number }))}</p>
${faultsBox(p.language, filled)}${formOf(shown)}
<fieldset id="purposes"><legend>${t.which}</legend>
${boxes.join('\n')}</fieldset>
${button('choose', t.choose)}
${p.another ? `${phoneField(t.another, shown)}\n${button('number', t.useNumber)}\n` : ''}${button('answers', t.answers)}
${button('leave', t.leave)}</form>
${pagesAbout(p.language, p)}${keptNote(shown)}`,
  );
}

/** What became of a wish: which kinds were ended, which were joined, for which a YES is asked, and of which number. */
export interface PersonalOutcome {
  wish: PersonalWish;
  ended: readonly Programme['purpose'][];
  /** In force from now on, since the link came to the handset itself. */
  joined: readonly Programme['purpose'][];
  asked: readonly Programme['purpose'][];
  /** Wanted, and not asked of the handset, which was asked often enough today. */
  tooOften: readonly Programme['purpose'][];
  /** Wanted, and not asked of the handset: the number that would ask is not in service. */
  closed: readonly Programme['purpose'][];
  kept: readonly Programme['purpose'][];
  shown: string;
  from: string;
}

const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** The page after it: what stands now, in sentences. */
export function afterPersonalPage(
  p: PersonalPage,
  o: PersonalOutcome,
  shown: { action: string; nonce: string },
): string {
  const t = PERSONAL_WORDS[p.language];
  const named = (of: readonly Programme['purpose'][]): string => of.map((x) => t.kinds[x].toLowerCase()).join(t.and);
  const said = [
    o.wish === 'leave' ? t.left : o.ended.length > 0 ? filledWords(t.ended, { kinds: named(o.ended) }) : '',
    o.wish === 'answers' ? t.answersOnly : '',
    o.joined.length > 0 ? filledWords(t.joined, { kinds: named(o.joined), shown: o.shown }) : '',
    o.asked.length > 0 ? filledWords(t.asked, { kinds: named(o.asked), shown: o.shown, from: o.from }) : '',
    o.tooOften.length > 0 ? capital(filledWords(t.tooOften, { kinds: named(o.tooOften) })) : '',
    o.closed.length > 0 ? capital(filledWords(t.closed, { kinds: named(o.closed) })) : '',
    o.kept.length > 0 ? filledWords(t.kept, { kinds: named(o.kept) }) : '',
  ].filter((s) => s !== '');
  return pageDocument(
    frame(p, shown.nonce),
    `<p class="business">${escaped(p.business)}</p><h1>${o.asked.length > 0 ? PAGE_WORDS[p.language].look : PAGE_WORDS[p.language].done}</h1>
${(said.length > 0 ? said : [t.nothing]).map((s) => `<p>${escaped(s)}</p>`).join('\n')}
<p><a href="${escaped(shown.action)}">${t.again}</a></p>`,
  );
}

/** Asks once more before letters end: mail programs open links by themselves, and nothing may be ended by that. */
export function unsubscribePage(
  p: Pick<PersonalPage, 'language' | 'business' | 'ground' | 'accent'>,
  shown: { action: string; nonce: string; done: boolean },
): string {
  const t = PERSONAL_WORDS[p.language];
  const title = filledWords(t.letters, { business: p.business });
  return pageDocument(
    { language: p.language, title, ground: p.ground, accent: p.accent, nonce: shown.nonce },
    `<p class="business">${escaped(p.business)}</p><h1>${escaped(title)}</h1>
${
  shown.done
    ? `<p>${escaped(t.lettersEnded)}</p>`
    : `<form method="post" action="${escaped(shown.action)}"><button>${escaped(t.endLetters)}</button></form>`
}`,
  );
}
