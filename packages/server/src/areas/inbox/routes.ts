import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { Inbox } from './inbox.js';

export function inboxRoutes(router: Router, inbox: Inbox): void {
  serve(router, api.listThreads, ({ params, query }) =>
    inbox.threads(params.businessId, query.standing, query.cursor, query.limit),
  );
  serve(router, api.getThread, ({ params }) => inbox.thread(params.businessId, params.e164));
  serve(router, api.markRead, ({ params, body, person }) =>
    inbox.markRead(person, params.businessId, params.e164, body.read),
  );
  serve(router, api.setWaiting, ({ params, body, person }) =>
    inbox.setWaiting(person, params.businessId, params.e164, body.waits),
  );
  serve(router, api.answerThread, ({ params, body, person, key }) =>
    inbox.answer(person, params.businessId, params.e164, body.text, key),
  );
}
