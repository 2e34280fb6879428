import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { Dispatches } from './dispatches.js';

export function dispatchRoutes(router: Router, dispatches: Dispatches): void {
  // The fixed addresses come before `/:id`.
  serve(router, api.previewDispatch, ({ params, body }) => dispatches.preview(params.businessId, body));
  serve(router, api.previewPeople, ({ params, body }) =>
    dispatches.people(params.businessId, body.dispatch, body.post, body.result, body.limit),
  );
  serve(router, api.listDispatches, ({ params, query }) =>
    dispatches.page(params.businessId, query.cursor, query.limit),
  );
  serve(router, api.addDispatch, ({ params, body, person }) => dispatches.add(person, params.businessId, body));
  serve(router, api.getDispatch, ({ params }) => dispatches.get(params.businessId, params.id));
  serve(router, api.saveDispatch, ({ params, body, person, seenVersion }) =>
    dispatches.save(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.deleteDraft, async ({ params, person }) => {
    await dispatches.remove(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.sendTest, ({ params, person, key, ctx }) =>
    dispatches.test(person, String(ctx.state['mobile'] ?? ''), params.businessId, params.id, key),
  );
  serve(router, api.sendDispatch, ({ params, person, seenVersion }) =>
    dispatches.send(person, params.businessId, params.id, seenVersion),
  );
  serve(router, api.cancelDispatch, ({ params, person }) => dispatches.cancel(person, params.businessId, params.id));
  serve(router, api.listMessages, ({ params, query }) =>
    dispatches.messages(params.businessId, params.id, query.state, query.cursor, query.limit),
  );
}
