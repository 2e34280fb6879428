import { ASKED, PAGE_COLOURS, PAGE_LANGUAGES, SITE_DEVICES, SITE_PLACES } from '@long-gate/core';
import * as z from 'zod';
import { BusinessPath, endpoint, ObjectPath } from '../endpoint.js';

export const PagePurpose = z.object({
  purpose: z.enum(['informational', 'promotional']),
  label: z.string().trim().min(10, 'Say what is sent.').max(400),
  /** The same words on the page, in the confirming and in the joining text. */
  frequency: z
    .string()
    .trim()
    .min(3, 'Say how often: “about four a month”, “as they happen”.')
    .max(80)
    .default('varies'),
});
/** Kinds of text agreed to on a page in a week that begins on this Monday (UTC), and how many were confirmed by YES or needed none. */
const Came = z.object({
  /** Visits in which the page was seen, and in which somebody began to fill it in. */
  seen: z.number(),
  begun: z.number(),
  agreed: z.number(),
  confirmed: z.number(),
});
const PageWeek = Came.extend({ from: z.iso.date() });

const Colour = (byDefault: string) =>
  z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^#[0-9a-f]{6}$/, 'A colour as “#” and six digits or letters a to f.')
    .default(byDefault);
export const PageAsks = z.object({ firstName: z.enum(ASKED), lastName: z.enum(ASKED), email: z.enum(ASKED) });
const whole = (most: number) => {
  const words = `A whole number from 0 to ${most}.`;
  return z.number(words).int(words).min(0, words).max(most, words);
};
/** How the page's form is shown on the business's own site. */
export const OnSiteShape = z.object({
  /** Sites that may show it: `https://` and a name, and no other can. */
  sites: z
    .array(
      z
        .string()
        .trim()
        .toLowerCase()
        .regex(
          /^https?:\/\/[a-z0-9.-]+(?::\d{1,5})?$/,
          'A site as it stands in a browser up to the first slash: “https://www.….example”.',
        ),
    )
    .min(1, 'Name the site that shows it.')
    .max(10, 'Ten sites at most.'),
  place: z.enum(SITE_PLACES),
  devices: z.enum(SITE_DEVICES),
  /** Addresses on the site, as `/tickets/*`; all where there is none. */
  paths: z.array(z.string().trim().max(200).startsWith('/', 'An address begins with “/”.')).max(20),
  /** Seconds after which it is shown, and how far down the page, in hundredths; whichever comes first where both are given. */
  afterSeconds: whole(600),
  afterDown: whole(100),
  /** Days for which who has closed it is left alone; 0: shown at every visit. */
  againDays: whole(365),
});
const PageBody = z.object({
  slug: z.string(),
  title: z.string(),
  intro: z.string(),
  purposes: z.array(PagePurpose),
  numberId: z.string(),
  privacyUrl: z.string(),
  termsUrl: z.string(),
  language: z.enum(PAGE_LANGUAGES),
  ground: z.string(),
  accent: z.string(),
  /** Words of the button; those of the language where it is empty. */
  button: z.string(),
  thanks: z.string(),
  /** Shown to who has asked to join, for the counter. */
  thanksCode: z.string(),
  asks: PageAsks,
  /** What the picture shows, for who does not see it. */
  pictureWords: z.string(),
  /** Null where no other site shows it. */
  onSite: OnSiteShape.nullable(),
  published: z.boolean(),
});
export const OptInPageShape = PageBody.extend({
  id: z.string(),
  /** Where people reach it, whole. */
  address: z.string(),
  pageVersion: z.number(),
  picture: z.object({ name: z.string(), sha256: z.string() }).nullable(),
  optIns: z.number(),
  /** The last half year, the latest week last. */
  weeks: z.array(PageWeek),
  /** By version of its words, the last first. */
  versions: z.array(Came.extend({ pageVersion: z.number() })),
  version: z.number(),
});
export type OptInPage = z.infer<typeof OptInPageShape>;
export const OptInPageEdit = PageBody.extend({
  slug: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^[a-z0-9][a-z0-9-]{2,40}$/, 'Three to 41 small letters, digits and dashes.'),
  title: z.string().trim().min(3, 'Give the page a title.').max(80),
  intro: z.string().trim().max(600),
  purposes: z.array(PagePurpose).min(1, 'Offer at least one kind of text.').max(2),
  numberId: z.string().min(1, 'Choose the number that confirms.'),
  privacyUrl: z.string().trim().min(4, 'Give the privacy page.').max(300),
  termsUrl: z.string().trim().min(4, 'Give the terms page.').max(300),
  language: z.enum(PAGE_LANGUAGES).default('en'),
  ground: Colour(PAGE_COLOURS.ground),
  accent: Colour(PAGE_COLOURS.accent),
  button: z.string().trim().max(60).default(''),
  thanks: z.string().trim().max(300).default(''),
  thanksCode: z.string().trim().max(30).default(''),
  asks: PageAsks.default({ firstName: 'asked', lastName: 'no', email: 'no' }),
  pictureWords: z.string().trim().max(200).default(''),
  onSite: OnSiteShape.nullable().default(null),
});
export const listPages = endpoint({
  id: 'pages.list',
  summary: 'Opt-in pages',
  method: 'GET',
  path: '/businesses/:businessId/pages',
  access: 'viewer',
  params: BusinessPath,
  answer: z.object({ items: z.array(OptInPageShape) }),
});
export const addPage = endpoint({
  id: 'pages.add',
  summary: 'Make an opt-in page',
  method: 'POST',
  path: '/businesses/:businessId/pages',
  access: 'administrator',
  params: BusinessPath,
  body: OptInPageEdit,
  answer: OptInPageShape,
});
export const editPage = endpoint({
  id: 'pages.edit',
  summary: 'Edit an opt-in page; its disclosure gets a new version',
  method: 'PUT',
  path: '/businesses/:businessId/pages/:id',
  access: 'administrator',
  versioned: true,
  params: ObjectPath,
  body: OptInPageEdit,
  answer: OptInPageShape,
});

export const keepPagePicture = endpoint({
  id: 'pages.picture',
  summary: 'Put a picture on top of an opt-in page: PNG or JPEG up to 300 kB',
  method: 'POST',
  path: '/businesses/:businessId/pages/:id/picture',
  access: 'administrator',
  params: ObjectPath,
  body: z.object({ name: z.string().trim().min(1).max(200), base64: z.string().min(1, 'The file is empty.') }),
  answer: OptInPageShape,
});
export const dropPagePicture = endpoint({
  id: 'pages.dropPicture',
  summary: 'Take the picture off an opt-in page; versions that were shown keep it',
  method: 'DELETE',
  path: '/businesses/:businessId/pages/:id/picture',
  access: 'administrator',
  params: ObjectPath,
  answer: OptInPageShape,
});

export const pageCode = endpoint({
  id: 'pages.code',
  summary: 'The address of an opt-in page as a QR code, for print',
  method: 'GET',
  path: '/businesses/:businessId/pages/:id/qr-code',
  access: 'viewer',
  params: ObjectPath,
  query: z.object({ as: z.enum(['svg', 'png']).default('svg') }),
  answer: z.string(),
});

export const pagePaper = endpoint({
  id: 'pages.paper',
  summary: 'An opt-in page as a form for paper: PDF, US Letter, to be signed and filed by its scan',
  method: 'GET',
  path: '/businesses/:businessId/pages/:id/paper-form',
  access: 'viewer',
  params: ObjectPath,
  query: z.object({ sheets: z.coerce.number().int().min(1).max(200).default(1) }),
  answer: z.string(),
});

export const PublicPageShape = PageBody.pick({
  slug: true,
  title: true,
  intro: true,
  privacyUrl: true,
  termsUrl: true,
  language: true,
  ground: true,
  accent: true,
  button: true,
  thanks: true,
  thanksCode: true,
  asks: true,
}).extend({
  business: z.string(),
  nameLine: z.string(),
  purposes: z.array(z.object({ purpose: z.enum(['informational', 'promotional']), disclosure: z.string() })),
  /** The picture on top, by its address. */
  picture: z.object({ src: z.string(), words: z.string() }).nullable(),
  /** Names exactly these words: handed back with what is filled in, so that nobody agrees to words they did not see. */
  words: z.string(),
  /** Nobody can join at the moment; leaving works as ever. */
  paused: z.boolean(),
});
export type PublicPage = z.infer<typeof PublicPageShape>;
export const getPublicPage = endpoint({
  id: 'public.page',
  summary: 'An opt-in page, as the contact sees it',
  method: 'GET',
  path: '/public/pages/:slug',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  answer: PublicPageShape,
});
export const optIn = endpoint({
  id: 'public.optIn',
  summary: 'A contact opts in; a confirming text follows',
  method: 'POST',
  path: '/public/pages/:slug/opt-ins',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  body: z.object({
    phone: z.string().max(60),
    firstName: z.string().trim().max(80).default(''),
    lastName: z.string().trim().max(80).default(''),
    email: z.string().trim().max(200).default(''),
    purposes: z.array(z.enum(['informational', 'promotional'])).min(1, 'Choose at least one kind of text.'),
    words: z.string().max(100),
  }),
  answer: z.object({ shown: z.string(), from: z.string() }),
});
export const optOut = endpoint({
  id: 'public.optOut',
  summary: 'Somebody leaves for a number, at once and for all texts',
  method: 'POST',
  path: '/public/pages/:slug/opt-outs',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  body: z.object({ phone: z.string().max(60) }),
  answer: z.object({ shown: z.string() }),
});
export const lookAtPage = endpoint({
  id: 'public.look',
  summary: 'Somebody sees an opt-in page, or begins to fill it in: counted, of nobody in particular',
  method: 'POST',
  path: '/public/pages/:slug/looks',
  access: 'public',
  params: z.object({ slug: z.string().max(60) }),
  body: z.object({ step: z.enum(['seen', 'begun']) }),
  answer: z.object({ counted: z.boolean() }),
});
