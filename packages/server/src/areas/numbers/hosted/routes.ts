import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Hosted } from './hosted.js';

export function hostedRoutes(router: Router, hosted: Hosted): void {
  serve(router, api.listHosted, async ({ params }) => ({ items: await hosted.list(params.businessId) }));
  serve(router, api.beginHosted, ({ params, body, person, key }) =>
    hosted.begin(person, params.businessId, body.number, key),
  );
  serve(router, api.saveHosted, async ({ params, body, person, seenVersion }) => {
    await hosted.save(person, params.businessId, params.id, seenVersion, body);
    return hosted.get(params.businessId, params.id);
  });
  serve(router, api.hostedLink, ({ params, person }) => hosted.makeLink(person, params.businessId, params.id));
  serve(router, api.callHosted, async ({ params, person, key }) => {
    await hosted.call(person, params.businessId, params.id, key);
    return hosted.get(params.businessId, params.id);
  });
  serve(router, api.confirmHosted, async ({ params, body, person }) => {
    await hosted.confirm(person, params.businessId, params.id, body.code);
    return hosted.get(params.businessId, params.id);
  });
  serve(router, api.submitHosted, async ({ params, person, key }) => {
    await hosted.submit(person, params.businessId, params.id, key);
    return hosted.get(params.businessId, params.id);
  });
  serve(router, api.endHosted, async ({ params, person }) => {
    await hosted.end(person, params.businessId, params.id);
    return hosted.get(params.businessId, params.id);
  });
}
