import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { TextLinks } from './text-links.js';

/** Where links in texts stand and lead, and what came of them. */
export function textLinkRoutes(router: Router, links: TextLinks): void {
  serve(router, api.readTextLinks, ({ params }) => links.read(params.businessId));
  serve(router, api.saveTextLinks, ({ params, body, person, seenVersion }) =>
    links.save(person, params.businessId, seenVersion, body),
  );
  serve(router, api.listTextLinks, ({ params, query }) => links.page(params.businessId, query.cursor, query.limit));
  serve(router, api.withdrawTextLinks, ({ params, body, person }) =>
    links.withdraw(person, params.businessId, body.dispatchId),
  );
}
