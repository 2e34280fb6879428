import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { Watch } from './watch.js';

export function watchRoutes(router: Router, watch: Watch): void {
  serve(router, api.getCarried, ({ params, query }) => watch.carried(params.businessId, query.days));
  serve(router, api.getWatch, async ({ params, query }) => ({
    numbers: await watch.numbers(params.businessId, query.days),
    reasons: await watch.reasons(params.businessId, query.days, query.numberId),
    carriers: await watch.carriers(params.businessId, query.days, query.numberId),
    days: await watch.days(params.businessId, query.days, query.numberId),
  }));
}
