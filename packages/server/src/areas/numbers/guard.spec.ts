import { Office } from '../../testing/office.js';

const DAY_MS = 86_400_000;

describe('numbers guarded against leaving', () => {
  let o: Office;
  const other = { id: 'usr_other', name: 'Odette Farrow' };
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const guard = (actor = o.admin as { id: string; name: string }) => o.app.guard.get(actor, o.business, o.number);
  const change = (wish: 'ask to unlock' | 'say yes' | 'lock', actor = o.admin as { id: string; name: string }) =>
    o.app.guard.change(actor, o.business, o.number, wish);
  const ask = (key = 'out-1') =>
    o.hear({ kind: 'port-out.asked', key, e164: o.ours, carrier: 'Nimbrel Mobile', deadline: o.now + 2 * DAY_MS });
  const state = async (): Promise<string> => (await o.app.numbers.get(o.app.platform.db, o.business, o.number)).state;
  async function second(): Promise<void> {
    await o.app.platform.db.write(async (w) => {
      for (const u of [o.admin, other]) {
        await w.run(
          `INSERT INTO user (id, email, name, password, created_at) VALUES ($1,$1,$2,'',0) ON CONFLICT DO NOTHING`,
          [u.id, u.name],
        );
        await w.run(`INSERT INTO membership (user_id, business_id, role) VALUES ($1,$2,'administrator')`, [
          u.id,
          o.business,
        ]);
      }
    });
  }

  it('is locked by default, and unlocks only by a second person’s yes, for a week', async () => {
    await second();
    expect((await guard()).lock).toBe('locked');
    await change('ask to unlock');
    expect([(await guard()).mayConfirm, (await guard()).whyNot]).toEqual([
      false,
      'Another administrator has to say yes; you asked for it yourself.',
    ]);
    await expectAsync(change('say yes')).toBeRejectedWithError(/Another administrator/);
    expect((await guard(other)).mayConfirm).toBeTrue();
    await change('say yes', other);
    expect((await guard()).lock).toBe('unlocked');
    await o.later(7 * DAY_MS + 1000);
    expect((await guard()).lock).toBe('locked');
  });

  it('makes an only administrator wait a day', async () => {
    await change('ask to unlock');
    await expectAsync(change('say yes')).toBeRejectedWithError(/only administrator/);
    await o.later(DAY_MS + 1000);
    await change('say yes');
    expect((await guard()).lock).toBe('unlocked');
    await change('lock');
    expect((await guard()).lock).toBe('locked');
  });

  it('raises an alarm with a deadline, and refuses by itself what is locked', async () => {
    await ask();
    const { matters } = await o.app.today.get(o.business);
    const alarm = matters.find((m) => m.title.includes('Nimbrel Mobile wants to take'));
    expect([alarm?.weight, alarm?.at]).toEqual(['stop', (await guard()).attempts[0]?.deadline ?? 0]);
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    expect(await state()).toBe('active');
  });

  it('lets an unlocked number go at the deadline, unless somebody refuses before', async () => {
    await change('ask to unlock');
    await o.later(DAY_MS + 1000);
    await change('say yes');
    await ask('out-1');
    await o.app.guard.refuse(o.admin, o.business, o.number, 'out-1');
    await o.app.guard.refuse(o.admin, o.business, o.number, 'out-1');
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    await ask('out-2');
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused', 'out-2 let through']);
    await o.hear({ kind: 'port-out.left', key: 'out-2' });
    expect(await state()).toBe('released');
  });

  it('keeps the release PIN sealed, the same at every look, and each look on the record', async () => {
    const pin = await o.app.guard.pin(o.admin, o.business, o.number);
    expect(await o.app.guard.pin(o.admin, o.business, o.number)).toBe(pin);
    const rows = JSON.stringify(await o.app.platform.db.all('SELECT release_pin FROM number'));
    expect(rows).not.toContain(pin);
    const looks = await o.app.platform.db.one<{ n: number }>(
      `SELECT count(*) AS n FROM audit WHERE action = 'release PIN looked at'`,
    );
    expect(looks?.n).toBe(2);
  });
});
