import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { afterPersonalPage, personalPage, PERSONAL_WISHES, PERSONAL_WORDS, unsubscribePage } from '@long-gate/core';
import { z } from 'zod';
import { serve } from '../../../platform/http/route.js';
import { Problem } from '../../../platform/problem.js';
import { answeringLink, filledIn, nonceOf, TickedKinds } from '../link-pages.js';
import type { OptInInvitations } from './invitations.js';
import type { PersonalPages } from './personal-pages.js';

export function invitationRoutes(router: Router, invitations: OptInInvitations): void {
  serve(router, api.listInvitations, async ({ params }) => ({ items: await invitations.list(params.businessId) }));
  serve(router, api.addInvitation, ({ params, body, person }) => invitations.add(person, params.businessId, body));
  serve(router, api.editInvitation, ({ params, body, person, seenVersion }) =>
    invitations.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.previewInvitation, ({ params, body }) => invitations.preview(params.businessId, body));
  serve(router, api.sendInvitation, ({ params, body, person, key }) =>
    invitations.send(person, params.businessId, params.id, body, key),
  );
  serve(router, api.listInvited, ({ params, query }) =>
    invitations.people(params.businessId, params.id, query.cursor, query.limit),
  );
  serve(router, api.withdrawInvited, ({ params, body, person }) =>
    invitations.withdraw(person, params.businessId, params.id, body.linkId),
  );
}

/** The form as a browser sends it. */
const Sent = z.object({
  wish: z.enum(PERSONAL_WISHES),
  words: z.string().max(100).default(''),
  phone: z.string().max(60).default(''),
  purposes: TickedKinds,
});

/** The page of one person behind their link, and the one that ends letters; both work without a script. */
export function personalPageRoutes(router: Router, pages: PersonalPages): void {
  router.get('/my-texts/:token', (ctx) =>
    answeringLink(ctx, async (token) => {
      const { page, words } = await pages.read(token);
      ctx.body = personalPage(page, { action: ctx.path, words, nonce: nonceOf(ctx) });
    }),
  );
  router.post('/my-texts/:token', (ctx) =>
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
        ctx.body = personalPage(page, { action: ctx.path, words, nonce: nonceOf(ctx), filled });
      }
    }),
  );
  // Only a POST ends letters: programs that look through mail open every address in it.
  for (const method of ['get', 'post'] as const)
    router[method]('/my-texts/:token/letters', (ctx) =>
      answeringLink(ctx, async (token) => {
        const page = await pages.letters(token);
        if (method === 'post') await pages.endLetters(token);
        ctx.body = unsubscribePage(page, { action: ctx.path, nonce: nonceOf(ctx), done: method === 'post' });
      }),
    );
}
