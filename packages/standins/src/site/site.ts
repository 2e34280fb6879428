import { readFile } from 'node:fs/promises';
import type Router from '@koa/router';
import { z } from 'zod';

const PAGE = new URL('../../pages/site.html', import.meta.url);
const STYLE = new URL('../../pages/site.css', import.meta.url);

/** Which form the page shows, and from where: as the one line in its source names it. */
const Shown = z.object({
  slug: z.string().regex(/^[a-z0-9][a-z0-9-]{2,40}$/),
  app: z
    .url({ protocol: /^https?$/ })
    .refine((url) => new URL(url).origin === url, 'An origin: “http://localhost:4300”.'),
});

/**
 * A business's own site, with one line of ours in each of its pages. Its content policy is as strict as one can be that
 * lets that line in: no script and no frame but of the one host, no style but its own sheet, nothing inline.
 */
export function addSite(router: Router): void {
  router.get('/site.css', async (ctx) => {
    ctx.type = 'css';
    ctx.body = await readFile(STYLE, 'utf8');
  });
  router.get('/site/:slug{/:page}', async (ctx) => {
    const { slug, app } = Shown.parse({ slug: ctx.params['slug'], app: ctx.query['app'] });
    ctx.type = 'html';
    ctx.set(
      'content-security-policy',
      `default-src 'none'; script-src ${app}; frame-src ${app}; style-src 'self'; base-uri 'none'; form-action 'none'`,
    );
    const there = `app=${encodeURIComponent(app)}`;
    ctx.body = (await readFile(PAGE, 'utf8'))
      .replaceAll('%SNIPPET%', `<script src="${app}/join/${slug}/form.js" async></script>`)
      .replaceAll('%HOME%', `/site/${slug}?${there}`)
      .replaceAll('%TICKETS%', `/site/${slug}/tickets?${there}`);
  });
}
