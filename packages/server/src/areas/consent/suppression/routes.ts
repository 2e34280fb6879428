import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { SuppressionLists } from './suppression-lists.js';

/** Lists of numbers not to be texted. */
export function suppressionRoutes(router: Router, lists: SuppressionLists): void {
  serve(router, api.listSuppression, async ({ params }) => ({ items: await lists.list(params.businessId) }));
  serve(router, api.addSuppression, ({ params, body, person, key }) => lists.add(person, params.businessId, body, key));
  serve(router, api.renewSuppression, ({ params, body, person, seenVersion }) =>
    lists.renew(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.takeSuppression, ({ params, body }) => lists.take(params.businessId, params.id, body));
  serve(router, api.finishSuppression, ({ params, body, person }) =>
    lists.finish(person, params.businessId, params.id, body),
  );
  serve(router, api.discardSuppression, async ({ params, person }) => {
    await lists.discard(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.dropSuppression, async ({ params, person, seenVersion }) => {
    await lists.drop(person, params.businessId, params.id, seenVersion);
    return api.DONE;
  });
  serve(router, api.listSuppressed, ({ params, query }) =>
    lists.people(params.businessId, params.id, query.cursor, query.limit),
  );
  serve(router, api.exportSuppressed, async ({ params, ctx }) => {
    const file = await lists.file(params.businessId, params.id);
    ctx.attachment('on-the-list.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(file);
    return '';
  });
}
