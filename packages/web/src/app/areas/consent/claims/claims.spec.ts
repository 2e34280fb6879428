import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { ClaimsPage } from './claims';

const LOT = {
  id: 'int_1',
  fileName: 'counter.csv',
  broughtAt: Date.parse('2027-01-12T15:00:00Z'),
  broughtBy: 'Wren Eide',
  attestation: 'The counter kept the list.',
  claim: 'signed at the counter',
  people: 214,
  open: { people: 170, informational: 160, promotional: 170 },
  agreed: 30,
};
const DONE = {
  ...LOT,
  id: 'int_2',
  fileName: 'spring.csv',
  open: { people: 0, informational: 0, promotional: 0 },
  agreed: 214,
};
const PEOPLE = {
  items: [
    {
      e164: '+12125550101',
      name: 'Ada Eide',
      contactId: 'con_1',
      date: '2026-11-02',
      source: 'fair',
      disclosure: 'Text me offers.',
      unproven: ['promotional'],
    },
    {
      e164: '+12125550102',
      name: '',
      contactId: null,
      date: '',
      source: '',
      disclosure: '',
      unproven: ['informational', 'promotional'],
    },
  ],
  next: 'more',
  total: 170,
};

describe('claims without proof', () => {
  let p: OpenPage;
  const open = async (at: string, over: Record<string, unknown> = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(
      ClaimsPage,
      { 'claims.list': { items: [LOT, DONE], open: LOT.open }, 'claims.people': PEOPLE, ...over },
      { at, role: role as 'administrator' },
    );
  };
  afterEach(() => closePage(p));
  const links = (): (string | undefined)[][] =>
    [...p.host.querySelectorAll<HTMLAnchorElement>('lg-docket a')].map((a) => [
      a.textContent?.trim(),
      a.pathname.split('/').slice(3).join('/') + a.search,
    ]);

  it('stand by their lots, beside what their forms would open', async () => {
    await open('/page');
    expect(p.text()).toContain('170 numbers stand on a claim that nothing proves.');
    expect(p.text()).toContain('With its forms 170 could be sent offers and 160 notices');
    const rows = [...p.host.querySelectorAll('tr[data-row]')].map((r) => r.textContent?.replace(/\s+/g, ' ').trim());
    expect(rows[0]).toContain('counter.csv');
    expect(rows[0]).toContain('signed at the counter');
    expect(rows[0]).toContain('170');
    expect(rows[1]).toContain('spring.csv');
  });

  it('open to their people at an address of their own, and lead to the form of all and of each', async () => {
    await open('/page');
    await p.press('counter.csv');
    expect(p.url()).toBe('/page?open=int_1');
    expect(p.api.of('claims.people').map((a) => a.query)).toEqual([{ limit: 100 }]);
    expect(links()).toContain(['File the forms of all 170', 'consent/forms/file?claims=int_1']);
    expect(links()).toContain(['File their form', 'consent/forms/file?e164=%2B12125550101']);
    expect(links()).toContain(['Ada Eide', 'contacts?open=con_1']);
    expect(links()).toContain(['invite them by e-mail', 'consent/invitations']);
    expect(p.text()).toContain('2026-11-02, fair, with words');
    expect(p.text()).toContain('no contact any more');
    expect(p.text()).toContain('The first 2 of 170 are shown');
    // 214 claims, 170 open, 30 agreed.
    expect(p.text()).toMatch(/Can only speak themselves\s*14/);
  });

  it('of which nothing is open asks for nothing more', async () => {
    await open('/page?open=int_2');
    expect(p.text()).not.toContain('Find the form');
    expect(links().map(([words]) => words)).not.toContain('invite them by e-mail');
  });

  it('are shown to who only reads, who files none', async () => {
    await open('/page?open=int_1', {}, 'viewer');
    expect(p.text()).toContain('Ada Eide');
    expect(links().filter(([, to]) => to?.includes('forms/file'))).toEqual([]);
  });

  it('are explained where there are none', async () => {
    await open('/page', { 'claims.list': { items: [], open: { people: 0, informational: 0, promotional: 0 } } });
    expect(p.text()).toContain('No claims without proof');
  });
});
