import { createHash } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type Router from '@koa/router';
import { simpleParser } from 'mailparser';
import { z } from 'zod';
import { Refusal, type Outside } from '../outside/outside.js';

const PAGE = new URL('../../pages/mailbox.html', import.meta.url);

interface Kept {
  n: number;
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
    await store.run(
      'INSERT INTO mail (key, recipient, at, file) VALUES ($1, $2, $3, $4) ON CONFLICT (key) DO NOTHING',
      [b.key, b.to.toLowerCase(), Math.round(outside.now()), file],
    );
    ctx.body = { accepted: true };
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
      `SELECT n, recipient, at, file FROM mail WHERE $1 = '' OR recipient = $1 ORDER BY n DESC LIMIT 100`,
      [to.trim().toLowerCase()],
    );
    ctx.body = await Promise.all(rows.map((row) => shown(row)));
  });

  router.get('/mail/messages/:n.eml', async (ctx) => {
    const row = await store.one<Kept>('SELECT * FROM mail WHERE n = $1', [Number(ctx.params['n'])]);
    if (!row) throw new Refusal(404, 'not-found', 'There is no such message.');
    ctx.type = 'message/rfc822';
    ctx.body = await readFile(path.join(dir, row.file));
  });

  async function shown(row: Kept) {
    const mail = await simpleParser(await readFile(path.join(dir, row.file)));
    return {
      n: row.n,
      to: row.recipient,
      at: row.at,
      from: mail.from?.text ?? '',
      subject: mail.subject ?? '',
      text: mail.text ?? '',
    };
  }
}
