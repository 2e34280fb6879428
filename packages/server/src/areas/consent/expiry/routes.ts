import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Expiry } from './expiry.js';

/** When consent ends that nobody stood by, and whose does next. */
export function expiryRoutes(router: Router, expiry: Expiry): void {
  serve(router, api.readExpiry, ({ params }) => expiry.read(params.businessId));
  serve(router, api.previewExpiry, ({ params, body }) => expiry.preview(params.businessId, body));
  serve(router, api.saveExpiry, ({ params, body, person, seenVersion }) =>
    expiry.save(person, params.businessId, seenVersion, body),
  );
  serve(router, api.listExpiring, ({ params, query: { asked, cursor, limit } }) =>
    expiry.people(params.businessId, asked, cursor, limit),
  );
  serve(router, api.expiringFile, ({ params, query, ctx }) => {
    ctx.attachment('consent that ends.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(expiry.file(params.businessId, query.asked));
    return Promise.resolve('');
  });
}
