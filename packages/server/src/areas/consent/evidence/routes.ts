import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import type { Platform } from '../../../platform/platform.js';
import { serve } from '../../../platform/http/route.js';
import { notFound } from '../../../platform/problem.js';
import type { EvidencePacks } from './evidence-packs.js';
import type { EvidenceRequests } from './evidence-requests.js';
import { pagesByDigest, versionsOf } from '../pages/page-version-store.js';

/** Who asks for proof of consent, the packs that answer them, and pages as they were. */
export function evidenceRoutes(router: Router, p: Platform, requests: EvidenceRequests, packs: EvidencePacks): void {
  serve(router, api.listEvidence, ({ params, query }) => requests.list(params.businessId, query));
  serve(router, api.reviewEvidence, ({ params, body }) => requests.review(params.businessId, body.numbers));
  serve(router, api.askEvidence, ({ params, body, person, key }) => requests.ask(person, params.businessId, body, key));
  serve(router, api.makePack, ({ params, person, key }) => requests.again(person, params.businessId, params.id, key));
  serve(router, api.answerEvidence, ({ params, body, person, seenVersion }) =>
    requests.answer(person, params.businessId, params.id, seenVersion, body.answer),
  );
  serve(router, api.readPack, async ({ params, person, ctx }) => {
    const { name, bytes } = await packs.fetch(person, params.businessId, params.id);
    ctx.attachment(name);
    ctx.type = 'application/zip';
    ctx.body = bytes;
    return '';
  });
  serve(router, api.listPageVersions, async ({ params }) => ({
    items: (await versionsOf(p.db, params.businessId, params.id)).map((v) => ({
      sha256: v.sha256,
      pageVersion: v.pageVersion,
      title: v.title,
      firstAt: v.firstAt,
    })),
  }));
  serve(router, api.readPageVersion, async ({ params, ctx }) => {
    const [page] = await pagesByDigest(p.db, params.businessId, [params.sha256]);
    if (!page) throw notFound('page');
    // Fetched rather than shown: what somebody wrote on a page never runs beside the application.
    ctx.attachment(`page-${page.sha256.slice(0, 12)}.html`);
    ctx.type = 'text/html; charset=utf-8';
    ctx.body = page.html;
    return '';
  });
}
