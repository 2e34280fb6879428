import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { canonicalEvent, parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Ledger } from './ledger.js';
import type { Pages } from './pages.js';
import type { Replies } from './replies.js';

export function consentRoutes(router: Router, p: Platform, ledger: Ledger, pages: Pages, replies: Replies): void {
  serve(router, api.listLedger, ({ params, query }) => ledger.page(params.businessId, query));
  serve(router, api.exportLedger, ({ params, ctx }) => {
    ctx.attachment('ledger.jsonl');
    ctx.type = 'application/x-ndjson; charset=utf-8';
    async function* lines(): AsyncGenerator<string> {
      for await (const events of ledger.chain(params.businessId))
        for (const e of events)
          yield `${canonicalEvent(e).slice(0, -1)},"prevHash":"${e.prevHash}","hash":"${e.hash}"}\n`;
    }
    ctx.body = Readable.from(lines());
    return Promise.resolve('');
  });
  serve(router, api.verifyLedgerNow, async ({ params }) => {
    const v = await ledger.verify(params.businessId);
    const projection = await ledger.rebuild(params.businessId, false);
    return v.ok
      ? {
          ok: projection.ok,
          count: v.count,
          head: v.head,
          brokenAt: null,
          message: `${v.count.toLocaleString('en-US')} events follow one another unbroken.`,
          projection,
        }
      : { ok: false, count: v.brokenAt - 1, head: '', brokenAt: v.brokenAt, message: v.message, projection };
  });
  serve(router, api.recordWish, async ({ params, body, person }) => {
    const phone = parsePhone(body.e164, { defaultRegion: 'US', allowFictional: true });
    if (!phone.ok)
      throw refused(PHONE_REFUSALS[phone.reason], [{ field: 'e164', message: PHONE_REFUSALS[phone.reason] }]);
    await replies.recordWish(person, params.businessId, { ...body, e164: phone.e164 });
    const [event] = (await ledger.page(params.businessId, { e164: phone.e164, limit: 1 })).items;
    if (!event) throw refused('Nothing was recorded.');
    return event;
  });
  serve(router, api.listPages, async ({ params }) => ({ items: await pages.list(params.businessId) }));
  serve(router, api.addPage, ({ params, body, person }) => pages.add(person, params.businessId, body));
  serve(router, api.editPage, ({ params, body, person, seenVersion }) =>
    pages.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.getPublicPage, ({ params }) => pages.publicPage(params.slug));
  serve(router, api.optIn, ({ params, body, ctx }) =>
    pages.optIn(params.slug, body, { ip: ctx.ip, agent: ctx.get('user-agent') }),
  );
  serve(router, api.listReviews, async ({ params }) => {
    const rows = await p.db.all<{
      id: string;
      e164: string;
      name: string | null;
      text: string;
      reading: string;
      at: number;
    }>(
      `SELECT v.id, v.e164, v.reading, v.at, m.text, trim(c.first_name || ' ' || c.last_name) AS name FROM reply_review v JOIN message m ON m.id = v.message_id
       LEFT JOIN contact_number cn ON cn.business_id = v.business_id AND cn.e164 = v.e164 LEFT JOIN contact c ON c.id = cn.contact_id WHERE v.business_id = $1 AND v.state = 'open' ORDER BY v.at DESC LIMIT 100`,
      [params.businessId],
    );
    return {
      items: rows.map((r) => {
        const reading = JSON.parse(r.reading) as { matched: string; confidence: number; stopped: boolean };
        return { id: r.id, e164: r.e164, contactName: r.name ?? '', text: r.text, at: r.at, ...reading };
      }),
    };
  });
  serve(router, api.decideReview, async ({ params, body, person }) => {
    await replies.decide(person, params.businessId, params.id, body.stop);
    return api.DONE;
  });
}
