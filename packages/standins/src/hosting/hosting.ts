import type Router from '@koa/router';
import { isTollFree } from '@long-gate/core';
import { HostingFiling, type Reason } from '@long-gate/gateways';
import { z } from 'zod';
import { lineOf } from '../lines/lines.js';
import { DAY, HOUR, type Outside } from '../outside/outside.js';

const US = 'Long Gate';

/** Adds texting to landlines and toll-free numbers: tests, calls the line with a code, and decides some days later. */
export function addHosting(router: Router, outside: Outside): void {
  const { store } = outside;

  async function provider(e164: string): Promise<string> {
    const row = await store.one<{ provider: string }>('SELECT provider FROM hosted WHERE e164 = $1', [e164]);
    if (row) return row.provider === US ? '' : row.provider;
    // A few lines of the made-up world have texting with somebody else.
    return outside.chance('hosted', e164) < 0.06 ? 'Pellmark Messaging' : '';
  }

  router.post('/hosting/tests', async (ctx) => {
    const { e164 } = z.object({ e164: z.string() }).parse(ctx.request.body);
    const line = await lineOf(outside, e164);
    ctx.body = {
      e164,
      kind: isTollFree(e164) ? 'toll-free' : line.lineType === 'mobile' ? 'wireless' : 'landline',
      voiceCarrier: line.carrier,
      enabledElsewhere: await provider(e164),
    };
  });

  router.post('/hosting/calls', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'hosting.call', outside.now(), b))) return;
      const code = String(100_000 + Math.floor(outside.chance('code', b.key) * 900_000));
      await store.run('INSERT INTO line_code (e164, code) VALUES ($1, $2) ON CONFLICT (e164) DO UPDATE SET code = $2', [
        b.e164,
        code,
      ]);
      // The handset of the line shows the call as what was said in it.
      await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'in', $3, $4)`, [
        b.e164,
        'call',
        `(A call, read out:) Your code for adding texting to this line is ${[...code].join(' ')}.`,
        outside.now(),
      ]);
    });
    ctx.body = { accepted: true };
  });

  router.post('/hosting/codes', async (ctx) => {
    const b = z.object({ e164: z.string(), code: z.string() }).parse(ctx.request.body);
    const row = await store.one<{ code: string }>('SELECT code FROM line_code WHERE e164 = $1', [b.e164]);
    ctx.body = { right: row !== undefined && row.code === b.code.replace(/\D/g, '') };
  });

  router.post('/hosting/filings', async (ctx) => {
    const b = z.object({ key: z.string(), filing: HostingFiling }).parse(ctx.request.body);
    await store.write(async () => {
      if (await store.remember(b.key, 'hosting', outside.now(), {}))
        await store.schedule(outside.now() + DAY + outside.chance('hosting', b.key) * 2 * DAY, 'hosting', b);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ key: string; filing: HostingFiling }>('hosting', async ({ key, filing }, at) => {
    const reasons = await refusals(filing);
    if (reasons.length > 0) return store.tell({ at, kind: 'hosting.refused', key, reasons });
    await store.run(
      'INSERT INTO hosted (e164, provider) VALUES ($1, $2) ON CONFLICT (e164) DO UPDATE SET provider = $2',
      [filing.e164, US],
    );
    return store.tell({ at, kind: 'hosting.approved', key });
  });

  async function refusals(f: HostingFiling): Promise<Reason[]> {
    const out: Reason[] = [];
    const line = await lineOf(outside, f.e164);
    if (line.lineType === 'mobile')
      out.push({ field: 'e164', code: 'mobile', message: 'A mobile in use cannot be text-enabled a second time.' });
    const other = await provider(f.e164);
    if (other) out.push({ field: 'e164', code: 'elsewhere', message: `${other} texts for this number.` });
    const kept = await store.one<{ body: string }>('SELECT body FROM bureau_record WHERE e164 = $1', [f.e164]);
    const holder = kept ? (JSON.parse(kept.body) as { holderName: string }).holderName : '';
    const plain = (t: string): string => t.toLowerCase().replace(/[^a-z0-9]/g, '');
    if (holder !== '' && plain(holder) !== plain(f.holderName))
      out.push({
        field: 'holderName',
        code: 'wrong-holder',
        message: 'The voice carrier has this line under another name.',
      });
    return out;
  }

  router.post('/hosting/ends', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (await store.remember(b.key, 'hosting.end', outside.now(), b))
        await store.schedule(outside.now() + HOUR / 2, 'hosting.end', b);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ e164: string }>('hosting.end', async ({ e164 }) => {
    await store.run('DELETE FROM hosted WHERE e164 = $1', [e164]);
    await store.run('DELETE FROM assigned WHERE e164 = $1', [e164]);
  });
}
