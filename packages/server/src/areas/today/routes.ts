import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { Today } from './today.js';

export function todayRoutes(router: Router, today: Today): void {
  serve(router, api.getToday, ({ params }) => today.get(params.businessId));
  serve(router, api.find, async ({ params, query }) => ({ items: await today.find(params.businessId, query.q) }));
}
