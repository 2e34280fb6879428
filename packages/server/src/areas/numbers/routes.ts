import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { parsePhone, PHONE_REFUSALS } from '@long-gate/core';
import { csv, plainAmount } from '../../platform/csv.js';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Numbers } from './numbers.js';
import type { OwnWays } from './own-ways.js';
import type { BasketDesk } from './basket.js';
import type { BulkChanges } from './bulk-changes.js';
import type { Calls } from './call-handling.js';
import type { Cards } from './card/cards.js';
import type { Guard } from './guard.js';
import type { Releases } from './releases.js';
import type { Ties } from './ties.js';

export function numbersRoutes(
  router: Router,
  p: Platform,
  numbers: Numbers,
  basket: BasketDesk,
  ties: Ties,
  releases: Releases,
  guard: Guard,
  calls: Calls,
  bulk: BulkChanges,
  cards: Cards,
  ways: OwnWays,
): void {
  serve(router, api.listNumbers, async ({ params }) => ({ items: await numbers.list(p.db, params.businessId) }));
  serve(router, api.getNumber, ({ params }) => numbers.get(p.db, params.businessId, params.id));
  serve(router, api.searchNumbers, ({ params, query }) => basket.search(params.businessId, query));
  serve(router, api.getBasket, ({ params, person }) => basket.basket(person, params.businessId));
  serve(router, api.putAside, ({ params, body, person }) =>
    basket.put(
      person,
      params.businessId,
      body.e164,
      body.kind,
      body.forwardTo && readNumber(body.forwardTo, 'forwardTo'),
    ),
  );
  serve(router, api.takeOut, ({ params, person }) => basket.takeOut(person, params.businessId, params.e164));
  serve(router, api.setProgramme, ({ params, body, person }) =>
    basket.setProgramme(person, params.businessId, params.e164, body),
  );
  serve(router, api.placeOrder, ({ params, person, key }) => basket.order(person, params.businessId, key));
  serve(router, api.testForRoute, async ({ params, query }) => {
    const e164 = readNumber(query.number, 'number');
    const [port] = await p.gateways.bureau.portability([e164]);
    const hosting = await p.gateways.hosting.test(e164);
    return {
      e164,
      ours: await ways.of(params.businessId, e164),
      kind: hosting.kind,
      carrier: hosting.voiceCarrier,
      portable: port?.portable ?? false,
      whyNotPortable: port?.whyNot ?? '',
      enabledElsewhere: hosting.enabledElsewhere,
    };
  });
  serve(router, api.editNumber, ({ params, body, person, seenVersion }) =>
    numbers.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.tieNumber, ({ params, body, person }) =>
    ties.tie(person, params.businessId, params.id, body.campaignId),
  );
  serve(router, api.bulkNumbers, ({ params, body, person }) => bulk.change(person, params.businessId, body));
  serve(router, api.previewBulkNumbers, ({ params, body }) => bulk.preview(params.businessId, body));
  serve(router, api.undoBulkNumbers, async ({ params, body, person }) => ({
    changed: await bulk.undo(person, params.businessId, body.before),
  }));
  serve(router, api.exportNumbers, async ({ params, query, ctx }) => {
    const all = await numbers.list(p.db, params.businessId);
    const file = inventoryCsv(all.filter((n) => api.isInInventory(n, query)));
    ctx.attachment('numbers.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = file;
    return '';
  });
  serve(router, api.getCallHandling, ({ params }) => calls.get(p.db, params.businessId, params.id));
  serve(router, api.setCallHandling, async ({ params, body, person }) => {
    await calls.set(person, params.businessId, params.id, body);
    return calls.get(p.db, params.businessId, params.id);
  });
  serve(router, api.getGuard, ({ params, person }) => guard.get(person, params.businessId, params.id));
  serve(router, api.changeLock, async ({ params, body, person }) => {
    await guard.change(person, params.businessId, params.id, body.wish);
    return guard.get(person, params.businessId, params.id);
  });
  serve(router, api.seeUnlockMail, ({ params }) => guard.seeMail(params.token));
  serve(router, api.answerUnlockMail, async ({ params, body }) => {
    await guard.answerMail(params.token, body.agree);
    return api.DONE;
  });
  serve(router, api.showReleasePin, async ({ params, person }) => ({
    pin: await guard.pin(person, params.businessId, params.id),
  }));
  serve(router, api.refusePortOut, async ({ params, body, person }) => {
    await guard.refuse(person, params.businessId, params.id, body.key);
    return guard.get(person, params.businessId, params.id);
  });
  serve(router, api.whatReleaseLoses, ({ params }) => releases.preview(params.businessId, params.id));
  serve(router, api.releaseNumber, async ({ params, body, person }) => {
    await releases.release(person, params.businessId, params.id, body.digits);
    return numbers.get(p.db, params.businessId, params.id);
  });
  serve(router, api.takeBackNumber, async ({ params, person }) => {
    await releases.takeBack(person, params.businessId, params.id);
    return numbers.get(p.db, params.businessId, params.id);
  });
  serve(router, api.setDefaultNumber, async ({ params, body, person }) => {
    await numbers.setDefault(person, params.businessId, params.purpose, body.numberId);
    return api.DONE;
  });
  serve(router, api.numberCard, async ({ params, ctx }) => {
    const card = await cards.card(p.db, params.id);
    ctx.attachment('contact-card.vcf');
    ctx.type = 'text/vcard; charset=utf-8';
    ctx.body = card;
    return '';
  });
  serve(router, api.cardPicture, async ({ params, ctx }) => {
    const { type, bytes } = await cards.picture(p.db, params.id);
    ctx.type = type;
    ctx.body = bytes;
    return '';
  });
  serve(router, api.setCardPicture, async ({ params, body, person }) => {
    const file = body.file && { name: body.file.name, bytes: Buffer.from(body.file.base64, 'base64') };
    await cards.setPicture(person, params.businessId, params.id, file);
    return numbers.get(p.db, params.businessId, params.id);
  });
}

/** One number as people write it. @throws Problem 422 at its field. */
function readNumber(raw: string, field: string): string {
  const parsed = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
  if (!parsed.ok) throw refused(PHONE_REFUSALS[parsed.reason], [{ field, message: PHONE_REFUSALS[parsed.reason] }]);
  return parsed.e164;
}

/** The inventory for a spreadsheet; texts that look like formulas are made harmless. */
function inventoryCsv(rows: readonly api.NumberView[]): string {
  return csv(
    [
      'number',
      'label',
      'description',
      'kind',
      'can',
      'came by',
      'state',
      'registration',
      'campaign',
      'throughput',
      'monthly',
      'last used',
      'active since',
    ],
    rows.map((n) => [
      n.e164,
      n.label,
      n.description,
      n.kind,
      n.capabilities.join(' '),
      n.source,
      n.state,
      n.deciding ? n.deciding.why : 'may send',
      n.campaignName ?? '',
      n.throughput,
      plainAmount(n.monthly),
      n.lastUsedAt === null ? '' : new Date(n.lastUsedAt).toISOString(),
      n.activeAt === null ? '' : new Date(n.activeAt).toISOString(),
    ]),
  );
}
