import { dayNumber, isoOfDay } from '@long-gate/core';
import { askForCuts } from '../../migrations/days-of-the-business.js';
import { GatewayDown } from '@long-gate/gateways';
import { Office } from '../../testing/office.js';
import { cutTextDays, latencySteps } from '../dispatch/index.js';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const ZONE = 'America/New_York';

describe('watch', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  let n = 0;
  /** Texts as they ended, without sending them. */
  async function ended(count: number, over: Record<string, unknown> = {}): Promise<void> {
    const row = {
      business_id: o.business,
      direction: 'out',
      kind: 'dispatch',
      purpose: 'promotional',
      number_id: o.number,
      e164: '+12125550123',
      text: 'x',
      segments: 1,
      state: 'delivered',
      carrier: 'Tessary Wireless',
      created_at: o.now - HOUR,
      sent_at: o.now - HOUR,
      final_at: o.now - HOUR + 4000,
      ...over,
    } as Record<string, unknown>;
    row.day ??= dayNumber(Number(row.sent_at ?? row.created_at), ZONE);
    const names = Object.keys(row);
    await o.app.platform.db.write(async (w) => {
      for (let i = 0; i < count; i++)
        await w.run(
          `INSERT INTO message (id, ${names.join(', ')}) VALUES ($1, ${names.map((_, k) => `$${k + 2}`).join(', ')})`,
          [`msg_${++n}`, ...Object.values(row)],
        );
    });
  }
  const failed = { state: 'failed', failure: 'filtered', failure_reason: 'filtered by the carrier' };
  const number = async (days = 90) =>
    (await o.app.watch.numbers(o.business, days)).find((x) => x.numberId === o.number);

  it('counts rates over final receipts only, a text of three segments as one, with an interval', async () => {
    await ended(36, { segments: 3 });
    await ended(4, failed);
    await ended(5, { state: 'sent', final_at: null });
    await ended(3, { state: 'held', sent_at: null, final_at: null });
    await ended(2, { state: 'stopped', sent_at: null, final_at: null });
    const x = await number();
    expect([x?.sent, x?.pending]).toEqual([45, 5]);
    expect([x?.delivered?.k, x?.delivered?.n, x?.filtered?.k, x?.filtered?.n]).toEqual([36, 40, 4, 40]);
    expect(x?.delivered?.low).toBeLessThan(0.9);
    expect(x?.delivered?.high).toBeGreaterThan(0.9);
    expect(x?.medianSeconds).toBe(4);
  });

  it('gives no rate for nothing', async () => {
    const x = await number();
    expect([x?.sent, x?.delivered, x?.filtered, x?.optOuts, x?.medianSeconds, x?.level]).toEqual([
      0,
      null,
      null,
      null,
      null,
      'quiet',
    ]);
  });

  it('looks back so many days and no further', async () => {
    await ended(4, { sent_at: o.now - 10 * DAY });
    await ended(2);
    expect([(await number(30))?.sent, (await number(5))?.sent]).toEqual([6, 2]);
    const days = await o.app.watch.days(o.business, 30, undefined);
    expect(days.map((d) => d.delivered)).toEqual([4, 2]);
  });

  it('knows how long delivery took over any number of days, wherever in a week they begin', async () => {
    for (let i = 0; i < 24; i++) {
      const sent = o.now - i * DAY;
      await ended(1, { sent_at: sent, final_at: sent + 1000 * (i + 1) });
    }
    const today = dayNumber(o.now, ZONE);
    for (let days = 1; days <= 24; days++) {
      const steps = await latencySteps(o.app.platform.db, o.business, today - days + 1);
      expect(steps.reduce((n, x) => n + x.n, 0))
        .withContext(`${days} days`)
        .toBe(days);
      // The middle of 1, 2, … seconds.
      expect((await number(days))?.medianSeconds).toBe(Math.floor(days / 2) + 1);
    }
  });

  it('tells what each number carried on each day, today last, and nothing of a number that carried nothing', async () => {
    await ended(3, { sent_at: o.now - 2 * DAY });
    await ended(2);
    await ended(1, failed);
    await ended(4, { sent_at: o.now - 40 * DAY });
    await ended(2, { direction: 'in', kind: 'reply', state: 'received', sent_at: null, created_at: o.now - HOUR });
    const { from, items } = await o.app.watch.carried(o.business, 30);
    expect(from).toBe('2030-02-11');
    expect(items.map((x) => x.numberId)).toEqual([o.number]);
    const [mine] = items;
    expect([mine?.sent.length, mine?.sent.slice(-3), mine?.received.slice(-1)]).toEqual([30, [3, 0, 3], [2]]);
    expect(mine?.sent.reduce((a, b) => a + b, 0)).toBe(6);
  });

  describe('in the days of the business', () => {
    const LATE = Date.UTC(2030, 2, 13, 2, 30); // half past ten at night on the 12th in New York
    const e164 = '+12125550131';
    const perDay = async (): Promise<Record<string, [delivered: number, optOuts: number]>> =>
      Object.fromEntries(
        (await o.app.watch.days(o.business, 5, undefined)).map((d) => [d.day, [d.delivered, d.optOuts]]),
      );
    const received = async (): Promise<Record<string, number>> => {
      const { from, items } = await o.app.watch.carried(o.business, 5);
      const first = Date.parse(from) / DAY;
      return Object.fromEntries(
        (items[0]?.received ?? []).flatMap((n, i) => (n > 0 ? [[isoOfDay(first + i), n]] : [])),
      );
    };
    const choose = async (timeZone: string): Promise<void> => {
      await o.editBusiness({ timeZone });
      await o.settle();
    };
    beforeEach(async () => {
      await o.contact(e164, ['informational', 'promotional']);
      await ended(1, { e164, sent_at: o.now - HOUR });
      await o.app.platform.clock.moveTo(LATE);
      await o.text(e164, 'STOP');
      await o.settle();
    });

    it('a text late in the evening, its answer and who left count on that day, not on the next in Greenwich', async () => {
      expect((await perDay())['2030-03-12']?.[1]).toBe(1);
      expect(await received()).toEqual({ '2030-03-12': 1 });
      const days = await o.app.platform.db.all<{ day: number }>('SELECT DISTINCT day FROM text_day WHERE n > 0');
      expect(days.map((d) => isoOfDay(d.day)))
        .withContext('also the confirmation that left')
        .toEqual(['2030-03-12']);
    });

    it('are cut anew when its time zone is changed, also of what was counted before, and hold on to no old day', async () => {
      await choose('Pacific/Auckland');
      expect(await received()).toEqual({ '2030-03-13': 1 });
      const days = await perDay();
      expect([days['2030-03-12'], days['2030-03-13']])
        .withContext('delivered at 15:00 UTC and at 2:30')
        .toEqual([undefined, [jasmine.any(Number), 1]]);
      expect(await o.miscounted()).toEqual({});
      await choose(ZONE);
      expect(await received()).toEqual({ '2030-03-12': 1 });
    });

    it('are cut for whoever had counted in UTC before there were any', async () => {
      const { db } = o.app.platform;
      await db.write((w) => w.run('UPDATE message SET day = NULL'));
      expect(await received()).toEqual({ '2030-03-13': 1 });
      await askForCuts(db.migrationConnection.getQueryInterface());
      o.app.platform.engine.wake();
      await o.settle();
      expect(await received()).toEqual({ '2030-03-12': 1 });
    });

    it('are cut lot by lot, from the place that was reached', async () => {
      const { db } = o.app.platform;
      await ended(30);
      for (let i = 0; i < 12; i++) await ended(3, { e164: `+1212555${150 + i}` });
      const total = (await db.one<{ n: number }>('SELECT count(*) AS n FROM message WHERE day IS NOT NULL'))?.n;
      let cut: { after: string; cut: number } | null = { after: '', cut: 0 };
      let lots = 0;
      while (cut) {
        const from: { after: string; cut: number } = cut;
        cut = await db.write((w) => cutTextDays(w, o.business, 'Pacific/Auckland', from, 5));
        lots++;
      }
      expect(lots).toBeGreaterThan(5);
      const wrong = await db.all<{ at: number; day: number }>(
        `SELECT coalesce(sent_at, created_at) AS at, day FROM message WHERE day IS NOT NULL`,
      );
      expect(wrong.length).toBe(total ?? 0);
      expect(wrong.filter((x) => x.day !== dayNumber(x.at, 'Pacific/Auckland'))).toEqual([]);
    });
  });

  it('raises a level where the lower end of the interval passes it and three events stand behind it', async () => {
    await ended(40);
    await ended(2, failed);
    expect((await number())?.level)
      .withContext('two are too few')
      .toBe('quiet');
    await ended(6, failed);
    const x = await number();
    expect([x?.level, x?.because]).toEqual(['watch', 'filtered above 1%']);
  });

  it('books an opt-out on the number that wrote to the person last, once, and stops at three in a hundred', async () => {
    await ended(60);
    const people = Array.from({ length: 8 }, (_, i) => `+1212555${String(130 + i).padStart(4, '0')}`);
    for (const e164 of people) {
      await o.contact(e164, ['informational', 'promotional']);
      await ended(1, { e164, sent_at: o.now - 2 * HOUR });
      await o.text(e164, 'STOP');
      await o.text(e164, 'STOP');
    }
    const x = await number();
    expect([x?.optOuts?.k, x?.level, x?.because]).toEqual([8, 'stop and look', 'opt-outs above 3%']);
    expect(x?.replies).toBe(16);
    const [day] = (await o.app.watch.days(o.business, 5, o.number)).slice(-1);
    expect(day?.optOuts).toBe(8);
  });

  it('finds opt-outs that are booked elsewhere, not at all, or without having been, and books them anew', async () => {
    const { db, keptCounts } = o.app.platform;
    const people = ['+12125550131', '+12125550132', '+12125550133'];
    for (const e164 of people) {
      await ended(1, { e164 });
      await db.write((w) =>
        o.app.ledger.append(w, o.business, [{ e164, purposes: ['promotional'], kind: 'revoked', how: 'reply' }]),
      );
    }
    const wrong = async (mend: boolean): Promise<number> => {
      let all = 0;
      for await (const { differing } of keptCounts.check(db, mend)) all += differing;
      return all;
    };
    expect(await wrong(false)).toBe(0);
    await db.write(async (w) => {
      await w.run(`UPDATE opt_out SET number_id = 'num_other' WHERE e164 = $1`, [people[0]]);
      await w.run('DELETE FROM opt_out WHERE e164 = $1', [people[1]]);
      await w.run(
        `INSERT INTO opt_out (business_id, e164, happened_at, number_id) VALUES ($1, '+12125550199', 5, '')`,
        [o.business],
      );
    });
    expect(await wrong(false)).toBe(3);
    expect(await wrong(true)).toBe(3);
    expect(await wrong(false)).toBe(0);
    expect((await number())?.optOuts?.k).toBe(3);
  });

  describe('opt-outs of somebody', () => {
    const ADA = '+12125550141';
    async function send(): Promise<void> {
      const d = await o.app.drafts.add(o.admin, o.business, await o.draft());
      await o.app.sending.send(o.admin, o.business, d.id, d.version);
      await o.settle();
    }

    it('who was erased since stay with the number that had written to them', async () => {
      const id = await o.contact(ADA, ['informational']);
      await send();
      await o.later(5_000);
      await o.text(ADA, 'STOP');
      await o.hear({ kind: 'text.delivered', key: o.outside.sent[0]?.key ?? '', carrier: 'Tessary Wireless' });
      expect((await number())?.optOuts?.k).toBe(1);
      await o.app.removals.erase(o.admin, o.business, id, 'By letter of 3 March');
      expect(await o.miscounted()).toEqual({});
      for await (const _ of o.app.platform.keptCounts.check(o.app.platform.db, true));
      expect((await number())?.optOuts?.k).toBe(1);
    });

    it('while a text to them was in the air are booked on it only where it had left', async () => {
      await o.contact(ADA, ['informational']);
      o.outside.nextSend = new GatewayDown('no answer');
      await send();
      expect(o.outside.sent.length).toBe(0);
      await o.text(ADA, 'STOP');
      await o.later(60_000);
      const booked = await o.app.platform.db.one<{ id: string }>('SELECT number_id AS id FROM opt_out');
      expect(booked?.id).toBe('');
      expect(await o.miscounted()).toEqual({});
    });
  });

  it('breaks down by reason and by carrier, of one number or all', async () => {
    await ended(6);
    await ended(2, { ...failed, carrier: 'Nimbrel Mobile' });
    await ended(1, {
      ...failed,
      failure: 'not-textable',
      failure_reason: 'no mobile there',
      carrier: 'Nimbrel Mobile',
    });
    expect((await o.app.watch.reasons(o.business, 30, undefined)).map((r) => [r.key, r.count, r.final])).toEqual([
      ['filtered by the carrier', 2, 9],
      ['no mobile there', 1, 9],
    ]);
    expect(
      (await o.app.watch.carriers(o.business, 30, o.number)).map((c) => [c.carrier, c.delivered?.k, c.delivered?.n]),
    ).toEqual([
      ['Tessary Wireless', 6, 6],
      ['Nimbrel Mobile', 0, 3],
    ]);
    expect(await o.app.watch.reasons(o.business, 30, 'num_other')).toEqual([]);
    await expectAsync(o.app.watch.carriers('biz_other', 30, undefined)).toBeRejectedWithError(/does not exist/);
  });
});
