import { BrandFiling, type FieldResult, type Reason } from '@long-gate/gateways';
import { z } from 'zod';
import { DAY, HOUR } from '../outside/outside.js';
import type { Desk } from './desk.js';
import { brandReasons, brandResults } from './brand-check.js';

/** The registrar's own sender, from which it asks an owner and to which the owner answers. */
export const REGISTRAR_SENDER = 'REGISTRAR';
const CONFIRM_WITHIN = 24 * HOUR;
/** One mobile stands for at most so many sole proprietors. */
const BRANDS_A_MOBILE = 3;
/** The tax office's own letters, which prove name and number. */
const PROOF = /\b(?:147\s?-?C|CP\s?-?575|letter\s+(?:of|from)\s+the\s+(?:IRS|tax office)|determination letter)\b/i;

const USED_UP: Reason[] = [
  {
    field: 'mobile',
    code: 'mobile-used-up',
    message: `This mobile has confirmed ${BRANDS_A_MOBILE} brands already; it can confirm no more.`,
  },
];

/** Whether a mobile has confirmed as many other brands as it may. */
async function isUsedUp(store: Desk['outside']['store'], mobile: string, key: string): Promise<boolean> {
  const row = await store.one<{ n: number }>(
    'SELECT count(*) AS n FROM confirmation WHERE phone = $1 AND confirmed = 1 AND brand_key <> $2',
    [mobile, key],
  );
  return (row?.n ?? 0) >= BRANDS_A_MOBILE;
}

type Submitted = { key: string; filing: BrandFiling };

/** Checks who a brand is, asks a sole proprietor's owner on the mobile, hears objections, and vets. */
export function addBrands(desk: Desk): void {
  const { outside } = desk;
  const { store } = outside;

  async function filed(key: string): Promise<BrandFiling | null> {
    const row = await store.one<{ body: string }>(`SELECT body FROM request WHERE key = $1 AND kind = 'brand'`, [key]);
    return row ? BrandFiling.parse((JSON.parse(row.body) as Submitted).filing) : null;
  }
  async function decline(at: number, key: string, reasons: Reason[], results: FieldResult[]): Promise<void> {
    await store.tell({ at, kind: 'brand.declined', key, reasons, results });
  }

  desk.accept(
    '/registrar/brands',
    z.object({ key: z.string(), filing: BrandFiling }),
    'brand',
    [DAY, 2 * DAY],
    'brand',
  );
  outside.onDue<Submitted>('brand', async ({ key, filing }, at) => {
    const reasons = brandReasons(filing);
    const results = brandResults(filing, reasons);
    if (reasons.length > 0) return decline(at, key, reasons, results);
    if (filing.form === 'sole proprietor') return ask(at, key, filing.mobile);
    return store.tell({ at, kind: 'brand.registered', key, results });
  });

  /** Texts the owner; whoever confirmed as many as one may is declined instead. */
  async function ask(at: number, key: string, mobile: string): Promise<void> {
    const filing = await filed(key);
    if (!filing) return;
    if (await isUsedUp(store, mobile, key)) return decline(at, key, USED_UP, []);
    const until = at + CONFIRM_WITHIN;
    await store.run(
      `INSERT INTO confirmation (brand_key, phone, until, confirmed) VALUES ($1, $2, $3, 0)
       ON CONFLICT (brand_key) DO UPDATE SET phone = $2, until = $3`,
      [key, mobile, Math.round(until)],
    );
    await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'in', $3, $4)`, [
      mobile,
      REGISTRAR_SENDER,
      `Registrar: ${filing.legalName} (${filing.nameLine}) is being registered to send texts in your name. Reply YES within 24 hours to confirm that this is you.`,
      Math.round(at),
    ]);
    await store.schedule(until, 'brand.lapse', { key, until: Math.round(until) });
    await store.tell({ at, kind: 'brand.confirmation-asked', key, until: Math.round(until) });
  }
  outside.onDue<{ key: string; until: number }>('brand.lapse', async ({ key, until }, at) => {
    // One that was asked again meanwhile has longer.
    const open = await store.one(
      'SELECT 1 AS n FROM confirmation WHERE brand_key = $1 AND until = $2 AND confirmed = 0',
      [key, until],
    );
    if (open) await store.tell({ at, kind: 'brand.confirmation-lapsed', key });
  });

  desk.accept(
    '/registrar/confirmations',
    z.object({ key: z.string(), brandKey: z.string(), mobile: z.string() }),
    'brand.ask',
    [0, 0],
  );
  outside.onDue<{ brandKey: string; mobile: string }>('brand.ask', ({ brandKey, mobile }, at) =>
    ask(at, brandKey, mobile),
  );

  desk.accept(
    '/registrar/appeals',
    z.object({ key: z.string(), brandKey: z.string(), text: z.string() }),
    'brand.appeal',
    [DAY, 3 * DAY],
  );
  outside.onDue<{ brandKey: string; text: string }>('brand.appeal', async ({ brandKey, text }, at) => {
    const filing = await filed(brandKey);
    if (!filing) return;
    const reasons = brandReasons(filing);
    // A letter of the tax office outweighs the record it wrote; nothing else does.
    const left = PROOF.test(text) ? reasons.filter((r) => r.code !== 'name-number-mismatch') : reasons;
    const results = brandResults(filing, left);
    if (left.length > 0)
      return decline(
        at,
        brandKey,
        left.map((r) => ({ ...r, message: `${r.message} The objection names nothing that proves otherwise.` })),
        results,
      );
    return store.tell({ at, kind: 'brand.registered', key: brandKey, results });
  });

  desk.accept(
    '/registrar/vettings',
    z.object({ key: z.string(), brandKey: z.string(), legalName: z.string(), objection: z.string() }),
    'vetting',
    [DAY, 2 * DAY],
  );
  outside.onDue<{ key: string; brandKey: string; legalName: string; objection: string }>('vetting', async (b, at) => {
    const before = await store.one<{ score: number }>('SELECT score FROM vetted WHERE brand = $1', [b.legalName]);
    // A first look, as good as the business is known; every further one finds a little more.
    const score = before
      ? Math.min(100, before.score + Math.floor(outside.chance('again', b.key) * (b.objection === '' ? 9 : 16)))
      : 35 + Math.floor(outside.chance('score', b.legalName) * 60);
    await store.run('INSERT INTO vetted (brand, score) VALUES ($1, $2) ON CONFLICT (brand) DO UPDATE SET score = $2', [
      b.legalName,
      score,
    ]);
    await store.tell({ at, kind: 'vetting.scored', key: b.key, score });
  });
}

/** An owner answers the registrar. Anything but a YES in time changes nothing. */
export async function answerRegistrar(outside: Desk['outside'], phone: string, text: string): Promise<void> {
  const { store } = outside;
  const at = outside.now();
  await store.write(async () => {
    await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'out', $3, $4)`, [
      phone,
      REGISTRAR_SENDER,
      text,
      at,
    ]);
    if (!/^\s*yes\b[\s.!]*$/i.test(text)) return;
    // One YES answers one question, the last that was asked.
    const open = await store.one<{ brand_key: string; body: string }>(
      `SELECT c.brand_key, r.body FROM confirmation c JOIN request r ON r.key = c.brand_key
       WHERE c.phone = $1 AND c.confirmed = 0 AND c.until > $2 ORDER BY c.until DESC, c.brand_key DESC LIMIT 1`,
      [phone, at],
    );
    if (!open) return;
    const key = open.brand_key;
    if (await isUsedUp(store, phone, key)) {
      await store.run('DELETE FROM confirmation WHERE brand_key = $1', [key]);
      return store.tell({ at, kind: 'brand.declined', key, reasons: USED_UP, results: [] });
    }
    await store.run('UPDATE confirmation SET confirmed = 1 WHERE brand_key = $1', [key]);
    const { filing } = JSON.parse(open.body) as Submitted;
    return store.tell({
      at,
      kind: 'brand.registered',
      key,
      results: [...brandResults(filing, []), { field: 'mobile', result: 'matches', note: 'Its owner answered YES.' }],
    });
  });
}
