import { ApiProblem } from '../../api/api';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { PagesPage } from './pages';

const page = {
  id: 'pag_1',
  slug: 'rye-club',
  title: 'The rye club',
  intro: '',
  purposes: [{ purpose: 'promotional', label: 'Text me news about bread', frequency: 'about twice a month' }],
  numberId: 'num_1',
  privacyUrl: 'https://heron.example/privacy',
  termsUrl: 'https://heron.example/terms',
  published: true,
  pageVersion: 2,
  optIns: 2821,
  weeks: [
    { from: '2027-03-01', agreed: 9, confirmed: 7 },
    { from: '2027-03-08', agreed: 4, confirmed: 1 },
  ],
  version: 4,
};
const number = { id: 'num_1', e164: '+12015550142', label: 'Offers', state: 'active', kind: 'local', deciding: null };

describe('opt-in pages', () => {
  let p: OpenPage;
  let kept: typeof page;
  const open = async (at: string, role = 'administrator', over: Partial<typeof page> = {}): Promise<void> => {
    kept = { ...page, ...over };
    p = await openPage(
      PagesPage,
      {
        'pages.list': () => ({ items: [kept] }),
        'numbers.list': { items: [number] },
        'pages.versions': {
          items: [
            {
              sha256: 'ab'.repeat(32),
              pageVersion: 1,
              title: 'The bread club',
              firstAt: Date.parse('2027-01-04T15:00:00Z'),
            },
          ],
        },
        'pages.add': { ...page, id: 'pag_2' },
        'pages.edit': (a: { body: object; version?: number }) =>
          a.version === kept.version
            ? (kept = { ...kept, ...a.body, version: kept.version + 1 })
            : new ApiProblem(412, 'changed-meanwhile', 'Changed.', []),
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));

  it('stand at an address each, with how many agreed', async () => {
    await open('/page');
    expect(p.text()).toContain('/join/rye-club');
    expect(p.text()).toContain('2,821');
    await p.press('The rye club');
    expect(p.url()).toBe('/page?open=pag_1');
    expect(p.host.querySelector<HTMLInputElement>('#title')?.value).toBe('The rye club');
  });

  it('can be opened again as they were, and printed as a code', async () => {
    await open('/page?open=pag_1');
    const links = [...p.host.querySelectorAll<HTMLAnchorElement>('lg-docket a[download]')].map((a) => a.href);
    expect(links.some((l) => l.endsWith(`/page-versions/${'ab'.repeat(32)}`))).toBeTrue();
    expect(links.some((l) => l.endsWith('/pages/pag_1/qr-code?as=svg'))).toBeTrue();
    expect(links.some((l) => l.endsWith('/pages/pag_1/qr-code?as=png'))).toBeTrue();
    expect(links.some((l) => l.endsWith('/pages/pag_1/paper-form?sheets=1'))).toBeTrue();
    expect(links.some((l) => l.endsWith('/pages/pag_1/paper-form?sheets=50'))).toBeTrue();
    expect(p.text()).toContain('“The bread club”, words of version 1');
    closePage(p);
    await open('/page?open=new');
    expect(p.host.querySelector('lg-docket a[download]'))
      .withContext('a page that is being made has neither')
      .toBeNull();
  });

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
    expect(p.url()).toBe('/page');
  });

  it('show a fault of a kind at the line that says it', async () => {
    await open('/page?open=pag_1');
    await p.fill('promotional', 'News');
    await p.fill('promotionalOften', 'x');
    await p.press('Save');
    const wrong = (id: string) => document.getElementById(`${id}-wrong`)?.textContent?.trim();
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
    await open('/page');
    await p.press('Make a page');
    await p.fill('title', 'Another');
    await p.press('Cancel');
    expect(p.api.of('pages.add')).toEqual([]);
    await p.press('Make a page');
    expect(p.host.querySelector<HTMLInputElement>('#title')?.value).toBe('');
  });

  it('show what came of them by week, drawn and in words', async () => {
    await open('/page');
    expect(p.host.querySelector('lg-spark svg')?.getAttribute('aria-label')).toBe(
      '13 agreed to in 26 weeks, 8 confirmed',
    );
    expect(p.text()).toContain('Agreed to and confirmed, by week');
    expect(p.host.querySelector('lg-chart')).not.toBeNull();
  });

  it('draw nothing by week where nobody has agreed yet', async () => {
    await open('/page', 'administrator', { weeks: [{ from: '2027-03-08', agreed: 0, confirmed: 0 }] });
    expect(p.host.querySelector('lg-chart')).toBeNull();
  });

  it('are read, not written, by one who may not', async () => {
    await open('/page?open=pag_1', 'viewer');
    expect(p.host.querySelector('form')).toBeNull();
  });
});
