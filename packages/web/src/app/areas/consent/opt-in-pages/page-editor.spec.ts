import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { RYE_CLUB } from '../../../../testing/opt-in-page';
import { PageEditor } from './page-editor';

const page = RYE_CLUB;
const number = { id: 'num_1', e164: '+12015550142', label: 'Offers', state: 'active', kind: 'local', deciding: null };

describe('an opt-in page that is written', () => {
  let p: OpenPage;
  let kept: typeof page;
  const open = async (at: string, role = 'administrator'): Promise<void> => {
    kept = { ...page };
    p = await openPage(
      PageEditor,
      {
        'pages.list': () => ({ items: [kept] }),
        'pages.versions': { items: [] },
        'numbers.list': { items: [number] },
        'pages.add': { ...page, id: 'pag_2' },
        'pages.edit': (a: { body: object; version?: number }) =>
          a.version === kept.version
            ? (kept = { ...kept, ...a.body, version: kept.version + 1 })
            : new ApiProblem(412, 'changed-meanwhile', 'Changed.', []),
        'pages.picture': () => (kept = { ...kept, picture: { name: 'loaf.png', sha256: 'ab'.repeat(32) }, version: 5 }),
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));
  const preview = (): string => p.host.querySelector('iframe')?.srcdoc ?? '';
  const toggle = async (words: string): Promise<void> =>
    (await p.loader.getHarness(MatButtonToggleHarness.with({ text: words }))).check();
  const wrong = (id: string) => document.getElementById(`${id}-wrong`)?.textContent?.trim();

  it('are saved when it is said, each kind that is offered with its words', async () => {
    await open('/page?open=pag_1');
    await p.fill('informational', 'Text me when my order is ready');
    await p.fill('informationalOften', 'as it is ready');
    expect(p.api.of('pages.edit')).toEqual([]);
    await p.press('Save');
    const [edit] = p.api.of('pages.edit');
    expect([edit?.version, (edit?.body as typeof page).purposes.map((x) => x.purpose)]).toEqual([
      4,
      ['informational', 'promotional'],
    ]);
  });

  it('show a fault of a kind at the line that says it', async () => {
    await open('/page?open=pag_1');
    await p.fill('promotional', 'News');
    await p.fill('promotionalOften', 'x');
    await p.press('Save');
    expect(wrong('promotional')).toBe('Say what is sent.');
    expect(wrong('promotionalOften')).toContain('Say how often');
    expect(document.activeElement?.id).toBe('promotional');
    expect(p.api.of('pages.edit')).toEqual([]);
  });

  it('bring two people’s words together, and ask about those that both changed', async () => {
    await open('/page?open=pag_1');
    await p.fill('title', 'The bread club');
    kept = { ...kept, title: 'The sourdough club', intro: 'Welcome.', version: 5 };
    await p.press('Save');
    expect(p.text()).toContain('Choose what shall stand');
    expect(p.host.querySelector<HTMLTextAreaElement>('#intro')?.value).toBe('Welcome.');
    await p.press('Keep yours');
    await p.press('Save');
    expect([kept.title, kept.intro, kept.version]).toEqual(['The bread club', 'Welcome.', 6]);
  });

  it('can be begun and left: what was typed is not sent', async () => {
    await open('/page?open=new');
    await p.fill('title', 'Another');
    await p.press('Cancel');
    expect(p.api.of('pages.add')).toEqual([]);
    closePage(p);
    await open('/page?open=new');
    expect(p.host.querySelector<HTMLInputElement>('#title')?.value).toBe('');
  });

  it('is seen as people will see it, while it is typed', async () => {
    await open('/page?open=pag_1');
    expect(preview()).toContain('<h1>The rye club</h1>');
    await p.fill('title', 'Bread & <b>more</b>');
    await p.fill('accent', '#204060');
    await p.settle();
    expect(preview()).toContain('<h1>Bread &amp; &lt;b&gt;more&lt;/b&gt;</h1>');
    expect(preview()).toContain('background:#204060');
    expect(p.host.querySelector('iframe')?.getAttribute('sandbox')).toBe('');
    await p.fill('thanksCode', 'ROLL-7');
    await toggle('After');
    expect(preview()).toContain('<p class="code">ROLL-7</p>');
    await toggle('On a desk');
    expect(p.host.querySelector('iframe')?.style.width).toBe('1100px');
  });

  it('says while it is typed what is missing, where', async () => {
    await open('/page?open=pag_1');
    expect(p.text()).not.toContain('finding');
    await p.fill('promotionalOften', 'sometimes');
    await p.settle();
    expect(p.text()).toContain('“sometimes” does not say how often.');
    expect(p.text()).toContain('One finding; it must be mended before it can be live.');
    await p.press('Save');
    expect(p.api.of('pages.edit')).withContext('it is not asked for in vain').toEqual([]);
    expect(p.said.join()).toContain('It can be saved paused meanwhile.');
    await p.fill('promotionalOften', 'weekly');
    await p.fill('ground', '#808080');
    await p.settle();
    expect(p.text()).toContain('2 findings, none that keeps it from going live.');
  });

  it('shows what the server will not publish at the line it is about', async () => {
    await open('/page?open=pag_1');
    p.api.answers['pages.edit'] = () =>
      new ApiProblem(422, 'refused', 'This page cannot be published as it is.', [
        { field: 'promotionalOften', message: 'Say how often.' },
      ]);
    await p.fill('intro', 'Hello.');
    await p.press('Save');
    expect(wrong('promotionalOften')).toBe('Say how often.');
  });

  it('takes where and when its form is shown elsewhere, and says what is no number or no site', async () => {
    await open('/page?open=pag_1');
    p.host.querySelectorAll<HTMLInputElement>('mat-checkbox input')[0]?.click();
    await p.settle();
    await p.fill('sites', 'heron.example');
    await p.press('Save');
    expect(wrong('sites')).toContain('A site as it stands in a browser');
    await p.fill('sites', 'https://heron.example/, https://shop.heron.example');
    const place = p.host.querySelector<HTMLSelectElement>('#place');
    if (place) {
      place.value = 'above it';
      place.dispatchEvent(new Event('change'));
    }
    await p.settle();
    await p.fill('afterSeconds', 'soon');
    await p.press('Save');
    expect(wrong('afterSeconds')).toBe('A whole number from 0 to 600.');
    await p.fill('afterSeconds', '20');
    await p.fill('paths', '/shop/*');
    await p.press('Save');
    expect(kept.onSite).toEqual({
      sites: ['https://heron.example', 'https://shop.heron.example'],
      place: 'above it',
      devices: 'all',
      paths: ['/shop/*'],
      afterSeconds: 20,
      afterDown: 0,
      againDays: 30,
    });
  });

  it('keeps what is typed while a picture is put on it', async () => {
    await open('/page?open=pag_1');
    await p.fill('title', 'The bread club');
    const input = p.host.querySelector<HTMLInputElement>('input[type=file]');
    const files = new DataTransfer();
    files.items.add(new File(['x'], 'loaf.png', { type: 'image/png' }));
    if (input) input.files = files.files;
    input?.dispatchEvent(new Event('change'));
    await p.settle();
    await p.settle();
    expect(p.api.of('pages.picture').length).toBe(1);
    expect(p.text()).toContain('loaf.png');
    expect(p.host.querySelector<HTMLInputElement>('#title')?.value).toBe('The bread club');
    expect(preview()).toContain('/join/rye-club/picture/abababababab');
    expect(p.text()).toContain('Who cannot see the picture is not told what it shows.');
    await p.press('Save');
    expect([kept.title, kept.version]).toEqual(['The bread club', 6]);
  });

  it('is written by administrators alone, and said not to be there where it is not', async () => {
    await open('/page?open=pag_1', 'coordinator');
    expect(p.text()).toContain('An administrator writes opt-in pages');
    closePage(p);
    await open('/page?open=pag_9');
    expect(p.text()).toContain('There is no such page');
  });
});
