import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { FileFormPage } from './file-form';

const WORDS = 'Text me news, about four a month. Heron Lane Bakery LLC may send me texts.';
const filed = { id: 'frm_1', name: 'form.pdf' };
const FINDING = {
  code: 'disclosure-no-stop',
  severity: 'block',
  field: 'disclosure',
  message: 'It does not say how to stop.',
  fix: 'Add “Reply STOP to end.”',
};

const PAGE = {
  id: 'pag_1',
  title: 'The rye club',
  purposes: [
    { purpose: 'informational', label: 'Text me about my orders', frequency: 'as they are ready' },
    { purpose: 'promotional', label: 'Text me news about bread', frequency: 'about twice a month' },
  ],
  privacyUrl: 'https://heron.example/privacy',
  termsUrl: 'https://heron.example/terms',
};

describe('filing a form', () => {
  let p: OpenPage;
  const open = async (at: string, review: object = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(
      FileFormPage,
      {
        'forms.review': ({ body }: Asked) => ({
          people: 1,
          leftOut: 0,
          name: 'Wren Eide',
          findings:
            (body as { form: { disclosure?: string } }).form.disclosure?.includes('STOP') === false ? [FINDING] : [],
          lastWords: WORDS,
          ...review,
        }),
        'forms.file': filed,
        'pages.list': { items: [PAGE] },
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));
  const choose = async (name: string): Promise<void> => {
    const field = p.host.querySelector<HTMLInputElement>('input[type=file]');
    const data = new DataTransfer();
    data.items.add(new File(['%PDF-1.4'], name, { type: 'application/pdf' }));
    if (field) field.files = data.files;
    field?.dispatchEvent(new Event('change'));
    await p.settle();
  };
  const tick = async (label: RegExp): Promise<void> => {
    await (await p.loader.getHarness(MatCheckboxHarness.with({ label }))).check();
    await p.settle();
  };
  const asked = () => p.api.of('forms.review').map((a) => (a.body as { whom: object }).whom);

  it('is for whom the address names: one person, a filter, or those behind a count', async () => {
    await open('/page?e164=%2B12015550171');
    expect(asked().at(-1)).toEqual(jasmine.objectContaining({ e164s: ['+12015550171'] }));
    expect(p.text()).toContain('For Wren Eide');
    closePage(p);
    await open('/page?textable=yes&list=lst_1', { people: 40, name: '' });
    expect(asked().at(-1)).toEqual(jasmine.objectContaining({ filter: { textable: 'yes', list: 'lst_1' } }));
    expect(p.text()).toContain('For 40 people');
    closePage(p);
    await open('/page?dispatch=dis_1&post=6&result=stop&reason=consent-unproven', {
      people: 170,
      leftOut: 2,
      name: '',
    });
    expect(asked().at(-1)).toEqual(
      jasmine.objectContaining({
        behind: { dispatchId: 'dis_1', post: 6, result: 'stop', reason: 'consent-unproven' },
      }),
    );
    expect(p.text()).toContain('2 more are left as they are');
    closePage(p);
    await open('/page?claims=int_1', { people: 214, name: '' });
    expect(asked().at(-1)).toEqual(jasmine.objectContaining({ claimedBy: 'int_1', e164s: null, filter: null }));
    expect(p.text()).toContain('For 214 people');
  });

  it('says where to begin with nobody named, and with an address that means nothing', async () => {
    for (const at of ['/page', '/page?dispatch=dis_1&post=99&result=perhaps']) {
      await open(at);
      expect(p.text()).toContain('For whom is it?');
      expect(p.api.of('forms.review')).toEqual([]);
      closePage(p);
    }
  });

  it('asks for all that is missing before it is sent', async () => {
    await open('/page?e164=%2B12015550171');
    await p.fill('signedOn', '1 Mar 2027');
    await p.fill('disclosure', `${WORDS} Reply STOP to end.`);
    await p.press(/File it for Wren Eide/);
    expect(p.text()).toContain('Choose the form that was signed.');
    expect(p.text()).toContain('Say for which texts they signed.');
    expect(p.api.of('forms.file')).toEqual([]);
    await choose('form.pdf');
    await tick(/informational/);
    await p.press(/File it for Wren Eide/);
    expect(p.api.of('forms.file').map((a) => a.body)).toEqual([
      jasmine.objectContaining({
        purposes: ['informational'],
        signedOn: '2027-03-01',
        name: 'form.pdf',
        base64: btoa('%PDF-1.4'),
      }),
    ]);
    expect(p.url()).toContain('/consent/forms?open=frm_1');
  });

  it('shows beside the words what keeps them from being proof, and takes those filed last', async () => {
    await open('/page?e164=%2B12015550171');
    await p.fill('signedOn', '1 Mar 2027');
    await p.press('As on the form filed last');
    await new Promise((r) => setTimeout(r, 400));
    await p.settle();
    expect(p.host.querySelector<HTMLTextAreaElement>('#disclosure')?.value).toBe(WORDS);
    expect(p.text()).toContain('It does not say how to stop.');
  });

  it('takes the words of our own paper form, for what was signed', async () => {
    await open('/page?e164=%2B12015550171');
    expect(p.text()).not.toContain('As on the paper form');
    await tick(/promotional/);
    await p.press('As on the paper form of “The rye club”');
    const words = p.host.querySelector<HTMLTextAreaElement>('#disclosure')?.value ?? '';
    expect(words).toContain('Text me news about bread.');
    expect(words).toContain('Heron Lane Bakery LLC may send me automated promotional texts');
    expect(words).not.toContain('my orders');
  });

  it('is an administrator’s to file', async () => {
    await open('/page?e164=%2B12015550171', {}, 'coordinator');
    expect(p.text()).toContain('An administrator files forms');
    expect(p.host.querySelector('form')).toBeNull();
  });

  it('cannot be filed for nobody', async () => {
    await open('/page?e164=%2B12015550171', { people: 0, leftOut: 1 });
    expect(p.host.querySelector<HTMLButtonElement>('button[type=submit]')?.disabled).toBeTrue();
  });
});
