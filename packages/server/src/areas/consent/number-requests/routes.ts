import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { afterNumberPage, numberPage, PERSONAL_WORDS } from '@long-gate/core';
import { z } from 'zod';
import { serve } from '../../../platform/http/route.js';
import { Problem } from '../../../platform/problem.js';
import { answeringLink, filledIn, nonceOf, TickedKinds } from '../link-pages.js';
import type { NumberRequests } from './number-requests.js';

/** Asking people for a better number. */
export function numberRequestRoutes(router: Router, requests: NumberRequests): void {
  serve(router, api.previewNumberRequest, ({ params, body }) => requests.preview(params.businessId, body));
  serve(router, api.startNumberRequests, ({ params, body, person, key }) =>
    requests.start(person, params.businessId, body, key),
  );
  serve(router, api.listNumberRequests, ({ params, query }) =>
    requests.list(params.businessId, query.cursor, query.limit),
  );
}

/** The form as a browser sends it. */
const Sent = z.object({
  words: z.string().max(100).default(''),
  phone: z.string().max(60).default(''),
  purposes: TickedKinds,
});

/** The page on which somebody gives a better number, behind their own link. */
export function numberPageRoutes(router: Router, requests: NumberRequests): void {
  router.get('/better-number/:token', (ctx) =>
    answeringLink(ctx, async (token) => {
      const { page, words } = await requests.read(token);
      ctx.body = numberPage(page, { as: 'live', action: ctx.path, words, nonce: nonceOf(ctx) });
    }),
  );
  router.post('/better-number/:token', (ctx) =>
    answeringLink(ctx, async (token) => {
      const sent = Sent.safeParse(ctx.request.body ?? {});
      const form = sent.data ?? { words: '', phone: '', purposes: [] };
      try {
        if (!sent.success) throw new Problem(422, 'invalid', PERSONAL_WORDS.en.nothing);
        const asked = await requests.answer(token, form, { ip: ctx.ip, agent: ctx.get('user-agent') });
        ctx.body = afterNumberPage((await requests.read(token)).page, asked, nonceOf(ctx));
      } catch (error) {
        if (!(error instanceof Problem) || error.code === 'link-over') throw error;
        ctx.status = error.status;
        const { page, words } = await requests.read(token);
        const filled = filledIn(form, error);
        ctx.body = numberPage(page, { as: 'live', action: ctx.path, words, nonce: nonceOf(ctx), filled });
      }
    }),
  );
}
