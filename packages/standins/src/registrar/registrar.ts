import type Router from '@koa/router';
import { z } from 'zod';
import { DAY, HOUR, MINUTE, type Outside } from '../outside/outside.js';
import type { FILING_STAGES, FILINGS } from '@long-gate/gateways';
import { addBrands } from './brands.js';
import { addCampaigns, campaignOf } from './campaigns.js';
import { Desk } from './desk.js';
import { addTollFree } from './toll-free.js';

/** Opens accounts, checks brands and reviews campaigns by its own criteria, some days later. */
export function addRegistrar(router: Router, outside: Outside): void {
  const { store } = outside;
  const desk = new Desk(router, outside);
  addBrands(desk);
  addCampaigns(desk);
  addTollFree(desk);
  outside.onDue<{ key: string; what: (typeof FILINGS)[number]; stage: (typeof FILING_STAGES)[number] }>(
    'stage',
    ({ key, what, stage }, at) => store.tell({ at, kind: 'filing.stage', key, what, stage }),
  );

  desk.accept('/registrar/accounts', z.object({ key: z.string(), legalName: z.string() }), 'account', [
    20_000,
    2 * MINUTE,
  ]);
  outside.onDue<{ key: string; legalName: string }>('account', async (b, at) => {
    // Every other account is looked at by a person first, which takes some hours.
    if (outside.chance('account held', b.legalName) < 0.5) {
      await store.schedule(at + 2 * HOUR + outside.chance('account hours', b.key) * 3 * HOUR, 'account.look', b);
      return store.tell({
        at,
        kind: 'account.held',
        key: b.key,
        reason: 'Held for review: somebody at the provider looks at it, which takes some hours.',
      });
    }
    return store.tell({ at, kind: 'account.opened', key: b.key });
  });
  outside.onDue<{ key: string }>('account.look', (b, at) => store.tell({ at, kind: 'account.opened', key: b.key }));

  desk.accept(
    '/registrar/countries',
    z.object({ key: z.string(), code: z.string(), legalName: z.string(), website: z.string() }),
    'country',
    [DAY, 4 * DAY],
  );
  outside.onDue<{ key: string; code: string; website: string }>('country', (b, at) =>
    /^https:/.test(b.website)
      ? store.tell({ at, kind: 'country.admitted', key: b.key })
      : store.tell({ at, kind: 'country.refused', key: b.key, reason: 'The website is not reached over https.' }),
  );

  desk.accept(
    '/registrar/sender-ids',
    z.object({ key: z.string(), text: z.string(), code: z.string(), legalName: z.string(), nameLine: z.string() }),
    'sender',
    [2 * DAY, 6 * DAY],
  );
  outside.onDue<{ key: string; text: string; code: string; legalName: string; nameLine: string }>(
    'sender',
    async (b, at) => {
      // A registry admits what belongs to the business: the text has to begin like a word of its names.
      const start = b.text
        .toLowerCase()
        .replace(/[^a-z]/g, '')
        .slice(0, 4);
      const own = `${b.legalName} ${b.nameLine}`.toLowerCase().split(/[^a-z]+/);
      if (!own.some((word) => word !== '' && (word.startsWith(start) || start.startsWith(word))))
        return store.tell({
          at,
          kind: 'sender.refused',
          key: b.key,
          reason: 'The sender ID does not follow from the name of the business.',
        });
      await store.run('INSERT INTO sender_id (text, code) VALUES ($1, $2) ON CONFLICT DO NOTHING', [b.text, b.code]);
      return store.tell({ at, kind: 'sender.registered', key: b.key });
    },
  );

  router.post('/registrar/assignments', async (ctx) => {
    const body = z
      .object({ key: z.string(), e164: z.string(), campaignKey: z.string(), prepared: z.boolean().default(false) })
      .parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(body.key, 'assignment', outside.now(), body))) return;
      // A number is in one campaign at a time: it is taken out of the one it was in, and sends nothing meanwhile.
      const before = await store.one<{ campaign_key: string }>('SELECT campaign_key FROM assigned WHERE e164 = $1', [
        body.e164,
      ]);
      const moved = before !== undefined && campaignOf(before.campaign_key) !== campaignOf(body.campaignKey);
      if (moved) await store.run('DELETE FROM assigned WHERE e164 = $1', [body.e164]);
      // What was filed ahead of a port only waits for the number to arrive.
      const at = body.prepared
        ? desk.wait('assignment', body.key, 5 * MINUTE, 40 * MINUTE)
        : moved
          ? desk.wait('assignment', body.key, 20 * HOUR, 72 * HOUR)
          : desk.wait('assignment', body.key, HOUR, 20 * HOUR);
      await store.schedule(at, 'assignment', body);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ key: string; e164: string; campaignKey: string }>('assignment', async (b, at) => {
    await store.run(
      'INSERT INTO assigned (e164, campaign_key) VALUES ($1, $2) ON CONFLICT (e164) DO UPDATE SET campaign_key = $2',
      [b.e164, b.campaignKey],
    );
    await store.tell({ at, kind: 'assignment.confirmed', key: b.key, e164: b.e164 });
  });
}
