import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type Router from '@koa/router';
import type { PublicPage } from '@long-gate/contracts';
import {
  afterOptInPage,
  optInPage,
  PAGE_COLOURS,
  PAGE_FIELDS,
  PAGE_WORDS,
  saysOnly,
  type PageFilled,
  type PageShown,
} from '@long-gate/core';
import type { Context } from 'koa';
import { z } from 'zod';
import type { Platform } from '../../../platform/platform.js';
import { Problem } from '../../../platform/problem.js';
import type { CameFrom, PublicPages } from './public-pages.js';

const SCRIPT = '/join/opt-in.js';
/** A form as a browser sends it, without a script; a box that stands once is no list there. */
const Sent = z.object({
  wish: z.enum(['join', 'leave']).default('join'),
  words: z.string().max(100).default(''),
  phone: z.string().max(60).default(''),
  firstName: z.string().trim().max(80).default(''),
  lastName: z.string().trim().max(80).default(''),
  email: z.string().trim().max(200).default(''),
  purposes: z
    .union([z.string(), z.array(z.string())])
    .default([])
    .transform((p) => (typeof p === 'string' ? [p] : p)),
});

/** What a person opens who never signs in: an opt-in page, drawn here so that it works without a script. */
export function openPageRoutes(router: Router, p: Platform, faces: PublicPages): void {
  const script = (name: string): Promise<string> => readFile(path.join(p.config.openPagesDir, `${name}.js`), 'utf8');

  router.get(SCRIPT, async (ctx) => {
    ctx.type = 'js';
    ctx.set('cache-control', 'public, max-age=3600');
    ctx.body = await script('opt-in');
  });

  router.get('/join/:slug/form.js', async (ctx) => {
    const slug = String(ctx.params['slug']);
    ctx.type = 'js';
    ctx.set('cache-control', 'public, max-age=300');
    // Another site loads it, which is what it is for.
    ctx.set('cross-origin-resource-policy', 'cross-origin');
    const onSite = await faces.onSite(slug).catch(orNone);
    if (!onSite) {
      ctx.body = '// This page is shown on no other site.\n';
      return;
    }
    const { title, language } = await faces.publicPage(slug);
    const { sites: _, ...how } = onSite;
    const written = {
      slug,
      title,
      close: PAGE_WORDS[language].close,
      ...how,
    };
    ctx.body = `{const ON_SITE=${JSON.stringify(written)};\n${await script('on-site')}}\n`;
  });

  router.get('/join/:slug/picture/:digest', async (ctx) => {
    const picture = await faces.picture(String(ctx.params['slug'])).catch(orNone);
    if (!picture) {
      ctx.status = 404;
      return;
    }
    ctx.type = picture.type;
    ctx.set('cache-control', 'public, max-age=86400');
    ctx.body = picture.bytes;
  });

  router.get('/join/:slug', (ctx) =>
    answering(ctx, faces, async (page, framed) => {
      ctx.body = optInPage(page, live(ctx, page, framed));
    }),
  );

  router.post('/join/:slug', (ctx) =>
    answering(ctx, faces, async (page, framed, site) => {
      const sent = Sent.safeParse(ctx.request.body ?? {});
      const form = sent.success ? sent.data : Sent.parse({});
      const from: CameFrom = { ip: ctx.ip, agent: ctx.get('user-agent'), ...(site ? { site } : {}) };
      const shown = live(ctx, page, framed);
      try {
        if (!sent.success) throw new Problem(422, 'invalid', PAGE_WORDS[page.language].toMend);
        if (form.wish === 'leave') {
          ctx.body = afterOptInPage(
            page,
            { what: 'left', ...(await faces.optOut(page.slug, form.phone, from)) },
            shown,
          );
          return;
        }
        const kinds = page.purposes.map((x) => x.purpose).filter((x) => form.purposes.includes(x));
        const asked = await faces.optIn(page.slug, { ...form, purposes: kinds }, from);
        ctx.body = afterOptInPage(page, { what: 'asked', ...asked }, shown);
      } catch (error) {
        if (!(error instanceof Problem) || error.status >= 500) throw error;
        ctx.status = error.status;
        const now = await faces.publicPage(page.slug);
        ctx.body = optInPage(now, live(ctx, now, framed, filledIn(form, error)));
      }
    }),
  );
}

/** Everything stays as it was filled in; words that have changed are chosen anew, having been read. */
function filledIn(form: z.output<typeof Sent>, { code, fields, message }: Problem): PageFilled {
  const values = Object.fromEntries((['phone', ...PAGE_FIELDS] as const).map((f) => [f, form[f]]));
  return {
    values,
    purposes: code === 'words-changed' ? [] : form.purposes,
    faults: fields,
    problem: fields.length === 0 ? message : '',
  };
}

function live(ctx: Context, page: PublicPage, framed: boolean, filled?: PageFilled): PageShown {
  const nonce = String(ctx.state['nonce']);
  const action = `/join/${page.slug}${framed ? ctx.search : ''}`;
  return { as: 'live', action, words: page.words, nonce, script: SCRIPT, framed, ...(filled ? { filled } : {}) };
}

/** Reads the page that is meant, and says in words where there is none. A site that may show it can; no other. */
async function answering(
  ctx: Context,
  faces: PublicPages,
  answer: (page: PublicPage, framed: boolean, site: string) => Promise<void>,
): Promise<void> {
  ctx.type = 'html';
  ctx.set('cache-control', 'no-store');
  const slug = String((ctx as Context & { params: Record<string, string> }).params['slug']);
  const page = await faces.publicPage(slug).catch(orNone);
  if (!page) {
    ctx.status = 404;
    const t = PAGE_WORDS.en;
    const said = { language: 'en', title: t.notHere, text: t.notHereWhy } as const;
    ctx.body = saysOnly(said, PAGE_COLOURS, String(ctx.state['nonce']));
    return;
  }
  const sites = await faces.sitesOf(slug);
  const framed = ctx.query['in'] === 'frame' && sites.length > 0;
  if (framed) {
    // The policy for everything of ours says that nobody may frame it.
    ctx.remove('x-frame-options');
    const policy = ctx.response.get('content-security-policy');
    ctx.set('content-security-policy', policy.replace(/frame-ancestors [^;]*/, `frame-ancestors ${sites.join(' ')}`));
  }
  await answer(page, framed, framed ? siteOf(ctx.query['at'], sites) : '');
}

/** The page of a site that says it shows the form; empty where it is none of those that may. */
function siteOf(at: string | string[] | undefined, sites: readonly string[]): string {
  const said = typeof at === 'string' ? at.slice(0, 300) : '';
  return sites.some((s) => said === s || said.startsWith(`${s}/`)) ? said : '';
}

function orNone(error: unknown): null {
  if (error instanceof Problem && error.status === 404) return null;
  throw error as Error;
}
