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
const STEPS = ['account', 'brand', 'vetting', 'campaigns', 'numbers', 'toll-free', 'sender IDs'];
const row = (id: string, legalName: string, over: Record<string, object> = {}) => ({
  businessId: id,
  legalName,
  nameLine: legalName,
  form: 'private company',
  steps: STEPS.map((s) => step(s, over[s])),
});

describe('all dossiers', () => {
  let p: OpenPage;
  const open = async (at = '/page'): Promise<void> => {
    p = await openPage(
      DossiersPage,
      {
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
});
