import type Router from '@koa/router';
import { areaCode, DEFAULT_PRICES } from '@long-gate/core';
import { z } from 'zod';
import { Refusal, type Outside } from '../outside/outside.js';

/** Area codes that are sold out, so that this can be seen: the whole county's first choice among them. */
const SOLD_OUT = new Set(['201', '212', '415', '310']);
/** In each code the exchange owns only the numbers set aside for fiction, 555-0100 to 0199. */
const LAST = 99;

/** Sells local numbers from a made-up stock; an order takes a moment, and now and then someone else was faster. */
export function addExchange(router: Router, outside: Outside): void {
  const { store } = outside;

  const inStock = (code: string, n: number): boolean =>
    !SOLD_OUT.has(code) && areaCode(code)?.region === 'US' && outside.chance('stock', code, String(n)) < 0.18;

  async function free(code: string): Promise<string[]> {
    const sold = new Set(
      (await store.all<{ e164: string }>(`SELECT e164 FROM sold WHERE e164 LIKE '+1' || $1 || '%'`, [code])).map(
        (r) => r.e164,
      ),
    );
    const out: string[] = [];
    for (let n = 0; n <= LAST; n++) {
      const e164 = `+1${code}55501${String(n).padStart(2, '0')}`;
      if (inStock(code, n) && !sold.has(e164)) out.push(e164);
    }
    return out;
  }

  router.get('/exchange/numbers', async (ctx) => {
    const q = z
      .object({ areaCode: z.string().regex(/^\d{3}$/), limit: z.coerce.number().int().min(1).max(100) })
      .parse(ctx.query);
    const numbers = await free(q.areaCode);
    ctx.body = numbers.slice(0, q.limit).map((e164) => ({
      e164,
      areaCode: q.areaCode,
      setup: DEFAULT_PRICES.localSetup,
      monthly: DEFAULT_PRICES.localMonthly,
      capabilities:
        outside.chance('mms', e164) < 0.9 ? ['send', 'receive', 'pictures', 'voice'] : ['send', 'receive', 'voice'],
    }));
  });

  router.get('/exchange/stock', async (ctx) => {
    const q = z.object({ areaCodes: z.string() }).parse(ctx.query);
    const out: Record<string, number> = {};
    for (const code of q.areaCodes.split(',').filter((c) => /^\d{3}$/.test(c))) out[code] = (await free(code)).length;
    ctx.body = out;
  });

  router.post('/exchange/orders', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'order', outside.now(), b))) return;
      const taken = await store.one('SELECT e164 FROM sold WHERE e164 = $1', [b.e164]);
      const known = /^\+1(\d{3})55501(\d{2})$/.exec(b.e164);
      if (!known || !inStock(known[1] ?? '', Number(known[2])))
        throw new Refusal(404, 'no-such-number', 'The exchange does not sell this number.');
      if (!taken) await store.run('INSERT INTO sold (e164, key) VALUES ($1, $2)', [b.e164, b.key]);
      await store.schedule(
        outside.now() + 8_000 + outside.chance('order', b.e164) * 20_000,
        taken ? 'order.fail' : 'order.fill',
        b,
      );
    });
    ctx.body = { accepted: true };
  });

  outside.onDue<{ key: string; e164: string }>('order.fill', (b, at) =>
    store.tell({ at, kind: 'order.filled', key: b.key, e164: b.e164 }),
  );
  outside.onDue<{ key: string; e164: string }>('order.fail', (b, at) =>
    store.tell({
      at,
      kind: 'order.failed',
      key: b.key,
      e164: b.e164,
      reason: 'Somebody else bought it a moment earlier.',
    }),
  );
}
