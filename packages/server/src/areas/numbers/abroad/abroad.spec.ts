import { Office } from '../../../testing/office.js';

describe('countries and sender IDs', () => {
  let o: Office;
  const BRITISH = '+447700900123';
  const AUSTRALIAN = '+61491570006';
  const AMERICAN = '+12125550123';
  const SIGNATURE = 'Stop or reply: heron.example/stop';
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const judged = async (
    numberId: string,
    e164: string,
    text = `Heron Lane: fresh bread. ${SIGNATURE}`,
  ): Promise<string> => {
    const v = await o.app.texts.judgeOne(o.app.platform.db, {
      businessId: o.business,
      kind: 'dispatch',
      purpose: 'promotional',
      numberId,
      e164,
      text,
    });
    return v.result === 'pass' ? 'pass' : `${v.result} ${v.post} ${v.reason}`;
  };
  const country = async (code: string): Promise<string> => (await o.app.countries.get(o.business, code)).state;

  it('opens a country at once or after admission, and closes it again; the gate follows', async () => {
    await o.contact(BRITISH, ['promotional']);
    const s = await o.app.senderIds.add(o.admin, o.business, 'HERONLANE', SIGNATURE);
    await o.app.senderIds.useIn(o.admin, o.business, s.id, 'GB');
    expect(await judged(s.id, BRITISH)).toBe('stop 2 country-closed');
    expect((await o.app.countries.get(o.business, 'GB')).contacts).toBe(1);
    await o.app.countries.open(o.admin, o.business, 'GB');
    expect(await judged(s.id, BRITISH)).toBe('pass');
    await o.app.countries.close(o.admin, o.business, 'GB');
    expect(await judged(s.id, BRITISH)).toBe('stop 2 country-closed');

    expect(await country('SG')).toBe('registration needed');
    await expectAsync(o.app.countries.open(o.admin, o.business, 'SG')).toBeRejectedWithError(/website/);
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET website = 'http://heron.example'`));
    await o.app.countries.open(o.admin, o.business, 'SG');
    expect(await country('SG')).toBe('in review');
    await o.hear({ kind: 'country.refused', key: `${o.business}:SG:1`, reason: 'Not over https.' });
    expect([await country('SG'), (await o.app.countries.get(o.business, 'SG')).note]).toEqual([
      'refused',
      'Not over https.',
    ]);
    await o.app.countries.open(o.admin, o.business, 'SG');
    await o.hear({ kind: 'country.admitted', key: `${o.business}:SG:1` });
    expect(await country('SG'))
      .withContext('an answer to the earlier question')
      .toBe('in review');
    await o.hear({ kind: 'country.admitted', key: `${o.business}:SG:2` });
    expect(await country('SG')).toBe('open');
  });

  it('uses a sender ID by three different rules: free, registered first, never', async () => {
    for (const e164 of [BRITISH, AUSTRALIAN, AMERICAN]) await o.contact(e164, ['promotional']);
    for (const code of ['GB', 'AU']) await o.app.countries.open(o.admin, o.business, code);
    const before = (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
    const s = await o.app.senderIds.add(o.admin, o.business, 'HERONLANE', SIGNATURE);
    expect(await judged(s.id, BRITISH)).toBe('stop 7 sender-not-for-country');
    await o.app.senderIds.useIn(o.admin, o.business, s.id, 'GB');
    for (let i = 0; i < 2; i++) await o.app.senderIds.useIn(o.admin, o.business, s.id, 'AU');
    await expectAsync(o.app.senderIds.useIn(o.admin, o.business, s.id, 'US')).toBeRejectedWithError(
      /allows no sender IDs/,
    );
    const night = await judged(s.id, AUSTRALIAN);
    expect(night).toBe('stop 7 sender-not-for-country');
    await o.hear({ kind: 'sender.registered', key: `${s.id}:AU:1` });
    expect(await judged(s.id, BRITISH)).toBe('pass');
    // At noon in New York it is night in Australia.
    expect(await judged(s.id, AUSTRALIAN)).toBe('hold 10 outside-hours');
    expect(await judged(s.id, AMERICAN)).toBe('stop 7 sender-not-for-country');
    expect(before - (await o.app.businesses.row(o.app.platform.db, o.business)).balance).toBe(25_000_000);
  });

  it('finds before the fee what a country will refuse: an unrelated name, or a business it has not admitted', async () => {
    const balance = async () => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
    const before = await balance();
    const odd = await o.app.senderIds.add(o.admin, o.business, 'BREADNEWS', SIGNATURE);
    const of = (s: typeof odd, code: string) => s.countries.find((c) => c.code === code)?.findings.map((f) => f.code);
    expect(of(odd, 'IE')).toEqual(['sender-id-unrelated', 'sender-id-country-closed']);
    expect(of(odd, 'GB')).toEqual(['sender-id-country-closed']);
    await expectAsync(o.app.senderIds.useIn(o.admin, o.business, odd.id, 'IE')).toBeRejectedWithError(
      /does not follow from “Heron Lane”/,
    );
    const own = await o.app.senderIds.add(o.admin, o.business, 'HERONLANE', SIGNATURE);
    expect(of(own, 'SG')).toEqual(['sender-id-not-admitted']);
    await expectAsync(o.app.senderIds.useIn(o.admin, o.business, own.id, 'SG')).toBeRejectedWithError(
      /Ask for admission/,
    );
    expect(await balance())
      .withContext('nothing was paid')
      .toBe(before);
    await o.app.senderIds.useIn(o.admin, o.business, own.id, 'IE');
    expect(await balance()).toBeLessThan(before);
  });

  it('stops one-way offers that name no way to stop, whatever they say of STOP', async () => {
    await o.contact(BRITISH, ['promotional']);
    await o.app.countries.open(o.admin, o.business, 'GB');
    const s = await o.app.senderIds.add(o.admin, o.business, 'HERONLANE', SIGNATURE);
    await o.app.senderIds.useIn(o.admin, o.business, s.id, 'GB');
    expect(await judged(s.id, BRITISH, 'Heron Lane: fresh bread.')).toBe('stop 8 signature-missing');
    expect(await judged(s.id, BRITISH, 'Heron Lane: fresh bread. Reply STOP to end.')).toBe('stop 8 signature-missing');
  });

  it('counts the signature in the length and puts it in the place of the stop line', async () => {
    const s = await o.app.senderIds.add(o.admin, o.business, 'HERONLANE', SIGNATURE);
    const p = await o.app.preview.prepare(
      o.app.platform.db,
      o.business,
      await o.draft({ text: 'Fresh bread.', purpose: 'promotional', numberId: s.id }),
    );
    expect(p.example).toBe(`Heron Lane: Fresh bread. ${SIGNATURE}`);
    expect(p.unitsWorst).toBe(p.example.length);
  });

  it('refuses a sender ID that cannot be shown, one in use, and a signature that leads nowhere', async () => {
    const add = (text: string, signature = SIGNATURE) => o.app.senderIds.add(o.admin, o.business, text, signature);
    await expectAsync(add('123456')).toBeRejectedWithError(/look like a telephone number/);
    await expectAsync(add('HERON', 'Bye')).toBeRejectedWithError(/does not say how to stop/);
    const s = await add('HERON');
    await expectAsync(add('HERON')).toBeRejectedWithError(/in use already/);
    await o.app.senderIds.drop(o.admin, o.business, s.id);
    expect((await add('HERON')).text).toBe('HERON');
  });
});
