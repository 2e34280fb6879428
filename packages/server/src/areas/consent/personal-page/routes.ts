import type Router from '@koa/router';
import { afterPersonalPage, personalPage, PERSONAL_WISHES, PERSONAL_WORDS } from '@long-gate/core';
import { z } from 'zod';
import { Problem } from '../../../platform/problem.js';
import { answeringLink, filledIn, nonceOf, TickedKinds } from '../link-pages.js';
import type { PersonalPages } from './personal-pages.js';

/** The form as a browser sends it. */
const Sent = z.object({
  wish: z.enum(PERSONAL_WISHES),
  words: z.string().max(100).default(''),
  phone: z.string().max(60).default(''),
  purposes: TickedKinds,
});

/**
 * The page of one person behind their link; it works without a script.
 * @param at where such links stand: `/my-texts` in letters, `/t` in texts, whose every character is paid for.
 */
export function personalPageRoutes(router: Router, at: '/my-texts' | '/t', pages: PersonalPages): void {
  router.get(`${at}/:token`, (ctx) =>
    answeringLink(ctx, async (token) => {
      const { page, words } = await pages.read(token);
      ctx.body = personalPage(page, { as: 'live', action: ctx.path, words, nonce: nonceOf(ctx) });
    }),
  );
  router.post(`${at}/:token`, (ctx) =>
    answeringLink(ctx, async (token) => {
      const sent = Sent.safeParse(ctx.request.body ?? {});
      const form = sent.data ?? { wish: 'choose' as const, words: '', phone: '', purposes: [] };
      try {
        if (!sent.success) throw new Problem(422, 'invalid', PERSONAL_WORDS.en.nothing);
        const outcome = await pages.choose(token, form, { ip: ctx.ip, agent: ctx.get('user-agent') });
        ctx.body = afterPersonalPage((await pages.read(token)).page, outcome, {
          action: ctx.path,
          nonce: nonceOf(ctx),
        });
      } catch (error) {
        if (!(error instanceof Problem) || error.code === 'link-over') throw error;
        ctx.status = error.status;
        const { page, words } = await pages.read(token);
        const filled = filledIn(form, error);
        ctx.body = personalPage(page, { as: 'live', action: ctx.path, words, nonce: nonceOf(ctx), filled });
      }
    }),
  );
}
