import { randomUUID } from 'node:crypto';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';
import { numberDigest } from './number-digest.js';

const ADA = '+12125550101';
const BRANDT = '+12125550102';

describe('contacts that are taken away', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  let ada: string;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    v = await door.visitor(o.admin.id);
    ada = await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
    await o.contact(BRANDT, ['informational'], { firstName: 'Brandt' });
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const base = (): string => `/businesses/${o.business}`;
  const remove = (body: object, key = randomUUID()) =>
    v.ask('POST', `${base()}/contacts/delete`, body, { 'idempotency-key': key });
  const names = async (): Promise<string[]> =>
    ((await v.ask('GET', `${base()}/contacts`)).body['items'] as { firstName: string }[]).map((c) => c.firstName);
  const again = (e164: string) => o.app.platform.db.write((w) => o.app.contacts.ensure(w, o.admin, o.business, e164));
  const stands = async (e164: string): Promise<Record<string, string>> =>
    (await o.app.platform.db.one(
      'SELECT consent_promotional AS promotional, trouble FROM contact_number WHERE e164 = $1',
      [e164],
    )) as Record<string, string>;

  it('are gone with one job, once, and the ledger keeps what they said', async () => {
    const events = async () =>
      (await o.app.platform.db.one<{ n: number }>('SELECT count(*) AS n FROM consent_event'))?.n;
    const before = await events();
    const key = randomUUID();
    expect((await remove({ ids: [ada], seen: 1 }, key)).status).toBe(200);
    expect((await remove({ ids: [ada], seen: 1 }, key)).status).toBe(200);
    await o.settle();
    expect(await names()).toEqual(['Brandt']);
    expect(await events()).toBe(before);
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
  });

  it('are those a filter leaves, and no more than were seen', async () => {
    expect((await remove({ filter: { promotional: 'none' }, seen: 2 })).status).toBe(409);
    expect((await remove({ filter: { promotional: 'none' }, seen: 1 })).status).toBe(200);
    await o.settle();
    expect(await names()).toEqual(['Ada']);
    expect((await remove({ ids: [ada], filter: {}, seen: 1 })).status).toBe(422);
  });

  it('come back with what they refused, at us and at the carrier', async () => {
    await o.text(ADA, 'STOP');
    await o.app.platform.db.write((w) =>
      o.app.contacts.learnTrouble(
        w,
        o.business,
        [{ e164: BRANDT, carrier: 'Tessary Wireless', detail: 'blocked' }],
        'refused-by-owner',
      ),
    );
    await remove({ filter: {}, seen: 2 });
    await o.settle();
    expect(await names()).toEqual([]);
    await again(ADA);
    await again(BRANDT);
    expect((await stands(ADA))['promotional']).toBe('revoked');
    expect((await stands(BRANDT))['trouble']).toBe('refused-by-owner');
  });

  describe('and stand on file with what was refused', () => {
    const WORK = '+12125550103';
    const elsewhere = async (e164: string): Promise<number | undefined> =>
      (
        await o.app.platform.db.one<{ n: number }>(
          'SELECT refused_elsewhere AS n FROM contact_number WHERE e164 = $1',
          [e164],
        )
      )?.n;
    const blocked = async (e164: string): Promise<void> => {
      const key = o.outside.sent.findLast((t) => t.to === e164)?.key ?? '';
      const said = {
        carrier: 'Tessary Wireless',
        failure: 'refused-by-owner' as const,
        code: '21',
        reason: 'Refused.',
      };
      await o.hear({ kind: 'text.failed', key, ...said });
    };
    const sent = async (): Promise<void> => {
      const d = await o.app.drafts.add(o.admin, o.business, await o.draft());
      await o.app.sending.send(o.admin, o.business, d.id, d.version);
      await o.later(10_000);
    };

    it('on another number of theirs, until they agree by the one that came again', async () => {
      await o.app.edits.addNumber(o.admin, o.business, ada, { number: WORK, label: '' });
      await o.text(ADA, 'STOP');
      await remove({ ids: [ada], seen: 1 });
      await o.settle();
      await again(WORK);
      expect(await elsewhere(WORK)).toBe(3);
      const agrees = (purpose: 'informational' | 'promotional') =>
        o.app.platform.db.write((w) =>
          o.app.ledger.append(w, o.business, [{ e164: WORK, kind: 'granted', how: 'keyword', purposes: [purpose] }]),
        );
      await agrees('informational');
      expect(await elsewhere(WORK)).toBe(2);
      const work = (await o.app.contacts.names(o.app.platform.db, o.business, [WORK])).get(WORK)?.contactId ?? '';
      await remove({ ids: [work], seen: 1 });
      await o.settle();
      // Nobody has it when its owner agrees to the rest.
      await agrees('promotional');
      await again(WORK);
      expect(await elsewhere(WORK)).toBe(0);
    });

    it('at the carrier, also where that is learnt when they are gone', async () => {
      await sent();
      await remove({ ids: [ada], seen: 1 });
      await o.settle();
      await blocked(ADA);
      await again(ADA);
      expect((await stands(ADA))['trouble']).toBe('refused-by-owner');
      expect((await stands(BRANDT))['trouble']).toBe('none');
    });

    it('at the carrier, also where that is learnt when they were erased', async () => {
      await sent();
      expect((await v.ask('POST', `${base()}/contacts/${ada}/erase`, { request: 'By letter of 3 March' })).status).toBe(
        200,
      );
      const kept = o.outside.sent.find((t) => t.to === ADA)?.key ?? '';
      expect(kept).not.toBe('');
      await blocked(ADA);
      await again(ADA);
      expect((await stands(ADA))['trouble']).toBe('refused-by-owner');
    });
  });

  it('get no text that waited for them', async () => {
    const draft = await o.draft({ text: 'The rye loaf is back.' });
    await remove({ ids: [ada], seen: 1 });
    await o.settle();
    const { counts } = await o.app.preview.preview(o.business, draft);
    expect(counts.pass).toBe(1);
  });

  it('are erased on request: all goes but the proof, which is on the trail by its digest', async () => {
    await o.text(ADA, 'Is there rye today?');
    await o.text(ADA, 'STOP');
    const { db } = o.app.platform;
    const events = await db.all('SELECT hash FROM consent_event ORDER BY seq');
    const done = await v.ask('POST', `${base()}/contacts/${ada}/erase`, { request: 'By letter of 3 March' });
    expect(done.status).toBe(200);
    expect(done.body['digests']).toEqual([numberDigest(o.business, ADA)]);
    const left = async (sql: string): Promise<number> => (await db.one<{ n: number }>(sql, [ADA]))?.n ?? 0;
    for (const table of ['contact_number', 'message', 'thread'])
      expect(await left(`SELECT count(*) AS n FROM ${table} WHERE e164 = $1`))
        .withContext(table)
        .toBe(0);
    expect((await db.one<{ n: number }>(`SELECT count(*) AS n FROM message WHERE text LIKE '%rye%'`))?.n).toBe(0);
    expect(await db.all('SELECT hash FROM consent_event ORDER BY seq')).toEqual(events);
    const trail = await db.one<{ after: string }>(`SELECT after FROM audit WHERE action = 'person erased'`);
    expect(trail?.after).toContain(numberDigest(o.business, ADA));
    expect(trail?.after).not.toContain('Ada');
    await again(ADA);
    expect((await stands(ADA))['promotional']).toBe('revoked');
  });

  it('are not erased while a dispute is open, and that is on the trail', async () => {
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(w, o.business, [
        { e164: ADA, purposes: ['promotional'], kind: 'disputed', how: 'e-mail', recordedBy: o.admin.id },
      ]),
    );
    const refused = await v.ask('POST', `${base()}/contacts/${ada}/erase`, { request: 'By letter of 3 March' });
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      jasmine.stringContaining('A dispute about their consent is open'),
    ]);
    expect(await names()).toEqual(['Ada', 'Brandt']);
    expect(
      (await o.app.platform.db.one<{ n: number }>(`SELECT count(*) AS n FROM audit WHERE action = 'erasing refused'`))
        ?.n,
    ).toBe(1);
  });

  it('are an administrator’s matter', async () => {
    const coordinator = await o.person('Cora', 'coordinator');
    const c = await door.visitor(coordinator.id);
    expect((await c.ask('POST', `${base()}/contacts/${ada}/erase`, { request: 'By letter' })).status).toBe(403);
    expect(
      (await c.ask('POST', `${base()}/contacts/delete`, { ids: [ada], seen: 1 }, { 'idempotency-key': randomUUID() }))
        .status,
    ).toBe(403);
  });
});
