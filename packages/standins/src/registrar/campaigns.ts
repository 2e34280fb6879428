import { CampaignFiling } from '@long-gate/gateways';
import { z } from 'zod';
import { DAY, HOUR, type Outside } from '../outside/outside.js';
import type { Desk } from './desk.js';
import { campaignReasons, liftsSuspension } from './reviewer.js';

/** Reviews campaigns, renews them each year, and suspends what too many people stop. */
export function addCampaigns(desk: Desk): void {
  const { outside } = desk;
  const { store } = outside;

  desk.accept(
    '/registrar/campaigns',
    z.object({ key: z.string(), filing: CampaignFiling }),
    'campaign',
    [2 * DAY, 5 * DAY],
    'campaign',
  );
  outside.onDue<{ key: string; filing: CampaignFiling }>('campaign', async (b, at) => {
    const reasons = campaignReasons(b.filing);
    if (reasons.length > 0) return store.tell({ at, kind: 'campaign.declined', key: b.key, reasons });
    return store.tell({ at, kind: 'campaign.registered', key: b.key });
  });

  const about = { key: z.string(), campaignKey: z.string() };
  desk.accept('/registrar/renewals', z.object(about), 'campaign.renew', [HOUR, 5 * HOUR]);
  outside.onDue<{ campaignKey: string }>('campaign.renew', ({ campaignKey }, at) =>
    store.tell({ at, kind: 'campaign.renewed', key: campaignKey }),
  );

  desk.accept('/registrar/answers', z.object({ ...about, text: z.string() }), 'campaign.answer', [DAY, 2 * DAY]);
  outside.onDue<{ campaignKey: string; text: string }>('campaign.answer', async ({ campaignKey, text }, at) => {
    if (!liftsSuspension(text))
      return store.tell({
        at,
        kind: 'campaign.suspended',
        key: campaignKey,
        reasons: [
          {
            field: '',
            code: 'answer-insufficient',
            message: 'The answer does not say what was changed so that it does not happen again.',
          },
        ],
      });
    await store.run('DELETE FROM suspended WHERE campaign = $1', [campaignOf(campaignKey)]);
    await store.tell({ at, kind: 'campaign.reinstated', key: campaignKey });
  });
}

/** A campaign's key without its try: a number that was tied earlier names an earlier one. */
export const campaignOf = (campaignKey: string): string => campaignKey.split(':')[0] ?? '';

const STOP = /^\W*(?:stop|stopall|unsubscribe|cancel|end|quit|revoke|opt ?out)\W*$/i;
/** So many people of a campaign stop within a day (`suspendAfter`), and at least this share of those it reached: it is suspended. */
const SHARE = 0.05;

/** Counts a STOP against the campaign of the number it was sent to; runs inside the write that carries the text. */
export async function overseeStops(outside: Outside, to: string, text: string, at: number): Promise<void> {
  if (outside.suspendAfter === 0 || !STOP.test(text)) return;
  const { store } = outside;
  const tied = await store.one<{ campaign_key: string }>('SELECT campaign_key FROM assigned WHERE e164 = $1', [to]);
  if (!tied) return;
  const campaign = campaignOf(tied.campaign_key);
  if (await store.one('SELECT campaign FROM suspended WHERE campaign = $1', [campaign])) return;
  const since = at - DAY;
  const numbers = await store.all<{ e164: string }>(
    `SELECT e164 FROM assigned WHERE campaign_key = $1 OR campaign_key LIKE $2`,
    [campaign, `${campaign}:%`],
  );
  const list = JSON.stringify(numbers.map((n) => n.e164));
  const stops = await store.all<{ phone: string; text: string }>(
    `SELECT DISTINCT phone, text FROM handset WHERE direction = 'out' AND at > $2 AND peer IN (SELECT value FROM json_each($1))`,
    [list, since],
  );
  const left = new Set(stops.filter((s) => STOP.test(s.text)).map((s) => s.phone)).size;
  if (left < outside.suspendAfter) return;
  const reached = await store.one<{ n: number }>(
    'SELECT count(DISTINCT recipient) AS n FROM text WHERE at > $2 AND sender IN (SELECT value FROM json_each($1))',
    [list, since],
  );
  if (left < SHARE * Math.max(1, reached?.n ?? 0)) return;
  await store.run('INSERT INTO suspended (campaign, at) VALUES ($1, $2)', [campaign, Math.round(at)]);
  await store.tell({
    at,
    kind: 'campaign.suspended',
    key: tied.campaign_key,
    reasons: [
      {
        field: '',
        code: 'stops-too-many',
        message: `${left} people of the ${Math.max(left, reached?.n ?? 0)} it reached in a day asked for no more texts.`,
      },
    ],
  });
}
