import { Office } from '../../testing/office.js';
import { Registering } from '../../testing/registering.js';

const DAY = 86_400_000;
const HOUR = 3_600_000;
const WHY = 'The letter 147C of the tax office names us with just this number; it is in our files.';

describe('the brand with the registrar', () => {
  let o: Office;
  let r: Registering;
  beforeEach(async () => {
    r = await Registering.open();
    ({ o } = r);
  });
  afterEach(() => o.close());

  it('shows how far it has come, in the order of what happened, and forgets it at the next try', async () => {
    await r.readyBrand();
    const id = await r.submittedBrand();
    const stage = (name: 'received' | 'checked by machine', key = `${id}:1`) =>
      o.hear({ kind: 'filing.stage', what: 'brand', key, stage: name });
    await stage('received');
    await stage('checked by machine');
    await stage('received', `${id}:7`);
    expect((await r.brand()).stages.map((s) => s.stage)).toEqual(['received', 'checked by machine']);
    const version = (await r.brand()).version;
    await stage('checked by machine');
    expect([(await r.brand()).stages.length, (await r.brand()).version])
      .withContext('told twice it stands once, and disturbs nobody')
      .toEqual([2, version]);
    await o.hear({
      kind: 'brand.declined',
      key: `${id}:1`,
      reasons: [{ field: 'taxNumber', code: 'name-number-mismatch', message: 'Another name.' }],
      results: [{ field: 'legalName', result: 'not checked', note: '' }],
    });
    expect((await r.brand()).results.map((x) => [x.field, x.result])).toEqual([['legalName', 'not checked']]);
    await o.app.registration.brands.submit(o.admin, o.business, 'again');
    expect([(await r.brand()).stages, (await r.brand()).results]).toEqual([[], []]);
  });

  it('of a listed company has its e-mail confirmed by a code before campaigns, anew for another address', async () => {
    const { brandEmail, campaigns, brands } = o.app.registration;
    await o.app.businesses.topUp(o.admin, o.business, 100_000_000, 'more');
    await expectAsync(brandEmail.mailCode(o.admin, o.business, 'k')).toBeRejectedWithError(/listed company/);
    await r.readyBrand({ form: 'listed company', exchange: 'NYSE', ticker: 'HRN' });
    const id = await r.submittedBrand();
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    const campaign = await r.readyCampaign();
    await expectAsync(campaigns.submit(o.admin, o.business, campaign, 'c1')).toBeRejectedWithError(/confirmed before/);
    for (let i = 0; i < 2; i++) await brandEmail.mailCode(o.admin, o.business, 'k');
    await o.settle();
    const mails = o.outside.mails.filter((m) => m.to === 'office@heron.example');
    expect(mails.length).toBe(1);
    const code = /^(\d{6})\s*$/m.exec(mails[0]?.raw ?? '')?.[1] ?? '';
    await expectAsync(brandEmail.confirm(o.admin, o.business, '000000')).toBeRejectedWithError(/not the code/);
    await brandEmail.confirm(o.admin, o.business, code);
    expect((await r.brand()).emailMissing).toBeFalse();
    await campaigns.submit(o.admin, o.business, campaign, 'c2');
    const b = await r.brand();
    await brands.save(o.admin, o.business, b.version, { ...b.body, email: 'desk@heron.example' }, undefined);
    expect((await r.brand()).emailMissing).toBeTrue();
    await brandEmail.mailCode(o.admin, o.business, 'k2');
    for (let i = 0; i < 5; i++)
      await expectAsync(brandEmail.confirm(o.admin, o.business, '1')).toBeRejectedWithError(/not the code/);
    await expectAsync(brandEmail.confirm(o.admin, o.business, '1')).toBeRejectedWithError(/no code/);
  });

  it('keeps each version that was submitted with its decision', async () => {
    await o.app.businesses.topUp(o.admin, o.business, 60_000_000, 'more');
    await r.readyBrand();
    const id = await r.submittedBrand();
    const reasons = [{ field: 'city', code: 'x', message: 'Where?' }];
    await o.hear({ kind: 'brand.declined', key: `${id}:1`, reasons });
    await r.readyBrand({ city: 'Northbank' });
    await o.app.registration.brands.submit(o.admin, o.business, 'again');
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    const tries = await o.app.registration.brands.tries(o.business);
    expect(tries.map((t) => [t.attempt, t.state, t.body.city, t.reasons.length])).toEqual([
      [1, 'declined', 'Quillmere', 1],
      [2, 'in review', 'Northbank', 0],
    ]);
  });

  it('may be objected to once for each decline, for 45 days, and that costs nothing', async () => {
    const { brands } = o.app.registration;
    await r.readyBrand();
    await expectAsync(brands.appeal(o.admin, o.business, WHY)).toBeRejectedWithError(/no decline/);
    const id = await r.submittedBrand();
    const reasons = [{ field: 'taxNumber', code: 'name-number-mismatch', message: 'Another name.' }];
    await o.hear({ kind: 'brand.declined', key: `${id}:1`, reasons });
    const before = await r.balance();
    expect((await r.brand()).appealUntil).toBe(((await r.brand()).decidedAt ?? 0) + 45 * DAY);
    await brands.appeal(o.admin, o.business, WHY);
    await brands.appeal(o.admin, o.business, WHY);
    await o.settle();
    expect([(await r.brand()).state, await r.balance()]).toEqual(['in review', before]);
    expect(o.outside.registrarAsked.get(`${id}:1:appeal`)).toEqual({ brandKey: `${id}:1`, text: WHY });
    await o.hear({ kind: 'brand.declined', key: `${id}:1`, reasons });
    await expectAsync(brands.appeal(o.admin, o.business, WHY)).toBeRejectedWithError(/once for each/);
    await o.app.businesses.topUp(o.admin, o.business, 60_000_000, 'more');
    await brands.submit(o.admin, o.business, 'again');
    await o.hear({ kind: 'brand.declined', key: `${id}:2`, reasons });
    await o.later(46 * DAY);
    await expectAsync(brands.appeal(o.admin, o.business, WHY)).toBeRejectedWithError(/45 days/);
  });

  it('is vetted for a fee, once at a time, and its score sets what may be sent', async () => {
    const { vettings } = o.app.registration;
    await o.app.businesses.topUp(o.admin, o.business, 100_000_000, 'more');
    await r.readyBrand();
    await expectAsync(vettings.order(o.admin, o.business, 'v1', '')).toBeRejectedWithError(/once it is registered/);
    const id = await r.submittedBrand();
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    const pace = async () => (await r.campaign(o.campaign)).throughput.campaignPerSecond;
    const before = await r.balance();
    expect(await pace()).toBe(4);
    await vettings.order(o.admin, o.business, 'v1', '');
    await vettings.order(o.admin, o.business, 'v1', '');
    await o.settle();
    expect(before - (await r.balance())).toBe(41_500_000);
    await expectAsync(vettings.order(o.admin, o.business, 'v2', '')).toBeRejectedWithError(/on its way/);
    const [first] = (await r.brand()).vettings;
    const { version } = await r.brand();
    for (const score of [52, 99]) await o.hear({ kind: 'vetting.scored', key: first?.id ?? '', score });
    expect([(await r.brand()).score, await pace()]).toEqual([52, 40]);
    expect((await r.brand()).version)
      .withContext('whoever edits is not disturbed')
      .toBe(version);
    // Objected to once, for nothing; then a further one is paid.
    await vettings.order(o.admin, o.business, 'v3', WHY);
    await o.settle();
    expect(before - (await r.balance())).toBe(41_500_000);
    const second = (await r.brand()).vettings[1];
    expect(o.outside.registrarAsked.get(second?.id ?? '')?.['objection']).toBe(WHY);
    await o.hear({ kind: 'vetting.scored', key: second?.id ?? '', score: 60 });
    await expectAsync(vettings.order(o.admin, o.business, 'v4', WHY)).toBeRejectedWithError(/once for each/);
    await vettings.order(o.admin, o.business, 'v5', '');
    const third = (await r.brand()).vettings[2];
    await o.hear({ kind: 'vetting.failed', key: third?.id ?? '', reason: 'The site was down.' });
    expect([(await r.brand()).score, (await r.brand()).vettings[2]?.failure]).toEqual([60, 'The site was down.']);
  });

  it('of a sole proprietor waits for the owner, who can be asked again on another mobile', async () => {
    await o.app.platform.db.write((w) => w.run(`UPDATE business SET form = 'sole proprietor'`));
    await r.readyBrand({ form: 'sole proprietor', mobile: '732-555-0134' }, null);
    const id = await r.submittedBrand();
    await o.settle();
    const { confirmation } = o.app.registration;
    await expectAsync(confirmation.askAgain(o.admin, o.business, 'k', '7325550135')).toBeRejectedWithError(
      /does not wait/,
    );
    const until = o.now + 24 * HOUR;
    await o.hear({ kind: 'brand.confirmation-asked', key: `${id}:1`, until });
    expect((await r.brand()).confirmation).toEqual({ until: Math.round(until), lapsed: false, asks: 1 });
    await o.later(25 * HOUR);
    await o.hear({ kind: 'brand.confirmation-lapsed', key: `${id}:1` });
    expect((await r.brand()).confirmation?.lapsed).toBeTrue();
    const [dossier] = await o.app.dossiers.of(o.admin.id);
    expect(dossier?.steps.find((s) => s.step === 'brand')?.words).toBe('owner did not answer');
    await expectAsync(confirmation.askAgain(o.admin, o.business, 'k', 'by pigeon')).toBeRejectedWithError(
      /no telephone number/,
    );
    await confirmation.askAgain(o.admin, o.business, 'k', '(732) 555-0135');
    await confirmation.askAgain(o.admin, o.business, 'k', '(732) 555-0135');
    await o.settle();
    const asked = [...o.outside.registrarAsked.values()];
    expect(asked).toEqual([{ brandKey: `${id}:1`, mobile: '+17325550135' }]);
    const later = o.now + 24 * HOUR;
    await o.hear({ kind: 'brand.confirmation-asked', key: `${id}:1`, until: later });
    // The first one's end comes late and ends nothing.
    await o.hear({ kind: 'brand.confirmation-lapsed', key: `${id}:1` });
    expect((await r.brand()).confirmation).toEqual({ until: Math.round(later), lapsed: false, asks: 2 });
    await o.hear({ kind: 'brand.registered', key: `${id}:1` });
    expect([(await r.brand()).state, (await r.brand()).confirmation]).toEqual(['registered', null]);
    await expectAsync(o.app.registration.vettings.order(o.admin, o.business, 'v', '')).toBeRejectedWithError(
      /sole proprietor is not vetted/,
    );
  });
});
