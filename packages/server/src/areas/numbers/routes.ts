import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { areaCode, neighboursOf, parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Numbers } from './numbers.js';
import type { Orders } from './orders.js';
import type { Ties } from './ties.js';

const STATE_NAMES = new Intl.DisplayNames(['en'], { type: 'region' });

export function numbersRoutes(router: Router, p: Platform, numbers: Numbers, orders: Orders, ties: Ties): void {
  serve(router, api.listNumbers, async ({ params }) => ({ items: await numbers.list(p.db, params.businessId) }));
  serve(router, api.getNumber, ({ params }) => numbers.get(p.db, params.businessId, params.id));
  serve(router, api.searchNumbers, async ({ query }) => {
    const area = areaCode(query.areaCode);
    const offers = area ? await p.gateways.exchange.search(query.areaCode, 40) : [];
    const near = offers.length > 0 ? [] : neighboursOf(query.areaCode, 12);
    const stock = near.length > 0 ? await p.gateways.exchange.stock(near.map((n) => n.code)) : {};
    return {
      areaCode: query.areaCode,
      place: area ? [area.state, STATE_NAMES.of(area.region)].filter(Boolean).join(', ') : '',
      offers: offers.map(({ e164, setup, monthly, capabilities }) => ({ e164, setup, monthly, capabilities })),
      neighbours: near
        .map((n) => ({ ...n, count: stock[n.code] ?? 0 }))
        .filter((n) => n.count > 0)
        .slice(0, 6),
    };
  });
  serve(router, api.testForRoute, async ({ query }) => {
    const parsed = parsePhone(query.number, { defaultRegion: 'US', allowFictional: true });
    if (!parsed.ok)
      throw refused(PHONE_REFUSALS[parsed.reason], [{ field: 'number', message: PHONE_REFUSALS[parsed.reason] }]);
    const [port] = await p.gateways.bureau.portability([parsed.e164]);
    const hosting = await p.gateways.hosting.test(parsed.e164);
    return {
      e164: parsed.e164,
      kind: hosting.kind,
      carrier: hosting.voiceCarrier,
      portable: port?.portable ?? false,
      whyNotPortable: port?.whyNot ?? '',
      enabledElsewhere: hosting.enabledElsewhere,
    };
  });
  serve(router, api.orderNumber, ({ params, body, person, key }) =>
    orders.order(person, params.businessId, body.e164, body.label, key),
  );
  serve(router, api.editNumber, ({ params, body, person, seenVersion }) =>
    numbers.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.tieNumber, ({ params, body, person }) =>
    ties.tie(person, params.businessId, params.id, body.campaignId),
  );
}
