import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { Signing } from './signing.js';

export function letterRoutes(router: Router, signing: Signing): void {
  serve(router, api.getLetterToSign, async ({ params }) => {
    const { day, carrier, numbers, paragraphs, ...l } = await signing.letterToSign(params.token);
    return { ...l, numbers: [...numbers], paragraphs: [...paragraphs], losingCarrier: carrier, today: day };
  });
  serve(router, api.signLetter, async ({ params, body, ctx }) => {
    await signing.sign(params.token, {
      name: body.name,
      drawn: body.drawn,
      ip: ctx.ip,
      userAgent: ctx.get('user-agent'),
    });
    return api.DONE;
  });
}
