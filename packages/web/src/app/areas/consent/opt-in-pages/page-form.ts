import type { OptInPage } from '@long-gate/contracts';
import { PAGE_COLOURS, type Asked, type PageLanguage, type SiteDevice, type SitePlace } from '@long-gate/core';
import type { Kept } from '../../../parts/form/autosave';
import { kindsIn, linesOfKinds, NO_KINDS, type KindLines } from '../kinds-of-text';

/** What stands in the form of an opt-in page. */
export interface PageLines extends KindLines {
  title: string;
  slug: string;
  intro: string;
  privacyUrl: string;
  termsUrl: string;
  language: PageLanguage;
  ground: string;
  accent: string;
  button: string;
  thanks: string;
  thanksCode: string;
  firstName: Asked;
  lastName: Asked;
  email: Asked;
  pictureWords: string;
  numberId: string;
  published: boolean;
  elsewhere: boolean;
  sites: string[];
  place: SitePlace;
  devices: SiteDevice;
  paths: string[];
  afterSeconds: string;
  afterDown: string;
  againDays: string;
}

export const BLANK: PageLines = {
  title: '',
  slug: '',
  intro: '',
  ...NO_KINDS,
  privacyUrl: '',
  termsUrl: '',
  language: 'en',
  ...PAGE_COLOURS,
  button: '',
  thanks: '',
  thanksCode: '',
  firstName: 'asked',
  lastName: 'no',
  email: 'no',
  pictureWords: '',
  numberId: '',
  published: true,
  elsewhere: false,
  sites: [],
  place: 'in the page',
  devices: 'all',
  paths: [],
  afterSeconds: '10',
  afterDown: '0',
  againDays: '30',
};

export const FIELD_NAMES: Record<keyof PageLines, string> = {
  title: 'Title',
  slug: 'Address after /join/',
  intro: 'A line of welcome',
  informational: 'Notices: what is sent',
  informationalOften: 'Notices: how often',
  promotional: 'Offers: what is sent',
  promotionalOften: 'Offers: how often',
  privacyUrl: 'Privacy page',
  termsUrl: 'Terms page',
  language: 'Language',
  ground: 'Ground',
  accent: 'Button',
  button: 'Words of the button',
  thanks: 'Thanks',
  thanksCode: 'Code for the counter',
  firstName: 'First name',
  lastName: 'Last name',
  email: 'E-mail',
  pictureWords: 'What the picture shows',
  numberId: 'Number that asks for YES',
  published: 'Live',
  elsewhere: 'Shown on our own site',
  sites: 'Sites that show it',
  place: 'Where',
  devices: 'On',
  paths: 'At these addresses',
  afterSeconds: 'After so many seconds',
  afterDown: 'So far down, in hundredths',
  againDays: 'Who closed it is left alone for days',
};
/** In which order findings are numbered. */
export const ORDER: readonly string[] = Object.keys(FIELD_NAMES);

export function linesOf(p: OptInPage): Kept<PageLines> {
  const { title, slug, intro, privacyUrl, termsUrl, language, ground, accent, button, thanks, thanksCode } = p;
  const { pictureWords, numberId, published, onSite } = p;
  return {
    value: {
      ...BLANK,
      title,
      slug,
      intro,
      ...linesOfKinds(p.purposes),
      privacyUrl,
      termsUrl,
      language,
      ground,
      accent,
      button,
      thanks,
      thanksCode,
      ...p.asks,
      pictureWords,
      numberId,
      published,
      elsewhere: onSite !== null,
      ...(onSite
        ? {
            ...onSite,
            afterSeconds: String(onSite.afterSeconds),
            afterDown: String(onSite.afterDown),
            againDays: String(onSite.againDays),
          }
        : {}),
    },
    version: p.version,
  };
}

export function bodyOf(w: PageLines) {
  const { firstName, lastName, email, elsewhere, sites, place, devices, paths } = w;
  const number = (typed: string): number => (typed.trim() === '' ? 0 : Number(typed));
  return {
    slug: w.slug,
    title: w.title,
    intro: w.intro,
    purposes: kindsIn(w),
    numberId: w.numberId,
    privacyUrl: w.privacyUrl,
    termsUrl: w.termsUrl,
    language: w.language,
    ground: w.ground,
    accent: w.accent,
    button: w.button,
    thanks: w.thanks,
    thanksCode: w.thanksCode,
    asks: { firstName, lastName, email },
    pictureWords: w.pictureWords,
    onSite: elsewhere
      ? {
          sites: sites.map((s) => s.replace(/\/$/, '')),
          place,
          devices,
          paths,
          afterSeconds: number(w.afterSeconds),
          afterDown: number(w.afterDown),
          againDays: number(w.againDays),
        }
      : null,
    published: w.published,
  };
}
