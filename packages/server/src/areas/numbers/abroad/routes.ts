import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Countries } from './countries.js';
import type { SenderIds } from './sender-ids.js';

export function abroadRoutes(router: Router, countries: Countries, senderIds: SenderIds): void {
  serve(router, api.listCountries, async ({ params }) => ({ items: await countries.list(params.businessId) }));
  serve(router, api.openCountry, async ({ params, person }) => {
    await countries.open(person, params.businessId, params.code);
    return countries.get(params.businessId, params.code);
  });
  serve(router, api.closeCountry, async ({ params, person }) => {
    await countries.close(person, params.businessId, params.code);
    return countries.get(params.businessId, params.code);
  });
  serve(router, api.listSenderIds, async ({ params }) => ({ items: await senderIds.list(params.businessId) }));
  serve(router, api.addSenderId, ({ params, body, person }) =>
    senderIds.add(person, params.businessId, body.text, body.signature),
  );
  serve(router, api.saveSenderId, async ({ params, body, person, seenVersion }) => {
    await senderIds.save(person, params.businessId, params.id, seenVersion, body);
    return senderIds.get(params.businessId, params.id);
  });
  serve(router, api.useSenderIdIn, async ({ params, person }) => {
    await senderIds.useIn(person, params.businessId, params.id, params.code);
    return senderIds.get(params.businessId, params.id);
  });
  serve(router, api.dropSenderId, async ({ params, person }) => {
    await senderIds.drop(person, params.businessId, params.id);
    return api.DONE;
  });
}
