import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { OptOutLists } from './opt-out-lists.js';

/** Lists of people who had opted out before: at a carrier, at an earlier provider, or as the business's records say. */
export function optOutRoutes(router: Router, lists: OptOutLists): void {
  serve(router, api.listOptOuts, ({ params, query }) => lists.list(params.businessId, query));
  serve(router, api.bringOptOuts, ({ params, body, person, key }) => lists.bring(person, params.businessId, body, key));
  serve(router, api.readOptOuts, async ({ params, person, ctx }) => {
    const file = await lists.document(person, params.businessId, params.id);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
    return '';
  });
}
