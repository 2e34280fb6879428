import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Keywords } from './keywords.js';

export function keywordRoutes(router: Router, keywords: Keywords): void {
  serve(router, api.listKeywords, async ({ params }) => ({ items: await keywords.list(params.businessId) }));
  serve(router, api.addKeyword, ({ params, body, person }) => keywords.add(person, params.businessId, body));
  serve(router, api.editKeyword, ({ params, body, person, seenVersion }) =>
    keywords.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.addCodes, ({ params, body, person }) =>
    keywords.addCodes(person, params.businessId, params.id, body.codes),
  );
  serve(router, api.dropCodes, ({ params, person }) => keywords.dropCodes(person, params.businessId, params.id));
  serve(router, api.keepKeywordPicture, ({ params, body, person }) =>
    keywords.keepPicture(person, params.businessId, params.id, body.name, Buffer.from(body.base64, 'base64')),
  );
  serve(router, api.readKeywordPicture, async ({ params, ctx }) => {
    const file = await keywords.picture(params.businessId, params.id);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
    return '';
  });
}
