import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { CoveragePage } from './coverage';

const kept = (post: number, result: string, reason: string, count: number) => ({ post, result, reason, count });
const ROWS = [
  {
    listId: null,
    name: '',
    kind: 'all',
    people: 200,
    informational: { may: 120, kept: [kept(3, 'hold', 'never-looked-up', 30), kept(6, 'stop', 'consent-none', 50)] },
    promotional: { may: 50, kept: [kept(5, 'stop', 'opted-out', 20), kept(6, 'stop', 'consent-none', 130)] },
  },
  {
    listId: 'lst_1',
    name: 'Regulars',
    kind: 'list',
    people: 20,
    informational: { may: 20, kept: [] },
    promotional: { may: 5, kept: [kept(6, 'stop', 'consent-none', 15)] },
  },
];

describe('coverage', () => {
  let p: OpenPage;
  const open = async (at: string): Promise<void> => {
    p = await openPage(
      CoveragePage,
      {
        'consent.coverage': { items: ROWS },
        'consent.covered': {
          items: [{ contactId: 'con_1', name: 'Ada', e164: '+12125550101', email: 'ada@mail.example' }],
          next: null,
          total: 130,
        },
      },
      { at },
    );
  };
  afterEach(() => closePage(p));

  it('shows of all and of each list how many may be texted for what, and what keeps most', async () => {
    await open('/page');
    const rows = [...p.host.querySelectorAll('tr[data-row]')].map((r) => r.textContent?.replace(/\s+/g, ' ').trim());
    expect(rows[0]).toContain('All contacts');
    expect(rows[0]).toContain('never agreed to this kind of text: 130');
    expect(rows[1]).toContain('Regulars');
    const bars = [...p.host.querySelectorAll<HTMLElement>('.bar > span')].map((b) => b.style.width);
    expect(bars).toEqual(['60%', '25%', '100%', '25%']);
  });

  it('opens a count to its people, at an address of its own, and shows what helps', async () => {
    await open('/page');
    await p.press('All contacts');
    expect(p.url()).toBe('/page?open=all');
    expect(p.text()).toContain('Choose a count to see who is in it.');
    expect(p.api.of('consent.covered')).toEqual([]);
    const help = [...p.host.querySelectorAll<HTMLAnchorElement>('lg-docket a')].map((a) => [
      a.textContent?.trim(),
      a.pathname.split('/').slice(3).join('/') + a.search,
    ]);
    expect(help).toContain(['Look them up', 'contacts?textable=unknown']);
    expect(help).toContain(['Invite them by e-mail', 'consent/invitations']);
    await p.press('opted out');
    expect(p.url()).toBe('/page?open=all&of=promotional&why=opted-out');
    expect(p.api.of('consent.covered').map((a) => a.query)).toEqual([
      { purpose: 'promotional', limit: 100, reason: 'opted-out' },
    ]);
    expect(p.text()).toContain('130 kept from offers: opted out');
    expect(p.text()).toContain('The first 1 are shown.');
    expect(p.text()).toContain('ada@mail.example');
  });

  it('asks for the people of a list, who may be texted', async () => {
    await open('/page?open=lst_1&of=informational');
    expect(p.api.of('consent.covered').map((a) => a.query)).toEqual([
      { purpose: 'informational', limit: 100, listId: 'lst_1' },
    ]);
    expect(p.text()).toContain('may get notices');
  });
});
