import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { NumberRequests } from './number-requests.js';

/** Asking people for a better number, and the page on which they give it. */
export function numberRequestRoutes(router: Router, requests: NumberRequests): void {
  serve(router, api.previewNumberRequest, ({ params, body }) => requests.preview(params.businessId, body));
  serve(router, api.startNumberRequests, ({ params, body, person, key }) =>
    requests.start(person, params.businessId, body, key),
  );
  serve(router, api.listNumberRequests, ({ params, query }) =>
    requests.list(params.businessId, query.cursor, query.limit),
  );
  serve(router, api.getNumberRequest, ({ params }) => requests.read(params.token));
  serve(router, api.answerNumberRequest, ({ params, body, ctx }) =>
    requests.answer(params.token, body, { ip: ctx.ip, agent: ctx.get('user-agent') }),
  );
}
