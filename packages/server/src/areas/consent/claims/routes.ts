import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Claims } from './claims.js';

/** Claims without proof, by the lots they came in. */
export function claimRoutes(router: Router, claims: Claims): void {
  serve(router, api.listClaims, ({ params }) => claims.read(params.businessId));
  serve(router, api.listClaimed, ({ params, query }) =>
    claims.people(params.businessId, params.id, query.cursor, query.limit),
  );
}
