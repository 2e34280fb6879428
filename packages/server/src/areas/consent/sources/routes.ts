import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Sources } from './sources.js';

/** Ways in compared, and who refuses. */
export function sourceRoutes(router: Router, sources: Sources): void {
  serve(router, api.readSources, ({ params, query }) => sources.read(params.businessId, query.purpose, query.weeks));
  serve(router, api.listSourcePeople, ({ params, query: { cursor, limit, ...which } }) =>
    sources.people(params.businessId, which, cursor, limit),
  );
}
