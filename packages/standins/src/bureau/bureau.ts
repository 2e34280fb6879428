import type Router from '@koa/router';
import { addBusinessDays, areaCodeOf, compareRecord, dayIn, isTollFree, type PortKind } from '@long-gate/core';
import { KeptRecord, PortFiling, type Portability, type Reason } from '@long-gate/gateways';
import { z } from 'zod';
import { lineOf } from '../lines/lines.js';
import { DAY, HOUR, MINUTE, Refusal, type Outside } from '../outside/outside.js';

/** States whose rate centres the gaining side does not serve in the made-up world. */
const NOT_SERVED = new Set(['AK', 'HI', 'WY']);
const ZONE = 'America/New_York';

interface PortRow {
  key: string;
  filing: string;
  state: 'submitted' | 'rejected' | 'accepted' | 'cut over' | 'done' | 'cancelled' | 'returned';
  foc_at: number | null;
}

/** Speaks for the losing carriers: tests, records, and the way of a port through business days. */
export function addBureau(router: Router, outside: Outside): void {
  const { store } = outside;

  async function recordOf(e164s: readonly string[]): Promise<KeptRecord | null> {
    const rows = await store.all<{ body: string }>(
      `SELECT body FROM bureau_record WHERE e164 IN (SELECT value FROM json_each($1)) LIMIT 1`,
      [JSON.stringify(e164s)],
    );
    return rows[0] ? KeptRecord.parse(JSON.parse(rows[0].body)) : null;
  }

  async function kindOf(e164: string): Promise<Portability> {
    const line = await lineOf(outside, e164);
    const kind: PortKind = isTollFree(e164) ? 'toll-free' : line.lineType === 'mobile' ? 'wireless' : 'landline';
    const place = areaCodeOf(e164);
    const whyNot =
      line.lineType === 'none'
        ? 'There is no such line in service.'
        : !isTollFree(e164) && place?.region !== 'US'
          ? 'Only numbers of the United States can be ported.'
          : place && NOT_SERVED.has(place.state)
            ? `We serve no rate centre in ${place.state}.`
            : '';
    return { e164, kind, losingCarrier: line.carrier || 'unknown', portable: whyNot === '', whyNot };
  }

  router.post('/bureau/portability', async (ctx) => {
    const b = z.object({ numbers: z.array(z.string()).max(200) }).parse(ctx.request.body);
    ctx.body = await Promise.all(b.numbers.map(kindOf));
  });

  router.post('/bureau/records', async (ctx) => {
    const b = z.object({ numbers: z.array(z.string()).max(200) }).parse(ctx.request.body);
    const kept = await recordOf(b.numbers);
    if (!kept?.answersRecords) {
      ctx.body = { record: null };
      return;
    }
    const { carrier: _carrier, pin: _pin, answersRecords: _answers, ...record } = kept;
    ctx.body = { record };
  });

  router.post('/bureau/ports', async (ctx) => {
    const b = z.object({ key: z.string(), filing: PortFiling }).parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'port', outside.now(), {}))) return;
      await store.run(`INSERT INTO bureau_port (key, filing, state) VALUES ($1, $2, 'submitted')`, [
        b.key,
        JSON.stringify(b.filing),
      ]);
      const simple = await isSimple(b.filing);
      const wait = simple
        ? 40 * MINUTE + outside.chance('port', b.key) * 5 * HOUR
        : 20 * HOUR + outside.chance('port', b.key) * 2.5 * DAY;
      await store.schedule(atWork(outside.now() + wait), 'port.review', { key: b.key });
    });
    ctx.body = { accepted: true };
  });

  async function isSimple(filing: PortFiling): Promise<boolean> {
    const [first, ...more] = filing.numbers;
    return first !== undefined && more.length === 0 && (await kindOf(first)).kind === 'wireless';
  }

  async function port(key: string): Promise<PortRow | undefined> {
    return store.one<PortRow>('SELECT * FROM bureau_port WHERE key = $1', [key]);
  }
  async function setState(key: string, state: PortRow['state']): Promise<void> {
    await store.run('UPDATE bureau_port SET state = $2 WHERE key = $1', [key, state]);
  }

  outside.onDue<{ key: string }>('port.review', async ({ key }, at) => {
    const row = await port(key);
    if (row?.state !== 'submitted') return;
    const filing = PortFiling.parse(JSON.parse(row.filing));
    const reasons = rejections(filing, await recordOf(filing.numbers), await Promise.all(filing.numbers.map(kindOf)));
    if (reasons.length > 0) {
      await setState(key, 'rejected');
      return store.tell({ at, kind: 'port.rejected', key, reasons });
    }
    const days = (await isSimple(filing)) ? 1 : 5 + Math.floor(outside.chance('foc', key) * 4);
    const focAt = tenOn(addBusinessDays(dayIn(at, ZONE), days));
    await store.run(`UPDATE bureau_port SET state = 'accepted', foc_at = $2 WHERE key = $1`, [key, focAt]);
    await store.schedule(focAt, 'port.cut-over', { key, focAt });
    return store.tell({ at, kind: 'port.accepted', key, focAt });
  });

  outside.onDue<{ key: string; focAt: number }>('port.cut-over', async ({ key, focAt }, at) => {
    const row = await port(key);
    // A date that was moved has an event of its own.
    if (row?.state !== 'accepted' || row.foc_at !== focAt) return;
    await setState(key, 'cut over');
    await store.schedule(at + 25 * MINUTE + outside.chance('cut', key) * 2 * HOUR, 'port.complete', { key });
    return store.tell({ at, kind: 'port.cutting-over', key });
  });

  outside.onDue<{ key: string }>('port.complete', async ({ key }, at) => {
    const row = await port(key);
    if (row?.state !== 'cut over') return;
    await setState(key, 'done');
    for (const e164 of PortFiling.parse(JSON.parse(row.filing)).numbers)
      await store.run('INSERT INTO sold (e164, key) VALUES ($1, $2) ON CONFLICT DO NOTHING', [e164, key]);
    return store.tell({ at, kind: 'port.completed', key });
  });

  const aboutPort = z.object({ key: z.string(), portKey: z.string() });

  router.post('/bureau/dates', async (ctx) => {
    const b = aboutPort.extend({ day: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (await store.remember(b.key, 'port.date', outside.now(), b))
        await store.schedule(outside.now() + 30 * MINUTE + outside.chance('date', b.key) * 3 * HOUR, 'port.date', b);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ portKey: string; day: string }>('port.date', async ({ portKey, day }, at) => {
    const row = await port(portKey);
    if (row?.state !== 'accepted') return;
    const today = dayIn(at, ZONE);
    if (addBusinessDays(day, 0) !== day || day < addBusinessDays(today, 1))
      return store.tell({
        at,
        kind: 'port.date-refused',
        key: portKey,
        reason: `The losing carrier does not work ports on ${day}.`,
      });
    const focAt = tenOn(day);
    await store.run('UPDATE bureau_port SET foc_at = $2 WHERE key = $1', [portKey, focAt]);
    await store.schedule(focAt, 'port.cut-over', { key: portKey, focAt });
    return store.tell({ at, kind: 'port.date-moved', key: portKey, focAt });
  });

  router.post('/bureau/cancellations', async (ctx) => {
    const b = aboutPort.parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'port.cancel', outside.now(), b))) return;
      const row = await port(b.portKey);
      if (row && ['cut over', 'done'].includes(row.state))
        throw new Refusal(409, 'too-late', 'The numbers are changing over already.');
      if (row) await setState(b.portKey, 'cancelled');
    });
    ctx.body = { accepted: true };
  });

  // Somebody else asks to take a number of ours away: in the demo's past, or by hand.
  router.post('/bureau/port-outs', async (ctx) => {
    const b = z.object({ key: z.string(), e164: z.string(), carrier: z.string() }).parse(ctx.request.body);
    await store.write(async () => {
      if (await store.remember(b.key, 'port-out', outside.now(), b)) await store.schedule(outside.now(), 'port-out', b);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ key: string; e164: string; carrier: string }>('port-out', (b, at) =>
    store.tell({ at, kind: 'port-out.asked', key: b.key, e164: b.e164, carrier: b.carrier, deadline: at + 2 * DAY }),
  );
  router.post('/bureau/port-outs/answers', async (ctx) => {
    const b = z.object({ key: z.string(), attempt: z.string(), refuse: z.boolean() }).parse(ctx.request.body);
    await store.write(async () => {
      if ((await store.remember(b.key, 'port-out.answer', outside.now(), b)) && !b.refuse)
        await store.schedule(outside.now() + HOUR, 'port-out.leave', b);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ attempt: string }>('port-out.leave', (b, at) =>
    store.tell({ at, kind: 'port-out.left', key: b.attempt }),
  );

  router.post('/bureau/returns', async (ctx) => {
    const b = aboutPort.parse(ctx.request.body);
    await store.write(async () => {
      if (!(await store.remember(b.key, 'port.return', outside.now(), b))) return;
      const row = await port(b.portKey);
      if (row?.state !== 'done') throw new Refusal(409, 'not-landed', 'There is nothing to give back.');
      await store.schedule(outside.now() + 2 * HOUR + outside.chance('return', b.key) * 4 * HOUR, 'port.return', b);
    });
    ctx.body = { accepted: true };
  });
  outside.onDue<{ portKey: string }>('port.return', async ({ portKey }, at) => {
    const row = await port(portKey);
    if (row?.state !== 'done') return;
    await setState(portKey, 'returned');
    for (const e164 of PortFiling.parse(JSON.parse(row.filing)).numbers) {
      await store.run('DELETE FROM sold WHERE e164 = $1', [e164]);
      await store.run('DELETE FROM assigned WHERE e164 = $1', [e164]);
    }
    return store.tell({ at, kind: 'port.returned', key: portKey });
  });
}

/** The next moment at which somebody works there: a business day, from nine to five. */
function atWork(moment: number): number {
  const day = dayIn(moment, ZONE);
  if (addBusinessDays(day, 0) === day) return moment;
  return tenOn(addBusinessDays(day, 0));
}

/** Ten in the morning Eastern time on a day. */
function tenOn(day: string): number {
  const utc = Date.parse(`${day}T15:00:00Z`);
  const hour = Number(
    new Intl.DateTimeFormat('en-US', { timeZone: ZONE, hour: 'numeric', hourCycle: 'h23' }).format(utc),
  );
  return utc + (10 - hour) * HOUR;
}

/** What the losing carrier finds, from its own record where it has one. source: rules.md, usual rejections. */
function rejections(f: PortFiling, record: KeptRecord | null, lines: readonly Portability[]): Reason[] {
  const wireless = lines.every((l) => l.kind === 'wireless');
  const out: Reason[] = [];
  const say = (field: string, code: string, message: string): void => void out.push({ field, code, message });
  for (const line of lines) if (!line.portable) say('numbers', 'not-portable', `${line.e164}: ${line.whyNot}`);
  if (wireless && f.pin.replace(/0/g, '') === '') say('pin', 'wrong-pin', 'The PIN does not match.');
  if (!record) return out;
  for (const c of compareRecord(
    { ...f, pinExpires: '', holderKind: 'business', linesStay: false, oldServiceEnds: '' },
    record,
  )) {
    if (c.likeness !== 'will be rejected') continue;
    if (wireless && !['accountNumber', 'postalCode'].includes(c.field)) continue;
    // The carrier says that something differs, not what its record says.
    say(c.field, `record-${c.field}`, `Does not match our record. ${c.why}`);
  }
  if (wireless && f.pin !== record.pin) say('pin', 'wrong-pin', 'The PIN does not match.');
  if (record.freeze) say('numbers', 'freeze', 'The account is frozen against leaving.');
  if (record.pendingOrder) say('numbers', 'pending-order', 'An order is pending on this account.');
  for (const e164 of f.numbers)
    if (!record.numbers.some((n) => n.e164 === e164 && n.active))
      say('numbers', 'not-active', `${e164} is not an active number of this account.`);
  return out;
}
