import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Relationships } from './relationships.js';

/** Purchases and inquiries on record, which except their numbers from registries for a time. */
export function relationshipRoutes(router: Router, relationships: Relationships): void {
  serve(router, api.listRelationships, ({ params, query }) => relationships.page(params.businessId, query));
  serve(router, api.exportRelationships, ({ params, query, ctx }) => {
    ctx.attachment('purchases-and-inquiries.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(relationships.file(params.businessId, query));
    return Promise.resolve('');
  });
  serve(router, api.recordRelationship, ({ params, body, person }) =>
    relationships.record(person, params.businessId, body),
  );
  serve(router, api.takeRelationships, ({ params, body, person }) =>
    relationships.take(person, params.businessId, body),
  );
  serve(router, api.withdrawRelationship, async ({ params, body, person }) => {
    await relationships.withdraw(person, params.businessId, params.id, body.why);
    return api.DONE;
  });
}
