import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { AsOf } from './as-of.js';

/** Whether a text would have passed on a day. */
export function asOfRoutes(router: Router, asOf: AsOf): void {
  serve(router, api.askAsOf, ({ params, query }) => asOf.ask(params.businessId, query));
}
