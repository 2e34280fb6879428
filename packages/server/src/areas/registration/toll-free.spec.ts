import { EMPTY_TOLL_FREE } from '@long-gate/contracts';
import { Office } from '../../testing/office.js';
import { Registering } from '../../testing/registering.js';

const BODY = {
  ...EMPTY_TOLL_FREE,
  useCase: 'customer-care',
  volume: 1_000,
  description: 'Heron Lane answers customers who call or text the bakery about their orders.',
  agreement: 'People write to the number first; it stands on the page heron.example/orders and on every bag.',
  samples: ['Heron Lane: your order is ready at the counter until 18:00. Reply STOP to end.'],
  proofUrl: 'https://heron.example/orders',
};
const PICTURE = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3]);

describe('the verification of a toll-free number', () => {
  let o: Office;
  const id = 'num_free';
  beforeEach(async () => {
    o = await Office.open();
    const r = new Registering(o);
    await r.settle();
    await o.app.platform.db.write((w) =>
      w.run(
        `INSERT INTO number (id, business_id, e164, kind, state, ordered_at, active_at) VALUES ($1,$2,'+18005550199','toll-free','active',0,0)`,
        [id, o.business],
      ),
    );
  });
  afterEach(() => o.close());

  const desk = () => o.app.registration.tollFree;
  const one = async () => (await desk().all(o.app.platform.db, o.business))[0]!;
  const clearance = async () => (await o.app.numbers.sender(o.app.platform.db, o.business, id)).clearance;
  const registeredBrand = () => new Registering(o).registeredBrand();

  it('stands open for each in service, and nothing is sent before it is done', async () => {
    expect([(await one()).state, await clearance()]).toEqual(['draft', 'number-not-verified']);
    expect((await one()).findings.map((f) => f.code)).toContain('toll-free-no-proof');
    const saved = await desk().save(o.admin, o.business, id, 1, BODY);
    expect(await clearance())
      .withContext('written, not submitted')
      .toBe('number-not-verified');
    expect(saved.findings.filter((f) => f.severity === 'block')).toEqual([]);
    await expectAsync(desk().save(o.admin, o.business, id, 1, BODY)).toBeRejectedWith(
      jasmine.objectContaining({ status: 412 }),
    );
    await expectAsync(desk().submit(o.admin, o.business, id, saved.version)).toBeRejectedWithError(
      /Register the brand|brand is draft/,
    );
    await registeredBrand();
    await desk().submit(o.admin, o.business, id, saved.version);
    await desk().submit(o.admin, o.business, id, saved.version);
    await o.settle();
    expect(o.outside.registrarAsked.get(`${id}:1`)).toEqual(
      jasmine.objectContaining({ e164: '+18005550199', proof: BODY.proofUrl, volume: 1_000 }),
    );
    expect(await clearance()).toBe('registration-pending');
    await o.hear({ kind: 'toll-free.verified', key: `${id}:1` });
    expect([(await one()).state, await clearance()]).toEqual(['registered', 'cleared']);
    const sender = await o.app.numbers.sender(o.app.platform.db, o.business, id);
    expect([sender.campaign?.useCase, sender.throughput.numberPerSecond]).toEqual(['customer-care', 3]);
    await expectAsync(desk().save(o.admin, o.business, id, null, BODY)).toBeRejectedWithError(/verified for/);
  });

  it('that was declined says why at its field, and is mended and handed in again', async () => {
    await registeredBrand();
    await desk().save(o.admin, o.business, id, null, BODY);
    await desk().submit(o.admin, o.business, id, null);
    const reasons = [{ field: 'proof', code: 'proof-unreadable', message: 'The page cannot be opened.' }];
    await o.hear({ kind: 'toll-free.declined', key: `${id}:1`, reasons });
    expect([(await one()).reasons, await clearance()]).toEqual([reasons, 'registration-declined']);
    await desk().save(o.admin, o.business, id, null, { ...BODY, volume: 10_000 });
    await desk().submit(o.admin, o.business, id, null);
    await o.hear({ kind: 'toll-free.verified', key: `${id}:1` });
    expect((await one()).state)
      .withContext('the answer to an earlier try')
      .toBe('in review');
    expect((await desk().tries(o.business, id)).map((t) => [t.attempt, t.state, t.body.volume])).toEqual([
      [1, 'declined', 1_000],
      [2, 'in review', 10_000],
    ]);
    await o.hear({ kind: 'toll-free.verified', key: `${id}:2` });
    expect((await one()).state).toBe('registered');
  });

  it('takes a picture of the form as proof, the last one alone, and notes who looks at it', async () => {
    await registeredBrand();
    await desk().save(o.admin, o.business, id, null, { ...BODY, proofUrl: '' });
    expect((await one()).findings.map((f) => f.code)).toContain('toll-free-no-proof');
    await expectAsync(
      desk().uploadProof(o.admin, o.business, id, { name: 'form.txt', bytes: Buffer.from('no picture') }),
    ).toBeRejectedWithError(/no PDF, PNG or JPEG/);
    await desk().uploadProof(o.admin, o.business, id, { name: 'old.png', bytes: PICTURE });
    await desk().uploadProof(o.admin, o.business, id, { name: 'form.png', bytes: Buffer.concat([PICTURE, PICTURE]) });
    const { proof, findings } = await one();
    expect([proof?.name, findings.some((f) => f.code === 'toll-free-no-proof')]).toEqual(['form.png', false]);
    const read = await desk().readProof(o.admin, o.business, id);
    expect([read.type, read.bytes.length]).toEqual(['image/png', 2 * PICTURE.length]);
    await desk().submit(o.admin, o.business, id, null);
    await o.settle();
    expect(o.outside.registrarAsked.get(`${id}:1`)?.['proof']).toBe(proof?.sha256);
    await expectAsync(
      desk().uploadProof(o.admin, o.business, id, { name: 'late.png', bytes: PICTURE }),
    ).toBeRejectedWithError(/in review/);
  });

  it('stands on Today once, as long as something is to do or to wait for', async () => {
    const told = async (): Promise<string[]> =>
      (await o.app.today.get(o.business)).matters
        .filter((m) => m.title.includes('800-555-0199'))
        .map((m) => `${m.weight} ${m.link}`);
    const link = `registration/toll-free/${id}`;
    expect(await told()).toEqual([`stop ${link}`]);
    await registeredBrand();
    await desk().save(o.admin, o.business, id, null, BODY);
    await desk().submit(o.admin, o.business, id, null);
    expect(await told()).toEqual([`hold ${link}`]);
    const reasons = [{ field: 'proof', code: 'proof-unreadable', message: 'The page cannot be opened.' }];
    await o.hear({ kind: 'toll-free.declined', key: `${id}:1`, reasons });
    expect(await told()).toEqual([`stop ${link}`]);
    await desk().submit(o.admin, o.business, id, null);
    await o.hear({ kind: 'toll-free.verified', key: `${id}:2` });
    expect(await told()).toEqual([]);
  });

  it('is of numbers of this business that are toll-free, and of no others', async () => {
    await expectAsync(desk().save(o.admin, o.business, o.number, null, BODY)).toBeRejectedWithError(/does not exist/);
    await expectAsync(o.app.ties.tie(o.admin, o.business, id, o.campaign)).toBeRejectedWithError(/in no campaign/);
  });
});
