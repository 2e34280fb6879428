import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { FormsPage } from './forms';

const form = (id: string, name: string) => ({
  id,
  name,
  purposes: ['informational'],
  signedOn: '2027-02-01',
  disclosure: 'Text me order updates.',
  size: 2048,
  sha256: 'ab'.repeat(32),
  people: 3,
  leftOut: 0,
  done: true,
  filedBy: 'Maren Oakhurst',
  filedAt: Date.parse('2027-02-02T15:00:00Z'),
});

describe('forms that were filed, on screen', () => {
  let p: OpenPage;
  const open = async (at: string): Promise<void> => {
    p = await openPage(
      FormsPage,
      {
        'forms.list': ({ query }: Asked) => {
          const all = [form('frm_1', 'counter.pdf'), form('frm_2', 'market.pdf')];
          const id = query['id'];
          const items = id === 'frm_old' ? [form('frm_old', 'of-years-ago.pdf')] : id === undefined ? all : [];
          return { items, next: id === undefined ? 'more' : null, total: 300 };
        },
      },
      { at },
    );
  };
  const docket = (): string => p.host.querySelector('lg-docket')?.textContent ?? '';
  const askedAlone = (): unknown[] => p.api.of('forms.list').flatMap((a) => a.query['id'] ?? []);
  afterEach(() => closePage(p));

  it('opens the one an address names, however far down it stands', async () => {
    await open('/page?open=frm_old');
    expect(docket()).toContain('of-years-ago.pdf');
    expect(askedAlone()).toEqual(['frm_old']);
    expect(p.host.querySelectorAll('tr[data-row]').length).toBe(2);
  });

  it('asks for none alone that is among those it shows', async () => {
    await open('/page');
    await p.press('market.pdf');
    expect(docket()).toContain('market.pdf');
    expect(askedAlone()).toEqual([]);
  });

  it('writes the day of the signature as days are written everywhere', async () => {
    await open('/page?open=frm_1');
    expect(p.host.querySelector('tr[data-row]')?.textContent).toContain('1 Feb 2027');
    expect(docket()).toContain('1 Feb 2027');
    expect(p.host.textContent).not.toContain('2027-02-01');
  });

  it('says that one is not here, and lets it be closed', async () => {
    await open('/page?open=frm_none');
    expect(docket()).toContain('Not found');
    expect(docket()).toContain('taken away');
    await p.press('Close');
    expect(p.host.querySelector('lg-docket')).toBeNull();
  });
});
