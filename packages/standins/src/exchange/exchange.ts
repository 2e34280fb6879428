import type Router from '@koa/router';
import { allAreaCodes, areaCode, DEFAULT_PRICES, holdsPattern } from '@long-gate/core';
import type { Offer } from '@long-gate/gateways';
import { z } from 'zod';
import { DAY, Refusal, type Outside } from '../outside/outside.js';

/** Area codes that are sold out, so that this can be seen: the whole county's first choice among them. */
const SOLD_OUT = new Set(['201', '212', '415', '310']);
/** In each code the exchange owns only the numbers set aside for fiction, 555-0100 to 0199. */
const LOCALS = Array.from({ length: 100 }, (_, n) => `55501${String(n).padStart(2, '0')}`);
/** The one toll-free number set aside for fiction. */
const TOLL_FREE = '+18005550199';
/** Five digits that begin with 0 are no telephone number and no short code anybody leases. */
const SHORT_CODES = Array.from({ length: 60 }, (_, n) => `0${String(4100 + n * 37)}`);

type Kind = Offer['kind'];

/** Sells numbers from a made-up stock; an order takes a moment, and now and then it fails or someone else was faster. */
export function addExchange(router: Router, outside: Outside): void {
  const { store } = outside;

  function kindOf(e164: string): Kind | null {
    if (e164 === TOLL_FREE) return 'toll-free';
    if (SHORT_CODES.includes(e164) && outside.chance('short', e164) < 0.4) return 'short code';
    const m = /^\+1(\d{3})(55501\d{2})$/.exec(e164);
    const code = m?.[1] ?? '';
    if (!m || SOLD_OUT.has(code) || !areaCode(code)) return null;
    // The same numbers are in stock as ever since: drawn by their last two digits.
    return outside.chance('stock', code, String(Number(e164.slice(-2)))) < 0.18 ? 'local' : null;
  }

  function candidates(kind: Kind, country: string, codes: readonly string[]): string[] {
    if (kind === 'toll-free') return country === 'US' || country === 'CA' ? [TOLL_FREE] : [];
    if (kind === 'short code') return country === 'US' ? SHORT_CODES : [];
    const wanted = codes.length > 0 ? codes : allAreaCodes().map((a) => a.code);
    return wanted.filter((c) => areaCode(c)?.region === country).flatMap((c) => LOCALS.map((n) => `+1${c}${n}`));
  }

  function offer(e164: string, kind: Kind): Offer {
    const voice = kind === 'short code' ? [] : ['voice'];
    return {
      e164,
      kind,
      setup: kind === 'short code' ? 0 : DEFAULT_PRICES.localSetup,
      monthly:
        kind === 'local'
          ? DEFAULT_PRICES.localMonthly
          : kind === 'toll-free'
            ? DEFAULT_PRICES.tollFreeMonthly
            : DEFAULT_PRICES.shortCodeMonthly,
      capabilities:
        outside.chance('mms', e164) < 0.9 ? ['send', 'receive', 'pictures', ...voice] : ['send', 'receive', ...voice],
    };
  }

  /** Numbers nobody has bought or keeps aside. */
  async function taken(): Promise<Set<string>> {
    const rows = await store.all<{ e164: string }>(
      'SELECT e164 FROM sold UNION SELECT e164 FROM held WHERE until > $1',
      [outside.now()],
    );
    return new Set(rows.map((r) => r.e164));
  }

  router.post('/exchange/searches', async (ctx) => {
    const q = z
      .object({
        country: z.string(),
        kind: z.enum(['local', 'toll-free', 'short code']),
        areaCodes: z.array(z.string()).max(60),
        pattern: z.string().regex(/^[\d?]{0,10}$/),
        capabilities: z.array(z.string()),
        limit: z.number().int().min(1).max(100),
      })
      .parse(ctx.request.body);
    const gone = await taken();
    const found: Offer[] = [];
    for (const e164 of candidates(q.kind, q.country, q.areaCodes)) {
      if (found.length >= q.limit) break;
      if (gone.has(e164) || !holdsPattern(e164.replace('+1', ''), q.pattern) || kindOf(e164) !== q.kind) continue;
      const o = offer(e164, q.kind);
      if (q.capabilities.every((c) => o.capabilities.includes(c))) found.push(o);
    }
    ctx.body = found;
  });

  router.get('/exchange/stock', async (ctx) => {
    const q = z.object({ areaCodes: z.string() }).parse(ctx.query);
    const gone = await taken();
    const out: Record<string, number> = {};
    for (const code of q.areaCodes.split(',').filter((c) => /^\d{3}$/.test(c)))
      out[code] = LOCALS.map((n) => `+1${code}${n}`).filter((e) => !gone.has(e) && kindOf(e) === 'local').length;
    ctx.body = out;
  });

  router.post('/exchange/holds', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string(), until: z.number() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!kindOf(b.e164)) throw new Refusal(404, 'no-such-number', 'The exchange does not sell this number.');
      const other = await store.one(
        'SELECT e164 FROM sold WHERE e164 = $1 UNION SELECT e164 FROM held WHERE e164 = $1 AND until > $2 AND key <> $3',
        [b.e164, outside.now(), b.key],
      );
      if (other) throw new Refusal(409, 'taken', 'Somebody else was faster.');
      await store.run(
        'INSERT INTO held (e164, key, until) VALUES ($1, $2, $3) ON CONFLICT (e164) DO UPDATE SET key = $2, until = $3',
        [b.e164, b.key, b.until],
      );
    });
    ctx.body = { accepted: true };
  });

  router.post('/exchange/returns', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'return', outside.now(), b))) return;
      await store.run('DELETE FROM held WHERE e164 = $1', [b.e164]);
      await store.run('DELETE FROM sold WHERE e164 = $1', [b.e164]);
      await store.run('DELETE FROM assigned WHERE e164 = $1', [b.e164]);
    });
    ctx.body = { accepted: true };
  });

  router.post('/exchange/orders', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'order', outside.now(), b))) return;
      const kind = kindOf(b.e164);
      if (!kind) throw new Refusal(404, 'no-such-number', 'The exchange does not sell this number.');
      const gone = (await store.one('SELECT e164 FROM sold WHERE e164 = $1', [b.e164])) !== undefined;
      // Some numbers turn out not to work; which ones stays the same at every start.
      const fails = kind === 'local' && outside.chance('provisioning', b.e164) < 0.05;
      const wait =
        kind === 'short code'
          ? 45 * DAY + outside.chance('order', b.e164) * 30 * DAY
          : 8_000 + outside.chance('order', b.e164) * 20_000;
      await store.run('DELETE FROM held WHERE e164 = $1', [b.e164]);
      if (!gone && !fails) await store.run('INSERT INTO sold (e164, key) VALUES ($1, $2)', [b.e164, b.key]);
      await store.schedule(outside.now() + wait, gone || fails ? 'order.fail' : 'order.fill', {
        ...b,
        reason: gone ? 'Somebody else bought it a moment earlier.' : 'The number could not be put into service.',
      });
    });
    ctx.body = { accepted: true };
  });

  outside.onDue<{ key: string; e164: string }>('order.fill', (b, at) =>
    store.tell({ at, kind: 'order.filled', key: b.key, e164: b.e164 }),
  );
  outside.onDue<{ key: string; e164: string; reason: string }>('order.fail', (b, at) =>
    store.tell({ at, kind: 'order.failed', key: b.key, e164: b.e164, reason: b.reason }),
  );
}
