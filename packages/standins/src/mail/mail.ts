import { createHash } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type Router from '@koa/router';
import { simpleParser } from 'mailparser';
import { z } from 'zod';
import { Refusal, type Outside } from '../outside/outside.js';

const PAGE = new URL('../../pages/mailbox.html', import.meta.url);

/** A mail server that will not take a letter says so after about a minute. */
const BOUNCE_MS = 60_000;
/** So many of a hundred letters to many come back: what a list that is kept loses in half a year. */
const COME_BACK_OF_100 = 2;

interface Kept {
  n: number;
  key: string;
  recipient: string;
  at: number;
  file: string;
}

/** Takes e-mail and delivers it nowhere: each message is an RFC 5322 file in `dir`, read on a page like a mailbox. */
export function addMail(router: Router, outside: Outside, dir: string): void {
  const { store } = outside;

  router.post('/mail/messages', async (ctx) => {
    const b = z
      .object({ key: z.string().min(1).max(200), to: z.string().min(3).max(200), raw: z.string().max(1_000_000) })
      .parse(ctx.request.body);
    // The file first, under a name made of the key: a crash in between writes the same file again.
    const file = `${createHash('sha256').update(b.key).digest('hex').slice(0, 24)}.eml`;
    await mkdir(dir, { recursive: true, mode: 0o700 });
    await writeFile(path.join(dir, file), b.raw, { mode: 0o600 });
    const reason = comesBack(b.to, b.raw);
    const known = await store.one('SELECT n FROM mail WHERE key = $1', [b.key]);
    if (reason && !known) await store.schedule(outside.now() + BOUNCE_MS, 'mail.bounce', { key: b.key, reason });
    await store.run(
      'INSERT INTO mail (key, recipient, at, file) VALUES ($1, $2, $3, $4) ON CONFLICT (key) DO NOTHING',
      [b.key, b.to.toLowerCase(), Math.round(outside.now()), file],
    );
    ctx.body = { accepted: true };
  });
  outside.onDue<{ key: string; reason: string }>('mail.bounce', ({ key, reason }, at) =>
    store.tell({ at, kind: 'mail.bounced', key, reason }),
  );

  // What the owner of a mailbox can do about a letter to many.
  router.post('/mail/messages/:n/complaint', async (ctx) => {
    const row = await message(Number(ctx.params['n']));
    await store.tell({ at: Math.round(outside.now()), kind: 'mail.complained', key: row.key });
    ctx.body = { accepted: true };
  });
  router.post('/mail/messages/:n/unsubscribe', async (ctx) => {
    const row = await message(Number(ctx.params['n']));
    const { url } = unsubscribing(await readFile(path.join(dir, row.file), 'utf8'));
    if (!url) throw new Refusal(404, 'no-way-out', 'This message names no address to unsubscribe at.');
    // RFC 8058: one POST with this body, without cookies; nobody has to open a page.
    const answer = await fetch(url, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: 'List-Unsubscribe=One-Click',
      redirect: 'manual',
      signal: AbortSignal.timeout(10_000),
    });
    ctx.body = { accepted: answer.ok };
  });

  router.get('/mailbox', async (ctx) => {
    ctx.type = 'html';
    ctx.body = await readFile(PAGE, 'utf8');
  });

  router.get('/mail/addresses', async (ctx) => {
    ctx.body = await store.all(
      'SELECT recipient, max(at) AS at, count(*) AS messages FROM mail GROUP BY recipient ORDER BY at DESC LIMIT 50',
    );
  });

  router.get('/mail/messages', async (ctx) => {
    const { to } = z.object({ to: z.string().default('') }).parse(ctx.query);
    const rows = await store.all<Kept>(
      `SELECT n, key, recipient, at, file FROM mail WHERE $1 = '' OR recipient = $1 ORDER BY n DESC LIMIT 100`,
      [to.trim().toLowerCase()],
    );
    ctx.body = await Promise.all(rows.map((row) => shown(row)));
  });

  router.get('/mail/messages/:n.eml', async (ctx) => {
    const row = await message(Number(ctx.params['n']));
    ctx.type = 'message/rfc822';
    ctx.body = await readFile(path.join(dir, row.file));
  });

  async function message(n: number): Promise<Kept> {
    const row = await store.one<Kept>('SELECT * FROM mail WHERE n = $1', [n]);
    if (!row) throw new Refusal(404, 'not-found', 'There is no such message.');
    return row;
  }

  async function shown(row: Kept) {
    const raw = await readFile(path.join(dir, row.file), 'utf8');
    const mail = await simpleParser(raw);
    return {
      n: row.n,
      to: row.recipient,
      at: row.at,
      from: mail.from?.text ?? '',
      subject: mail.subject ?? '',
      text: mail.text ?? '',
      /** Whether one press ends letters of its kind (RFC 8058). */
      oneClick: unsubscribing(raw).url !== '',
    };
  }
}

/** The header lines of a message, unfolded. */
const headersOf = (raw: string): string => (raw.split(/\r?\n\r?\n/)[0] ?? '').replace(/\r?\n[ \t]+/g, ' ');

/** Where a letter to many says it can be ended by one POST; empty for any other. */
function unsubscribing(raw: string): { url: string } {
  const headers = headersOf(raw);
  const once = /^List-Unsubscribe-Post:\s*List-Unsubscribe=One-Click\s*$/im.test(headers);
  return { url: once ? (/^List-Unsubscribe:.*?<(https?:[^>]+)>/im.exec(headers)?.[1] ?? '') : '' };
}

/** Why a letter to many comes back: a mailbox called “gone”, and a few of all others, always the same. Letters to one arrive. */
function comesBack(to: string, raw: string): string {
  if (!/^List-Unsubscribe:/im.test(headersOf(raw))) return '';
  const gone =
    /^gone\b/i.test(to) || (createHash('sha256').update(to.toLowerCase()).digest()[0] ?? 0) % 100 < COME_BACK_OF_100;
  return gone ? '550 5.1.1 No mailbox here by that name.' : '';
}
