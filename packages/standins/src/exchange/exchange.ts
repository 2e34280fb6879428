import type Router from '@koa/router';
import { allAreaCodes, areaCode, DEFAULT_PRICES, holdsPattern } from '@long-gate/core';
import { ProgrammeFiling, type Offer } from '@long-gate/gateways';
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

/** What somebody looks for. */
const Wish = z.object({
  country: z.string(),
  kind: z.enum(['local', 'toll-free', 'short code']),
  areaCodes: z.array(z.string().regex(/^\d{3}$/)).max(60),
  pattern: z.string().regex(/^[\d?]{0,10}$/),
  capabilities: z.array(z.string()),
  except: z.array(z.string()).max(1_000_000),
});

/** Lines the made-up world knows to be in service: people's phones, accounts of other carriers, text-enabled lines. */
const IN_USE = `SELECT e164 FROM line WHERE line_type <> 'none' UNION SELECT e164 FROM bureau_record UNION SELECT e164 FROM hosted UNION SELECT phone FROM handset`;

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

  /** Numbers that are not for sale: bought, kept aside, or in use somewhere, as far as the made-up world knows. */
  async function taken(): Promise<Set<string>> {
    const rows = await store.all<{ e164: string }>(
      `SELECT e164 FROM sold UNION SELECT e164 FROM held WHERE until > $1 UNION ${IN_USE}`,
      [outside.now()],
    );
    return new Set(rows.map((r) => r.e164));
  }

  /** Free numbers as wished, of one kind. */
  async function free(q: z.output<typeof Wish>): Promise<Offer[]> {
    const gone = await taken();
    for (const e164 of q.except) gone.add(e164);
    return candidates(q.kind, q.country, q.areaCodes)
      .filter((e) => !gone.has(e) && holdsPattern(e.replace('+1', ''), q.pattern) && kindOf(e) === q.kind)
      .map((e) => offer(e, q.kind))
      .filter((o) => q.capabilities.every((c) => o.capabilities.includes(c)));
  }

  router.post('/exchange/searches', async (ctx) => {
    const q = Wish.extend({ limit: z.number().int().min(1).max(100) }).parse(ctx.request.body);
    const found = await free(q);
    ctx.body = { total: found.length, offers: found.slice(0, q.limit) };
  });

  router.post('/exchange/stock', async (ctx) => {
    const q = Wish.parse(ctx.request.body);
    const out: Record<string, number> = Object.fromEntries(q.areaCodes.map((code) => [code, 0]));
    for (const o of await free(q)) {
      const code = o.e164.slice(2, 5);
      out[code] = (out[code] ?? 0) + 1;
    }
    ctx.body = out;
  });

  router.post('/exchange/holds', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string(), until: z.number() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!kindOf(b.e164)) throw new Refusal(404, 'no-such-number', 'The exchange does not sell this number.');
      const other = await store.one(
        `SELECT 1 FROM (SELECT e164 FROM sold UNION SELECT e164 FROM held WHERE until > $2 AND key <> $3 UNION ${IN_USE}) WHERE e164 = $1`,
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
    const b = z
      .object({ key: z.string(), e164: z.string(), programme: ProgrammeFiling.nullable() })
      .parse(ctx.request.body);
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
      const declined = kind === 'short code' ? whyDeclined(b.programme) : '';
      await store.run('DELETE FROM held WHERE e164 = $1', [b.e164]);
      if (declined) {
        await store.schedule(outside.now() + 9 * DAY, 'order.fail', { ...b, reason: declined });
        return;
      }
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

/** What the networks find in a programme, by criteria of their own; empty where they take it. */
function whyDeclined(p: ProgrammeFiling | null): string {
  if (!p) return 'The networks lease a short code for one programme, and none was filed.';
  const words = p.sample.toLowerCase();
  if (!words.includes(p.nameLine.toLowerCase()) && !words.includes(p.legalName.toLowerCase()))
    return 'The networks declined the programme: the sample does not say who sends it.';
  if (!/\bstop\b/.test(words)) return 'The networks declined the programme: the sample offers no way out.';
  if (/\b(?:casino|betting|payday|cannabis)\b/.test(`${p.what} ${words}`.toLowerCase()))
    return 'The networks declined the programme: they carry no such content.';
  if (p.agreement.trim().split(/\s+/).length < 6)
    return 'The networks declined the programme: how people agree is not told.';
  return '';
}
