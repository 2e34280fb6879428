import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import { serve } from '../../platform/http/route.js';
import { refused } from '../../platform/problem.js';
import type { Coverage } from './coverage.js';
import type { EventBases } from './ledger/event-basis.js';
import type { FiledForms } from './filed-forms.js';
import type { Ledger } from './ledger/ledger.js';
import type { LedgerPages } from './ledger/ledger-pages.js';
import type { Reassigned } from './reassigned.js';
import type { Replies } from './replies.js';
import type { Reviews } from './reviews.js';

export function consentRoutes(
  router: Router,
  {
    ledger,
    ledgerPages,
    bases,
    coverage,
    replies,
    reviews,
    forms,
    reassigned,
  }: {
    ledger: Ledger;
    ledgerPages: LedgerPages;
    bases: EventBases;
    coverage: Coverage;
    replies: Replies;
    reviews: Reviews;
    forms: FiledForms;
    reassigned: Reassigned;
  },
): void {
  serve(router, api.estimateReassigned, ({ params, body }) => reassigned.estimate(params.businessId, body));
  serve(router, api.startReassigned, ({ params, body, person, key }) =>
    reassigned.start(person, params.businessId, body, key),
  );
  serve(router, api.listReassigned, ({ params, query }) => reassigned.answers(params.businessId, query.e164));
  serve(router, api.listLedger, ({ params, query }) => ledgerPages.page(params.businessId, query));
  serve(router, api.readEventBasis, ({ params }) => bases.read(params.businessId, params.id));
  serve(router, api.readEventDocument, async ({ params, person, ctx }) => {
    const file = await bases.document(person, params.businessId, params.id);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
    return '';
  });
  serve(router, api.countLedger, ({ params, query }) => ledgerPages.count(params.businessId, query));
  serve(router, api.exportLedgerEvents, ({ params, query, ctx }) => {
    ctx.attachment('consent events.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(ledgerPages.csv(params.businessId, query));
    return Promise.resolve('');
  });
  serve(router, api.ledgerWords, ({ params }) => ledgerPages.words(params.businessId));
  serve(router, api.readCoverage, async ({ params }) => ({ items: await coverage.read(params.businessId) }));
  serve(router, api.listCovered, ({ params, query: { cursor, limit, ...of } }) =>
    coverage.people(params.businessId, of, cursor, limit),
  );
  serve(router, api.exportLedger, async ({ params, ctx }) => {
    // What goes out can be held against what was signed that day.
    await ledger.signHeads(params.businessId);
    ctx.attachment('ledger.jsonl');
    ctx.type = 'application/x-ndjson; charset=utf-8';
    ctx.body = ledger.export(params.businessId);
    return '';
  });
  serve(router, api.exportHeads, async ({ params, ctx }) => {
    await ledger.signHeads(params.businessId);
    ctx.attachment('ledger-heads.json');
    return ledger.signedHeads(params.businessId);
  });
  serve(router, api.verifyLedgerNow, async ({ params }) => {
    const { verdict: v, ...projection } = await ledger.rebuild(params.businessId, false);
    return v.ok
      ? {
          ok: projection.ok,
          count: v.count,
          head: v.head,
          brokenAt: null,
          message: `${v.count.toLocaleString('en-US')} events follow one another unbroken.`,
          projection,
        }
      : { ok: false, count: v.brokenAt - 1, head: '', brokenAt: v.brokenAt, message: v.message, projection };
  });
  serve(router, api.recordWish, async ({ params, body, person }) => {
    const phone = parsePhone(body.e164, { defaultRegion: 'US', allowFictional: true });
    if (!phone.ok)
      throw refused(PHONE_REFUSALS[phone.reason], [{ field: 'e164', message: PHONE_REFUSALS[phone.reason] }]);
    await replies.recordWish(person, params.businessId, { ...body, e164: phone.e164 });
    const [event] = (await ledgerPages.page(params.businessId, { e164: phone.e164, limit: 1 })).items;
    if (!event) throw refused('Nothing was recorded.');
    return event;
  });
  serve(router, api.listForms, ({ params, query }) => forms.list(params.businessId, query));
  serve(router, api.reviewFormFor, ({ params, body }) => forms.review(params.businessId, body.whom, body.form));
  serve(router, api.fileForm, ({ params, body: { base64, ...form }, person, key }) =>
    forms.file(person, params.businessId, { ...form, bytes: Buffer.from(base64, 'base64') }, key),
  );
  serve(router, api.readForm, async ({ params, person, ctx }) => {
    const file = await forms.document(person, params.businessId, params.id);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
    return '';
  });
  serve(router, api.listReviews, ({ params }) => reviews.list(params.businessId));
  serve(router, api.decideReview, async ({ params, body, person }) => {
    await replies.decide(person, params.businessId, params.id, body.readAs);
    return api.DONE;
  });
}
