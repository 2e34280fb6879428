import { Office } from '../../testing/office.js';

describe('all dossiers', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const steps = async (userId = o.admin.id): Promise<Record<string, Record<string, string>>> =>
    Object.fromEntries(
      (await o.app.dossiers.of(userId)).map((d) => [
        d.legalName,
        Object.fromEntries(d.steps.map((s) => [s.step, [s.weight, s.words, s.waitsOn].filter(Boolean).join(', ')])),
      ]),
    );

  it('are of those one has a part in, and of no others', async () => {
    const { db } = o.app.platform;
    const other = await db.write((w) =>
      o.app.businesses.add(w, o.admin, { legalName: 'Orrin Vale', nameLine: 'Orrin Kiln', form: 'sole proprietor' }),
    );
    expect(Object.keys(await steps())).toEqual(['Heron Lane Bakery LLC']);
    await db.write((w) => o.member(w, o.admin.id, 'viewer', other));
    const all = await steps();
    expect(Object.keys(all)).toEqual(['Heron Lane Bakery LLC', 'Orrin Vale']);
    expect(all['Orrin Vale']).toEqual(
      jasmine.objectContaining({ account: 'stop, provisional, you', vetting: 'none, not for this form' }),
    );
    expect(await steps('usr_nobody')).toEqual({});
    const door = await o.door();
    const stranger = await door.visitor();
    expect((await stranger.ask('GET', '/dossiers')).status).toBe(401);
    const [mine] = await o.app.dossiers.of(o.admin.id);
    expect([mine?.relation, mine?.people]).toEqual(['own business', ['Wren Holloway']]);
    const own = await (await door.visitor(o.admin.id)).ask('GET', '/dossiers');
    expect((own.body as { items: unknown[] }).items.length).toBe(2);
    await door.close();
  });

  it('follow what becomes of numbers and campaigns', async () => {
    const mine = async () => (await steps())['Heron Lane Bakery LLC'] ?? {};
    expect((await mine())['campaigns']).toBe('pass, 1 registered');
    expect((await mine())['numbers']).toBe('pass, 1 cleared');
    await o.app.platform.db.write(async (w) => {
      await w.run(`UPDATE number SET tie_state = 'none', campaign_id = NULL WHERE id = $1`, [o.number]);
      await w.run(`UPDATE campaign SET state = 'declined', decided_at = 5`);
    });
    expect((await mine())['numbers']).toBe('stop, 1 of 1 not tied, you');
    const [dossier] = await o.app.dossiers.of(o.admin.id);
    expect(dossier?.steps.find((s) => s.step === 'campaigns')).toEqual({
      step: 'campaigns',
      weight: 'stop',
      words: '1 of 1 declined',
      since: 5,
      waitsOn: 'you',
    });
  });
});
