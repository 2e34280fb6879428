import type Router from '@koa/router';
import { placeOf, senderIdIn } from '@long-gate/core';
import { OutgoingText, type FailureClass } from '@long-gate/gateways';
import { z } from 'zod';
import { lineOf } from '../lines/lines.js';
import { Refusal, type Outside } from '../outside/outside.js';
import { campaignOf, overseeStops } from '../registrar/campaigns.js';

interface Fate {
  failure?: FailureClass;
  code: string;
  reason: string;
}

/** Carries texts between our numbers and phones: takes them, and answers by receipt later. */
export function addNetwork(router: Router, outside: Outside): void {
  const { store } = outside;
  const recent = new Map<string, { at: number; segments: number }[]>();

  async function numberRefusal(from: string): Promise<string> {
    const tied = await store.one<{ campaign_key: string }>('SELECT campaign_key FROM assigned WHERE e164 = $1', [from]);
    if (!tied) return 'The networks take nothing from a number in no registered campaign.';
    return (await store.one('SELECT campaign FROM suspended WHERE campaign = $1', [campaignOf(tied.campaign_key)]))
      ? 'The networks take nothing from a number whose campaign is suspended.'
      : '';
  }

  /** A sender ID is taken where the country leaves it free, or where it was registered. */
  async function senderRefusal(from: string, to: string): Promise<string> {
    const country = placeOf(to, '').country;
    const rule = senderIdIn(country);
    if (rule === 'free') return '';
    if (rule === 'not allowed') return `Networks in ${country || 'this country'} take no sender IDs.`;
    return (await store.one('SELECT text FROM sender_id WHERE text = $1 AND code = $2', [from, country]))
      ? ''
      : `“${from}” is not registered in ${country}.`;
  }

  /** Takes what it can of some texts, in one transaction; for each the refusal, or null where it was taken. */
  async function take(texts: readonly OutgoingText[]): Promise<(Refusal | null)[]> {
    return store.write(async () => {
      const now = outside.now();
      const here = new Set(
        (
          await store.all<{ key: string }>('SELECT t.key FROM json_each($1) j CROSS JOIN text t ON t.key = j.value', [
            JSON.stringify(texts.map((b) => b.key)),
          ])
        ).map((r) => r.key),
      );
      const unread = new Map(
        (
          await store.all<{ phone: string; seq: number }>(
            'SELECT p.phone, max(p.seq) AS seq FROM json_each($1) j CROSS JOIN from_phone p ON p.phone = j.value GROUP BY 1',
            [JSON.stringify([...new Set(texts.map((b) => b.to))])],
          )
        ).map((r) => [r.phone, r.seq]),
      );
      const mayFrom = new Map<string, string>();
      const taken: OutgoingText[] = [];
      const again: string[] = [];
      const answers: (Refusal | null)[] = [];
      for (const b of texts) {
        if (here.has(b.key)) {
          again.push(b.key);
          answers.push(null);
          continue;
        }
        const refusal = await refusalOf(b, now, unread.get(b.to) ?? 0, mayFrom);
        answers.push(refusal);
        if (refusal) continue;
        here.add(b.key);
        taken.push(b);
      }
      if (again.length > 0)
        await store.run('UPDATE text SET received = received + 1 WHERE key IN (SELECT value FROM json_each($1))', [
          JSON.stringify(again),
        ]);
      if (taken.length > 0) {
        await store.run(
          'INSERT INTO text (key, sender, recipient, text, segments, at) SELECT value->>0, value->>1, value->>2, value->>3, value->>4, $2 FROM json_each($1)',
          [JSON.stringify(taken.map((b) => [b.key, b.from, b.to, b.text, b.segments])), now],
        );
        await store.scheduleAll(
          'text',
          taken.map((b) => {
            const slow = outside.chance('latency', b.to, b.text);
            return { at: now + 1_500 + slow ** 4 * 240_000 + slow * 6_000, body: b };
          }),
        );
      }
      return answers;
    });
  }

  async function refusalOf(
    b: OutgoingText,
    now: number,
    lastFromPhone: number,
    mayFrom: Map<string, string>,
  ): Promise<Refusal | null> {
    if (now > b.takeBy) return new Refusal(409, 'too-late', 'This text was wanted earlier.');
    if (lastFromPhone > b.readUpTo)
      return new Refusal(409, 'unread', 'Something from this phone has not been read yet.');
    const named = /[A-Za-z]/.test(b.from);
    const asked = named ? `${b.from} ${placeOf(b.to, '').country}` : b.from;
    const why = mayFrom.get(asked) ?? (named ? await senderRefusal(b.from, b.to) : await numberRefusal(b.from));
    mayFrom.set(asked, why);
    if (why) return new Refusal(403, 'unregistered', why);
    const window = (recent.get(b.from) ?? []).filter((r) => now - r.at < 1000);
    if (window.reduce((n, r) => n + r.segments, 0) + b.segments > outside.queueLimit)
      return new Refusal(429, 'queue-full', 'The queue of this number is full.', 2);
    recent.set(b.from, [...window, { at: now, segments: b.segments }]);
    return null;
  }

  router.post('/network/texts', async (ctx) => {
    const [refusal] = await take([OutgoingText.parse(ctx.request.body)]);
    if (refusal) throw refusal;
    ctx.body = { accepted: true };
  });

  router.post('/network/lots', async (ctx) => {
    const { texts } = z.object({ texts: z.array(OutgoingText).min(1).max(200) }).parse(ctx.request.body);
    ctx.body = {
      answers: (await take(texts)).map((r) =>
        r
          ? { status: r.status, code: r.code, detail: r.message, retryAfterMs: (r.retryAfter ?? 1) * 1000 }
          : { accepted: true },
      ),
    };
  });

  router.post('/network/texts/known', async (ctx) => {
    const b = z.object({ keys: z.array(z.string()).max(500) }).parse(ctx.request.body);
    const rows = await store.all<{ key: string }>('SELECT t.key FROM json_each($1) j JOIN text t ON t.key = j.value', [
      JSON.stringify(b.keys),
    ]);
    ctx.body = { known: rows.map((r) => r.key) };
  });

  router.post('/network/calls', async (ctx) => {
    const b = z
      .object({ key: z.string(), e164: z.string(), forwardTo: z.string(), greeting: z.string() })
      .parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'calls', outside.now(), {}))) return;
      await store.run(
        'INSERT INTO call_handling (e164, forward_to, greeting) VALUES ($1, $2, $3) ON CONFLICT (e164) DO UPDATE SET forward_to = $2, greeting = $3',
        [b.e164, b.forwardTo, b.greeting],
      );
    });
    ctx.body = { accepted: true };
  });

  router.post('/network/codes', async (ctx) => {
    const b = z.object({ key: z.string(), to: z.string(), text: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'code', outside.now(), {}))) return;
      await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'in', $3, $4)`, [
        b.to,
        'LONG GATE',
        b.text,
        outside.now(),
      ]);
    });
    ctx.body = { accepted: true };
  });

  // For tests: how often each text was handed in, and how many different texts each phone was sent.
  router.get('/network/texts', async (ctx) => {
    const q = z.object({ prefix: z.string().default('') }).parse(ctx.query);
    ctx.body = await store.all(
      "SELECT key, sender, recipient, text, segments, at, received FROM text WHERE key LIKE $1 || '%' ORDER BY at",
      [q.prefix],
    );
  });

  outside.onDue<OutgoingText>('text', async (b, at) => {
    const line = await lineOf(outside, b.to);
    const fate = decide(outside, b, line.lineType, line.reachable);
    if (fate.failure) {
      await store.tell({
        at,
        kind: 'text.failed',
        key: b.key,
        carrier: line.carrier,
        failure: fate.failure,
        code: fate.code,
        reason: fate.reason,
      });
      return;
    }
    await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'in', $3, $4)`, [
      b.to,
      b.from,
      b.text,
      at,
    ]);
    await store.tell({ at, kind: 'text.delivered', key: b.key, carrier: line.carrier });
  });
}

/** What becomes of a text, drawn from the seed; content counts too, as it does for real filters. */
function decide(outside: Outside, b: OutgoingText, lineType: string, reachable: boolean): Fate {
  if (lineType === 'landline' || lineType === 'none' || lineType === 'toll-free')
    return { failure: 'not-textable', code: '30', reason: 'No mobile at this number.' };
  const x = outside.chance('fate', b.to);
  if (!reachable)
    return x < 0.4
      ? { failure: 'out-of-service', code: '31', reason: 'The number is out of service.' }
      : { failure: 'passing-fault', code: '40', reason: 'The phone could not be reached.' };
  const link = /https?:\/\/(?:bit\.ly|tinyurl|lnk\.example)/i.test(b.text);
  if (link && outside.chance('filter', b.to, b.text) < 0.6)
    return { failure: 'filtered', code: '50', reason: 'Filtered: a link host shared by many senders.' };
  const luck = outside.chance('luck', b.to, b.text);
  if (luck < 0.004) return { failure: 'filtered', code: '51', reason: 'Filtered by the carrier.' };
  if (luck < 0.012) return { failure: 'passing-fault', code: '41', reason: 'Expired before the phone was back.' };
  return { code: '0', reason: '' };
}

/** A phone calls one of our numbers: what it hears, and what was pressed then. */
export async function callFromPhone(outside: Outside, from: string, to: string, pressed: string): Promise<void> {
  const { store } = outside;
  const at = outside.now();
  await store.write(async () => {
    const how = await store.one<{ forward_to: string; greeting: string }>(
      'SELECT * FROM call_handling WHERE e164 = $1',
      [to],
    );
    const heard = how?.forward_to
      ? `(Put through to ${how.forward_to}.)`
      : how?.greeting
        ? `(You hear:) ${how.greeting}${pressed ? ` (You press ${pressed}.)` : ''}`
        : '(It rings; nobody answers.)';
    await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'out', $3, $4)`, [
      from,
      to,
      `(A call) ${heard}`,
      at,
    ]);
    const row = await store.one<{ id: number }>('SELECT max(id) AS id FROM handset');
    await store.tell({ at, kind: 'call.inbound', key: `call-${row?.id ?? 0}`, from, to, pressed });
  });
}

/** A phone sends a text to one of our numbers. */
export async function sendFromPhone(outside: Outside, from: string, to: string, text: string): Promise<void> {
  const { store } = outside;
  const at = outside.now();
  await store.write(async () => {
    await store.run(`INSERT INTO handset (phone, peer, direction, text, at) VALUES ($1, $2, 'out', $3, $4)`, [
      from,
      to,
      text,
      at,
    ]);
    const row = await store.one<{ id: number }>('SELECT max(id) AS id FROM handset');
    await store.tell({ at, kind: 'text.inbound', key: `in-${row?.id ?? 0}`, from, to, text });
    await overseeStops(outside, to, text, at);
  });
}
