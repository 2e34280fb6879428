import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { fileURLToPath } from 'node:url';
import { atMost } from '../measure.js';
import { number } from './people.js';
import { ACTOR, type World } from './world.js';

/** So many people have their page open at once, and so often each looks at it. */
const PEOPLE = 50;
const EACH = 40;

/** Personal pages: fifty people at once, over HTTP, each asking again the moment they have their answer. */
export async function personalPages(world: World): Promise<void> {
  const { app, business, n } = world;
  const { db } = app.platform;
  const page = await app.pages.add(ACTOR, business, {
    slug: 'bench',
    title: 'Texts of the bench',
    intro: '',
    purposes: [{ purpose: 'informational', label: 'Text me notices', frequency: 'daily' }],
    numberId:
      (await db.one<{ id: string }>('SELECT id FROM number WHERE business_id = $1 LIMIT 1', [business]))?.id ?? '',
    privacyUrl: 'https://bench.example/p',
    termsUrl: 'https://bench.example/t',
    language: 'en',
    ground: '#ffffff',
    accent: '#0f5c63',
    button: '',
    thanks: '',
    thanksCode: '',
    asks: { firstName: 'asked', lastName: 'no', email: 'no' },
    pictureWords: '',
    onSite: null,
    published: true,
  });
  const letter = { title: 'Bench', pageId: page.id, subject: 'x', text: '[link]', againDays: 90, standing: null };
  const invitation = await app.optInInvitations.add(ACTOR, business, letter);
  const now = app.platform.clock.now();
  await db.write(async (w) => {
    for (let i = 0; i < PEOPLE; i++)
      await w.run(
        `INSERT INTO personal_link (id, business_id, invitation_id, contact_id, page_id, token_hash, email, e164, sent_by, sent_at, expires_at)
         SELECT $1, $2, $3, contact_id, $4, $5, 'x@bench.example', e164, 'bench', $6, $7 FROM contact_number WHERE business_id = $2 AND e164 = $8`,
        [`lnk_${i}`, business, invitation.id, page.id, hashOf(token(i)), now, now + 86_400_000, number(i)],
      );
  });
  const server = await new Promise<Server>((resolve) => {
    const s = app.koa.listen(0, '127.0.0.1', () => resolve(s));
  });
  const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}/my-texts/`;
  const pages = Array.from({ length: PEOPLE }, (_, i) => at + token(i));
  const visitors = spawn(
    process.execPath,
    [fileURLToPath(new URL('./visitors.js', import.meta.url)), String(EACH), ...pages],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const times = JSON.parse(await text(visitors.stdout)) as number[];
  server.closeAllConnections();
  server.close();
  times.sort((a, b) => a - b);
  atMost(n, 'personal pages, fifty at once, 95 of 100', times[Math.floor(times.length * 0.95)] ?? Infinity, 100);
}

const token = (i: number): string => `bench-${i}`;
const hashOf = (words: string): string => createHash('sha256').update(words).digest('hex');
