import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { clientAddress } from '../../../platform/http/client-address.js';
import { serve } from '../../../platform/http/route.js';
import { codeAsPng, codeAsSvg } from './page-code.js';
import type { Pages } from './pages.js';
import type { PublicPages } from './public-pages.js';

export function pageRoutes(router: Router, pages: Pages, faces: PublicPages): void {
  serve(router, api.listPages, async ({ params }) => ({ items: await pages.list(params.businessId) }));
  serve(router, api.addPage, ({ params, body, person }) => pages.add(person, params.businessId, body));
  serve(router, api.editPage, ({ params, body, person, seenVersion }) =>
    pages.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.keepPagePicture, ({ params, body, person }) =>
    pages.keepPicture(person, params.businessId, params.id, body.name, Buffer.from(body.base64, 'base64')),
  );
  serve(router, api.dropPagePicture, ({ params, person }) => pages.dropPicture(person, params.businessId, params.id));
  serve(router, api.pageCode, async ({ params, query, ctx }) => {
    const { slug, address } = await pages.address(params.businessId, params.id);
    ctx.attachment(`${slug}.${query.as}`);
    ctx.type = query.as === 'svg' ? 'image/svg+xml' : 'image/png';
    ctx.body = query.as === 'svg' ? await codeAsSvg(address) : await codeAsPng(address);
    return '';
  });
  serve(router, api.pagePaper, async ({ params, query, ctx }) => {
    const { name, bytes } = await pages.paper(params.businessId, params.id, query.sheets);
    ctx.attachment(name);
    ctx.type = 'application/pdf';
    ctx.body = bytes;
    return '';
  });
  serve(router, api.getPublicPage, ({ params }) => faces.publicPage(params.slug));
  serve(router, api.optIn, ({ params, body, ctx }) =>
    faces.optIn(params.slug, body, { ip: ctx.ip, agent: ctx.get('user-agent') }),
  );
  serve(router, api.optOut, ({ params, body, ctx }) =>
    faces.optOut(params.slug, body.phone, { ip: ctx.ip, agent: ctx.get('user-agent') }),
  );
  serve(router, api.lookAtPage, async ({ params, body, ctx }) => ({
    counted: await faces.look(params.slug, body.step, clientAddress(ctx)),
  }));
}
