import { GatewayRefused } from '@long-gate/gateways';
import { Office } from '../../../testing/office.js';

const LINE = '+16095550125';

describe('text-enabling a number that keeps its voice service', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const get = (id: string) => o.app.hosted.get(o.business, id);
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const inventory = async () =>
    (await o.app.numbers.list(o.app.platform.db, o.business)).filter((n) => n.e164 === LINE);

  async function ready(): Promise<string> {
    const h = await o.app.hosted.begin(o.admin, o.business, LINE, 'key-one');
    await o.app.hosted.save(o.admin, o.business, h.id, h.version, {
      ...h.facts,
      authorisedName: 'Odette Farrow',
      street: '9 Mill Street',
      city: 'Quillmere',
      state: 'nj',
      postalCode: '07030',
      campaignId: o.campaign,
    });
    const link = await o.app.hosted.makeLink(o.admin, o.business, h.id);
    await o.app.signing.sign(link.path.slice(6), { name: 'Odette Farrow', drawn: '', ip: '192.0.2.7', userAgent: '' });
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-one');
    // The answer was lost, the wish comes again: one call, paid once.
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-one');
    await expectAsync(o.app.hosted.confirm(o.admin, o.business, h.id, '1')).toBeRejectedWithError(/not the code/);
    await o.app.hosted.confirm(o.admin, o.business, h.id, '481516');
    return h.id;
  }

  it('asks for letter and code before anything is filed or paid', async () => {
    const before = await balance();
    const h = await o.app.hosted.begin(o.admin, o.business, LINE, 'key-one');
    expect((await o.app.hosted.begin(o.admin, o.business, LINE, 'key-one')).id).toBe(h.id);
    expect(h.findings.map((f) => f.code)).toContain('hosted-letter-missing');
    expect(h.findings.map((f) => f.code)).toContain('hosted-code-missing');
    await expectAsync(o.app.hosted.submit(o.admin, o.business, h.id, 'submit-1')).toBeRejectedWith(
      jasmine.objectContaining({ code: 'findings' }),
    );
    expect(await balance()).toBe(before);
    await expectAsync(o.app.hosted.begin(o.admin, o.business, LINE, 'key-two')).toBeRejectedWithError(/on its way/);
  });

  it('ends the signing link where the letter is changed, and holds the signature against the set-up', async () => {
    const h = await o.app.hosted.begin(o.admin, o.business, LINE, 'key-one');
    const save = async (over: Partial<typeof h.facts>) => {
      const now = await get(h.id);
      await o.app.hosted.save(o.admin, o.business, h.id, now.version, { ...now.facts, ...over });
    };
    await save({ authorisedName: 'Odette Farrow', street: '9 Mill Street', city: 'Quillmere', postalCode: '07030' });
    const link = await o.app.hosted.makeLink(o.admin, o.business, h.id);
    await save({ label: 'Front desk' });
    expect((await get(h.id)).letter.linkEnded)
      .withContext('a label is in no letter')
      .toBeFalse();
    await save({ holderName: 'Heron Lane Holdings LLC' });
    expect((await get(h.id)).letter.linkEnded).toBeTrue();
    await expectAsync(o.app.signing.letterToSign(link.path.slice(6))).toBeRejectedWith(
      jasmine.objectContaining({ status: 410, code: 'link-changed' }),
    );
    const again = await o.app.hosted.makeLink(o.admin, o.business, h.id);
    await o.app.signing.sign(again.path.slice(6), { name: 'Bram Oak', drawn: '', ip: '192.0.2.7', userAgent: '' });
    expect((await get(h.id)).findings.map((f) => f.code)).toContain('hosted-letter-signer-differs');
  });

  it('refuses a mobile, and a number another provider texts for, and says what to do', async () => {
    o.outside.hosting.test = (e164) =>
      Promise.resolve({ e164, kind: 'wireless', voiceCarrier: 'Tessary Wireless', enabledElsewhere: '' });
    const mobile = await o.app.hosted.begin(o.admin, o.business, '+16095550126', 'key-m');
    expect(mobile.nextStep.why).toContain('Port it in, or take a new number.');
    o.outside.hosting.test = (e164) =>
      Promise.resolve({
        e164,
        kind: 'landline',
        voiceCarrier: 'Harth Telephone',
        enabledElsewhere: 'Pellmark Messaging',
      });
    const other = await o.app.hosted.begin(o.admin, o.business, '+16095550127', 'key-o');
    expect(other.nextStep.why).toContain('Have texting taken off there first');
  });

  it('is refused, mended, approved once, sends like any other, and is taken off with voice untouched', async () => {
    const before = await balance();
    const id = await ready();
    await o.app.hosted.submit(o.admin, o.business, id, 'submit-2');
    await o.app.hosted.submit(o.admin, o.business, id, 'submit-3');
    await o.hear({
      kind: 'hosting.refused',
      key: `${id}:1`,
      reasons: [{ field: 'holderName', code: 'wrong-holder', message: 'Another name.' }],
    });
    expect([(await get(id)).state, (await get(id)).reasons[0]?.field]).toEqual(['refused', 'holderName']);
    await o.app.hosted.submit(o.admin, o.business, id, 'submit-4');
    for (let i = 0; i < 2; i++) await o.hear({ kind: 'hosting.approved', key: `${id}:2` });
    const [number, ...more] = await inventory();
    expect(more).toEqual([]);
    expect([number?.source, number?.monthly, number?.tieState, number?.capabilities]).toEqual([
      'hosted',
      900_000,
      'attaching',
      ['send', 'receive'],
    ]);
    // The first month, and a call, which costs what a text costs.
    expect(before - (await balance())).toBe(900_000 + 7_000);
    const letter = await o.app.platform.db.one<{ what: string }>(
      `SELECT what FROM document WHERE object_kind = 'hosted'`,
    );
    expect(letter?.what).toBe('letter');
    await o.app.hosted.end(o.admin, o.business, id);
    expect((await inventory()).map((n) => n.state)).toEqual(['released']);
    expect((await get(id)).state).toBe('off');
    expect((await o.app.hosted.begin(o.admin, o.business, LINE, 'key-again')).state)
      .withContext('it may come again')
      .toBe('draft');
  });

  it('is taken off at the carrier too where the number is lost for its fee, and can be set up anew', async () => {
    const ended = spyOn(o.outside.hosting, 'end').and.callThrough();
    const id = await ready();
    await o.app.hosted.submit(o.admin, o.business, id, 'submit-lost');
    await o.hear({ kind: 'hosting.approved', key: `${id}:1` });
    await o.app.platform.db.write((w) => w.run('UPDATE business SET balance = 0'));
    await o.later(47 * 86_400_000);
    expect((await inventory()).map((n) => `${n.state}: ${n.ended}`)).toEqual(['released: unpaid']);
    expect((await get(id)).state).toBe('off');
    expect(ended.calls.allArgs().flat()).toEqual([`${id}:end`, LINE]);
    expect(o.outside.givenBack).withContext('it was never the exchange’s').toEqual([]);
    expect((await o.app.hosted.begin(o.admin, o.business, LINE, 'key-again')).state).toBe('draft');
  });

  it('gives the money back when a refused set-up is given up', async () => {
    const before = await balance();
    const id = await ready();
    await o.app.hosted.submit(o.admin, o.business, id, 'submit-5');
    await o.hear({ kind: 'hosting.refused', key: `${id}:1`, reasons: [] });
    await o.app.hosted.end(o.admin, o.business, id);
    await o.app.hosted.end(o.admin, o.business, id);
    expect(before - (await balance()))
      .withContext('the call was made')
      .toBe(7_000);
  });

  it('takes five tries at a code, however many come at once, then wants a new call; five calls a day', async () => {
    const h = await o.app.hosted.begin(o.admin, o.business, LINE, 'key-tries');
    const confirm = (code: string) => o.app.hosted.confirm(o.admin, o.business, h.id, code);
    await expectAsync(confirm('481516')).toBeRejectedWithError(/have the line called/);
    let asked = 0;
    o.outside.hosting.confirmCode = (_e164, code) => Promise.resolve(asked++ >= 0 && code === '481516');
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-1');
    const tries = await Promise.allSettled(Array.from({ length: 8 }, (_, i) => confirm(String(100_000 + i))));
    expect([tries.every((t) => t.status === 'rejected'), asked]).toEqual([true, 5]);
    await expectAsync(confirm('481516'))
      .withContext('the right one, too late')
      .toBeRejectedWithError(/called again/);
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-2');
    await confirm('481516');
    for (const n of [3, 4, 5]) await o.app.hosted.call(o.admin, o.business, h.id, `call-${n}`);
    await expectAsync(o.app.hosted.call(o.admin, o.business, h.id, 'call-6')).toBeRejectedWithError(/5 times a day/);
  });

  it('pays a call back that the carrier does not make, waits for no code of it, and can have the line called again', async () => {
    const h = await o.app.hosted.begin(o.admin, o.business, LINE, 'key-one');
    const before = await balance();
    const call = spyOn(o.outside.hosting, 'callWithCode').and.rejectWith(
      new GatewayRefused('Nobody answers on this line.', 'no-answer'),
    );
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-one');
    expect(await balance()).toBeLessThan(before);
    await o.settle();
    expect(await balance()).toBe(before);
    await expectAsync(o.app.hosted.confirm(o.admin, o.business, h.id, '481516')).toBeRejectedWithError(
      /have the line called/,
    );
    // What is said of one call ends no other, which was asked for since.
    let asked = 0;
    call.and.callFake(() =>
      ++asked === 1 ? Promise.reject(new GatewayRefused('Nobody answers.', 'no-answer')) : Promise.resolve(),
    );
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-two');
    await o.app.platform.clock.moveTo(o.now + 60_000);
    await o.app.hosted.call(o.admin, o.business, h.id, 'call-three');
    await o.settle();
    expect(asked).toBe(2);
    await o.app.hosted.confirm(o.admin, o.business, h.id, '481516');
    expect(await balance()).toBeLessThan(before);
  });
});
