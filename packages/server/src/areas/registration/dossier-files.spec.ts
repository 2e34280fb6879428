import { DossierFile } from '@long-gate/contracts';
import { Office } from '../../testing/office.js';
import { Registering, SAMPLES } from '../../testing/registering.js';

const LIST = [
  'Legal name,Name line,Legal form,EIN,Street,City,State,ZIP,Website,E-mail,Contact,Title,Telephone,Industry',
  '"Tern Bay Kayaks, LLC",Tern Bay,company,36-2234567,2 Slip Road,Aldersund,nj,07030,ternbay.example,desk@ternbay.example,Ilse Marn,owner,201-555-0166,retail',
  ',,company,,,,,,,,,,,',
  'Heron Lane Bakery LLC,,private company,,,,,,,,,,,',
  'Orrin Vale,Kiln: Studio,sole proprietor,,,,,,,,,,,',
  'Aldersund Choir,,club,,,,,,,,,,,',
  'Quillmere Harbour,,public body,,,,,,,,,,,shipping',
].join('\r\n');

describe('a dossier in a file', () => {
  let o: Office;
  let r: Registering;
  beforeEach(async () => {
    r = await Registering.open();
    ({ o } = r);
  });
  afterEach(() => o.close());

  it('goes out whole, without the tax number, and comes in as drafts that say the same', async () => {
    await r.readyBrand({ tradingName: 'Heron Lane', industry: 'retail' });
    const id = await r.readyCampaign();
    const file = await o.app.dossierFiles.file(o.business);
    const text = JSON.stringify(file);
    expect(text).not.toContain('1234567');
    expect(file.campaigns.find((c) => c.name === 'News' && c.body.samples[0] === SAMPLES[0])).toBeDefined();
    const other = await o.app.platform.db.write((w) =>
      o.app.businesses.add(w, o.admin, { legalName: 'Tern Bay LLC', nameLine: 'Tern Bay', form: 'private company' }),
    );
    const dossier = () => o.app.registration.dossier(other);
    const looked = await o.app.dossierFiles.take(o.admin, other, 'k1', text, false);
    expect(looked.items.map((i) => i.taken)).toEqual([true, true, true]);
    expect((await dossier()).campaigns)
      .withContext('only looked at')
      .toEqual([]);
    for (let i = 0; i < 2; i++) await o.app.dossierFiles.take(o.admin, other, 'k1', text, true);
    const made = await dossier();
    expect(made.campaigns.length).withContext('the same wish twice').toBe(2);
    expect(made.campaigns.every((c) => c.state === 'draft' && c.attempt === 0)).toBeTrue();
    expect(made.campaigns[1]?.body).toEqual((await r.campaign(id)).body);
    expect([made.brand.body.legalName, made.brand.body.tradingName, made.brand.taxNumberMasked]).toEqual([
      'Tern Bay LLC',
      'Heron Lane',
      '',
    ]);
  });

  it('changes nothing that is filed, and says what it leaves out and why', async () => {
    await r.registeredBrand();
    const text = JSON.stringify({
      ...(await o.app.dossierFiles.file(o.business)),
      campaigns: [],
      tollFree: [
        {
          e164: '+18005550199',
          body: { useCase: '', volume: 0, description: '', agreement: '', samples: [''], proofUrl: '' },
          state: 'draft',
          attempt: 0,
          submittedAt: null,
          decidedAt: null,
          reasons: [],
        },
      ],
    });
    const before = await r.brand();
    const { items } = await o.app.dossierFiles.take(o.admin, o.business, 'k', text, true);
    expect(items.map((i) => [i.taken, i.words])).toEqual([
      [false, 'It stays: the brand here is registered.'],
      [false, 'This number is not here.'],
    ]);
    expect(await r.brand()).toEqual(before);
  });

  it('that is another file is refused with the place where it is one', async () => {
    const take = (text: string) => o.app.dossierFiles.take(o.admin, o.business, 'k', text, true);
    await expectAsync(take('not at all')).toBeRejectedWithError(/no JSON/);
    await expectAsync(take('{"format":"something"}')).toBeRejectedWithError(/no dossier/);
    const file = await o.app.dossierFiles.file(o.business);
    const wrong = { ...file, campaigns: [{ ...file.campaigns[0], body: { samples: 'none' } }] };
    await expectAsync(take(JSON.stringify(wrong))).toBeRejectedWithError(/campaigns\.0\.body/);
    expect(DossierFile.safeParse(file).success).toBeTrue();
  });

  it('is printed as a PDF over HTTP, for viewers too', async () => {
    await r.readyCampaign();
    const door = await o.door();
    const viewer = await o.person('Ada', 'viewer');
    const visitor = await door.visitor(viewer.id);
    const pdf = await visitor.ask('GET', `/businesses/${o.business}/registration/dossier.pdf`);
    expect([pdf.status, pdf.type]).toEqual([200, 'application/pdf']);
    const denied = await visitor.ask('POST', `/businesses/${o.business}/registration/imports`, {
      text: '{}',
      sure: true,
    });
    expect(denied.status).toBe(403);
    await door.close();
  });
});

describe('dossiers begun from a list', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());
  const names = async () => (await o.app.businesses.of(o.admin.id)).map((b) => b.legal_name);

  it('says of each line what becomes of it before anything is made', async () => {
    const said = await o.app.dossierStarts.take(o.admin, LIST, false);
    expect(said.map((s) => [s.line, s.result])).toEqual([
      [2, 'new'],
      [3, 'wrong'],
      [4, 'there'],
      [5, 'wrong'],
      [6, 'wrong'],
      [7, 'new'],
    ]);
    expect(said[3]?.words).toContain('may not contain a colon');
    expect(said[4]?.words).toContain('“club” is no legal form');
    expect(said[5]?.words).toContain('industry is not known');
    expect(await names()).toEqual(['Heron Lane Bakery LLC']);
  });

  it('makes each business whole, once, with whoever began it as its administrator', async () => {
    await o.app.dossierStarts.take(o.admin, LIST, true);
    expect((await o.app.dossierStarts.take(o.admin, LIST, true)).map((s) => s.result)).toEqual([
      'there',
      'wrong',
      'there',
      'wrong',
      'wrong',
      'there',
    ]);
    expect(await names()).toEqual(['Heron Lane Bakery LLC', 'Tern Bay Kayaks, LLC', 'Quillmere Harbour']);
    const made = (await o.app.businesses.of(o.admin.id))[1];
    const { brand, nameLine } = await o.app.registration.dossier(made?.id ?? '');
    expect([nameLine, brand.body.form, brand.body.regions, brand.body.representatives[0]?.name]).toEqual([
      'Tern Bay',
      'private company',
      ['NJ'],
      'Ilse Marn',
    ]);
    expect(brand.findings.filter((f) => f.severity === 'block')).toEqual([]);
    expect(brand.taxNumberMasked).not.toBe('');
    const rows = await o.app.platform.db.write((w) => w.all<{ after: string }>(`SELECT after FROM audit`));
    expect(rows.some((row) => row.after.includes('2234567')))
      .withContext('the tax number in the trail')
      .toBeFalse();
  });

  it('that cannot be read says what the list lacks', async () => {
    const take = (csv: string) => o.app.dossierStarts.take(o.admin, csv, true);
    await expectAsync(take('Form,Town\ncompany,Aldersund')).toBeRejectedWithError(/no column “Legal name”/);
    expect((await take('Legal name;Legal form\nTern Bay;company')).map((s) => s.result)).toEqual(['new']);
    await expectAsync(take('Legal name\nA')).toBeRejectedWithError(/no column “Legal form”/);
    await expectAsync(take('Legal name,Legal form\n"A,b')).toBeRejectedWithError(/cannot be read as CSV/);
  });
});
