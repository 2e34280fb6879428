import { readFile } from 'node:fs/promises';
import type Router from '@koa/router';
import { formatPhone, parsePhone } from '@long-gate/core';
import { z } from 'zod';
import { callFromPhone, sendFromPhone } from '../network/network.js';
import { Refusal, type Outside } from '../outside/outside.js';
import { answerRegistrar, REGISTRAR_SENDER } from '../registrar/brands.js';

const PAGE = new URL('../../pages/handset.html', import.meta.url);

function phone(raw: string): string {
  const p = parsePhone(raw, { defaultRegion: 'US', allowFictional: true });
  if (!p.ok) throw new Refusal(400, 'bad-number', `“${raw}” is no phone number.`);
  return p.e164;
}

/**
 * A phone on screen, on the far side of the network: reads what a contact received, opens its links, and replies.
 * @param app where the application is, to which the made-up domains in texts lead.
 */
export function addHandset(router: Router, outside: Outside, app: string): void {
  const { store } = outside;

  router.get('/handset', async (ctx) => {
    ctx.type = 'html';
    ctx.body = await readFile(PAGE, 'utf8');
  });

  router.get('/handset/phones', async (ctx) => {
    ctx.body = await store.all(
      'SELECT phone, max(at) AS at, count(*) AS texts FROM handset GROUP BY phone ORDER BY at DESC LIMIT 30',
    );
  });

  router.get('/handset/phones/:phone', async (ctx) => {
    const e164 = phone(String(ctx.params['phone']));
    const texts = await store.all(
      'SELECT id, peer, direction, text, at FROM handset WHERE phone = $1 ORDER BY id DESC LIMIT 200',
      [e164],
    );
    ctx.body = { phone: e164, shown: formatPhone(e164), now: outside.now(), app, texts: texts.reverse() };
  });

  router.post('/handset/phones/:phone/calls', async (ctx) => {
    const b = z.object({ to: z.string(), pressed: z.string().max(1).default('') }).parse(ctx.request.body);
    await callFromPhone(outside, phone(String(ctx.params['phone'])), phone(b.to), b.pressed);
    ctx.body = { accepted: true };
  });

  router.post('/handset/phones/:phone/texts', async (ctx) => {
    const b = z.object({ to: z.string(), text: z.string().min(1).max(1600) }).parse(ctx.request.body);
    const from = phone(String(ctx.params['phone']));
    if (b.to.trim().toUpperCase() === REGISTRAR_SENDER) await answerRegistrar(outside, from, b.text);
    else await sendFromPhone(outside, from, phone(b.to), b.text);
    ctx.body = { accepted: true };
  });
}
