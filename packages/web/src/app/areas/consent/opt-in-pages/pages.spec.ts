import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { RYE_CLUB } from '../../../../testing/opt-in-page';
import { PagesPage } from './pages';

const page = {
  ...RYE_CLUB,
  optIns: 2821,
  weeks: [
    { from: '2027-03-01', seen: 60, begun: 20, agreed: 9, confirmed: 7 },
    { from: '2027-03-08', seen: 40, begun: 5, agreed: 4, confirmed: 1 },
  ],
  versions: [{ pageVersion: 2, seen: 40, begun: 5, agreed: 4, confirmed: 1 }],
};
const number = { id: 'num_1', e164: '+12015550142', label: 'Offers', state: 'active', kind: 'local', deciding: null };

describe('opt-in pages', () => {
  let p: OpenPage;
  let kept: typeof page;
  /** Of the number that asks. */
  let state = 'active';
  const open = async (at: string, role = 'administrator', over: Partial<typeof page> = {}): Promise<void> => {
    kept = { ...page, ...over };
    p = await openPage(
      PagesPage,
      {
        'pages.list': () => ({ items: [kept] }),
        'numbers.list': { items: [{ ...number, state }] },
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
      },
      { at, role },
    );
  };
  afterEach(() => {
    closePage(p);
    state = 'active';
  });

  it('stand at an address each, with how many agreed', async () => {
    await open('/page');
    expect(p.text()).toContain('/join/rye-club');
    expect(p.text()).toContain('2,821');
    await p.press('The rye club');
    expect(p.url()).toBe('/page?open=pag_1');
    expect(p.host.querySelector('lg-docket h2')?.textContent).toBe('The rye club');
  });

  it('are not said to be live where the number that asks is gone', async () => {
    state = 'paused';
    await open('/page?open=pag_1');
    expect(p.text()).toContain('out of service');
    expect(p.text()).toContain('Nobody can join. +1 201-555-0142, which asks for the YES, is not in service.');
    expect(p.text()).toContain('Out of service at');
    closePage(p);
    await open('/page?open=pag_1', 'administrator', { published: false });
    expect(p.text()).toContain('Paused. Nobody can join by it.');
    closePage(p);
    state = 'active';
    await open('/page?open=pag_1');
    expect(p.text()).not.toContain('Nobody can join');
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
  });

  it('show what came of them by week, drawn and in words', async () => {
    await open('/page');
    expect(p.host.querySelector('lg-spark svg')?.getAttribute('aria-label')).toBe(
      '13 agreed to in 26 weeks, 8 confirmed',
    );
    expect(p.text()).toContain('Agreed to and confirmed, by week');
    expect(p.host.querySelector('lg-chart')).not.toBeNull();
  });

  it('show how many saw it, began, agreed and confirmed, and that by version of its words', async () => {
    await open('/page?open=pag_1');
    const steps = [...p.host.querySelectorAll('lg-docket dt')].map((dt) => [
      dt.textContent,
      dt.nextElementSibling?.textContent?.trim(),
      dt.nextElementSibling?.querySelector<HTMLElement>('.bar')?.style.width,
    ]);
    expect(steps).toEqual([
      ['seen', '100', '100%'],
      ['begun', '25', '25%'],
      ['agreed', '13', '13%'],
      ['confirmed', '8', '8%'],
    ]);
    expect(p.host.querySelector('lg-docket lg-table')?.textContent).toMatch(/2\s*40\s*5\s*4\s*1/);
  });

  it('hand out the one line for the business’s own site, where it may show the form', async () => {
    await open('/page?open=pag_1');
    expect(p.text()).not.toContain('On your own site');
    closePage(p);
    const onSite = { sites: ['https://heron.example'], place: 'above it', devices: 'all', paths: [] };
    await open('/page?open=pag_1', 'viewer', { onSite });
    expect(p.text()).toContain('<script src="https://texts.heron.example/join/rye-club/form.js" async></script>');
  });

  it('say what keeps a page from being live', async () => {
    await open('/page?open=pag_1', 'administrator', { privacyUrl: 'heron.example/privacy', published: false });
    expect(p.text()).toContain('1 to mend in its words.');
    closePage(p);
    await open('/page?open=pag_1', 'viewer', { published: false });
    expect(p.text()).toContain('Paused. Nobody can join by it.');
  });

  it('draw nothing by week where nobody has agreed yet', async () => {
    await open('/page', 'administrator', {
      weeks: [{ from: '2027-03-08', seen: 3, begun: 0, agreed: 0, confirmed: 0 }],
    });
    expect(p.host.querySelector('lg-chart')).toBeNull();
  });

  it('are read, not written, by one who may not', async () => {
    await open('/page?open=pag_1', 'viewer');
    expect(p.text()).not.toContain('Write it');
    expect(p.text()).not.toContain('Make a page');
  });
});
