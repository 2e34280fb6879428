import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { DossiersPage } from './dossiers';

const step = (name: string, over: object = {}) => ({
  step: name,
  weight: 'pass',
  words: 'done',
  since: null,
  waitsOn: '',
  ...over,
});
const STEPS = ['account', 'identity', 'brand', 'vetting', 'campaigns', 'numbers', 'toll-free', 'sender IDs'];
const row = (id: string, legalName: string, over: Record<string, object> = {}) => ({
  businessId: id,
  legalName,
  nameLine: legalName,
  form: 'private company',
  relation: 'client',
  people: ['Wren Holloway', 'Ada Quaife'],
  steps: STEPS.map((s) => step(s, over[s])),
});

describe('all dossiers', () => {
  let p: OpenPage;
  const line = (n: number, legalName: string, result: string, words: string) => ({
    line: n,
    legalName,
    form: 'private company',
    result,
    words,
  });
  const LINES = [
    line(2, 'Tern Bay LLC', 'new', 'Is begun.'),
    line(3, '', 'wrong', 'The legal name is missing.'),
    line(4, 'Heron Lane Bakery LLC', 'there', 'You have this business already; it stays as it is.'),
  ];
  const open = async (at = '/page', start: unknown = { items: LINES }): Promise<void> => {
    p = await openPage(
      DossiersPage,
      {
        'registration.start': start,
        'registration.dossiers': {
          items: [
            row('biz_1', 'Heron Lane Bakery LLC'),
            row('biz_2', 'Northbank Seed Library', {
              campaigns: {
                weight: 'hold',
                words: '1 of 2 in review',
                waitsOn: 'the registrar',
                since: Date.parse('2027-03-08T15:00:00Z'),
              },
              'toll-free': { weight: 'none', words: 'none' },
            }),
            row('biz_3', 'Orrin Vale', { account: { weight: 'stop', words: 'provisional', waitsOn: 'you' } }),
          ],
        },
      },
      { at },
    );
  };
  afterEach(() => closePage(p));
  const names = (): string[] => [...p.host.querySelectorAll('td a.strong')].map((a) => a.textContent?.trim() ?? '');

  const toggle = async (words: string): Promise<void> => {
    [...p.host.querySelectorAll<HTMLButtonElement>('mat-button-toggle button')]
      .find((b) => b.textContent.includes(words))
      ?.click();
    await p.settle();
  };

  it('show every business against its steps: how it stands, since when, on whom it waits, and where it is worked on', async () => {
    await open();
    expect(names().length).toBe(3);
    expect(p.text()).toContain('a client’s');
    expect(p.text()).toContain('Wren Holloway, Ada Quaife');
    expect(p.text()).toContain('waits on the registrar since 8 Mar 2027');
    const waiting = [...p.host.querySelectorAll('a.stands')].find((a) => a.textContent?.includes('in review'));
    expect(waiting?.getAttribute('href')).toBe('/b/biz_2/registration');
    const account = [...p.host.querySelectorAll('a.stands')].find((a) => a.textContent?.includes('provisional'));
    expect(account?.getAttribute('href')).toBe('/b/biz_3/settings/business');
  });

  it('are narrowed by whom they wait on, in the address, and shown all again', async () => {
    await open();
    await toggle('the registrar');
    expect(names()).toEqual(['Northbank Seed Library']);
    expect(p.url()).toContain('waits=the%20registrar');
    await toggle('the registrar');
    expect(names().length).toBe(3);
    closePage(p);
    await open('/page?waits=you');
    expect(names()).toEqual(['Orrin Vale']);
  });

  const choose = async (csv: string): Promise<void> => {
    const input = p.host.querySelector<HTMLInputElement>('input[type=file]');
    if (!input) throw new Error('no file can be chosen');
    const files = new DataTransfer();
    files.items.add(new File([csv], 'list.csv', { type: 'text/csv' }));
    input.files = files.files;
    input.dispatchEvent(new Event('change'));
    await p.settle();
  };

  it('begin from a list only once it was said what becomes of each line', async () => {
    await open();
    await choose('Legal name,Legal form\nTern Bay LLC,company');
    expect(p.api.of('registration.start').map((a) => (a.body as { sure: boolean }).sure)).toEqual([false]);
    expect(p.text()).toContain('The legal name is missing.');
    await p.press('Begin 1');
    expect(p.api.of('registration.start').map((a) => (a.body as { sure: boolean }).sure)).toEqual([false, true]);
    expect(p.said).toEqual(['1 dossier is begun.']);
    expect(p.text()).not.toContain('The legal name is missing.');
  });

  it('say what a list lacks, begin nothing of one that has nothing new, and can be left', async () => {
    await open('/page', new Error('The first line has no column “Legal form”.'));
    await choose('x');
    expect(p.said).toEqual(['The first line has no column “Legal form”.']);
    closePage(p);
    await open('/page', { items: LINES.slice(1) });
    await choose('x');
    expect(p.host.querySelector<HTMLButtonElement>('section button')?.disabled).toBeTrue();
    await p.press('Not now');
    expect(p.text()).not.toContain('The legal name is missing.');
  });
});
