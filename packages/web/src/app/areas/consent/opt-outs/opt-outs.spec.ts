import type { OptOutList } from '@long-gate/contracts';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { BringOptOutsPage } from './bring-opt-outs';
import { OptOutsPage } from './opt-outs';

const AT = Date.parse('2027-03-10T15:00:00Z');
const list = (over: Partial<OptOutList> = {}): OptOutList => ({
  id: 'ool_1',
  origin: 'earlier provider',
  source: 'the export of our last provider',
  datedOn: '2027-01-31',
  name: 'gone.csv',
  size: 4021,
  sha256: 'ab'.repeat(32),
  lines: 1240,
  refused: 21,
  refusals: [{ line: 1, raw: '911,5550142', why: 'No such area code exists.' }],
  people: 1200,
  agreedSince: 3,
  already: 19,
  done: true,
  broughtBy: 'Imre Sand',
  broughtAt: AT,
  ...over,
});

describe('lists of opt-outs on screen', () => {
  let p: OpenPage;
  const open = async (at: string, over: Partial<OptOutList> = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(OptOutsPage, { 'opt-outs.list': { items: [list(over)], next: null, total: 1 } }, { at, role });
  };
  afterEach(() => closePage(p));
  const offers = (words: string): boolean =>
    [...p.host.querySelectorAll('a[matButton], button')].some((b) => b.textContent.includes(words));

  it('say how many left, who agreed since and stays, and which lines were no number', async () => {
    await open('/page?open=ool_1');
    for (const part of [
      '1,200 people',
      '3 of them agreed after that and stay in',
      'line 1',
      'No such area code exists.',
      'and 20 more',
      'ab'.repeat(32),
    ])
      expect(p.text()).toContain(part);
    expect(p.host.querySelector<HTMLAnchorElement>('a[download]')?.href).toContain('ool_1/document');
    const ledger = [...p.host.querySelectorAll('a')].find((a) => a.textContent.includes('in the ledger'));
    expect(decodeURIComponent(ledger?.href ?? '')).toContain('kind=revoked&how=imported record');
  });

  it('say that one is under way, and lead to the carrier’s where it is one', async () => {
    await open('/page?open=ool_1', { done: false, origin: 'carrier' });
    expect(p.text()).toContain('1,200 people so far');
    const ledger = [...p.host.querySelectorAll('a')].find((a) => a.textContent.includes('in the ledger'));
    expect(ledger?.href).toContain('how=carrier');
  });

  it('are brought in by administrators', async () => {
    await open('/page', {}, 'coordinator');
    expect(offers('Bring in opt-outs')).toBeFalse();
    closePage(p);
    await open('/page');
    expect(offers('Bring in opt-outs')).toBeTrue();
  });
});

describe('bringing in opt-outs', () => {
  let p: OpenPage;
  const open = async (role = 'administrator'): Promise<void> => {
    p = await openPage(
      BringOptOutsPage,
      { 'opt-outs.list': { items: [], next: null, total: 0 }, 'opt-outs.bring': list({ done: false }) },
      { at: '/page', role },
    );
  };
  afterEach(() => closePage(p));
  const choose = async (text: string): Promise<void> => {
    const field = p.host.querySelector<HTMLInputElement>('input[type=file]');
    const data = new DataTransfer();
    data.items.add(new File([text], 'gone.csv'));
    if (field) field.files = data.files;
    field?.dispatchEvent(new Event('change'));
    await p.settle();
    for (let i = 0; i < 100 && p.text().includes('Reading…'); i++) {
      await new Promise((r) => setTimeout(r, 20));
      await p.settle();
    }
  };
  const fill = async (): Promise<void> => {
    await p.fill('source', 'the export of our last provider');
    await p.fill('datedOn', '31 Jan 2027');
  };

  it('counts the numbers of a file before anything is handed in, and hands in nothing without a yes', async () => {
    await open();
    await fill();
    await choose('phone\n2015550171\n201-555-0171\n2015550172\nhello 5');
    expect(p.text()).toContain('2 numbers');
    expect(p.text()).toContain('1 line without one');
    p.yes = false;
    await p.press('Opt them out');
    expect(p.questions[0]?.title).toBe('Opt out 2 people?');
    expect(p.questions[0]?.written).toBeUndefined();
    expect(p.api.of('opt-outs.bring')).toEqual([]);
    p.yes = true;
    await p.press('Opt them out');
    const [asked] = p.api.of('opt-outs.bring').map((a) => a.body as Record<string, string>);
    expect([asked?.['origin'], asked?.['datedOn'], asked?.['name']]).toEqual([
      'earlier provider',
      '2027-01-31',
      'gone.csv',
    ]);
    expect(atob(asked?.['base64'] ?? '')).toContain('201-555-0171');
  });

  it('has many written out before they are opted out', async () => {
    await open();
    await fill();
    await choose(Array.from({ length: 150 }, (_, i) => `201555${1000 + i}`).join('\n'));
    p.yes = false;
    await p.press('Opt them out');
    expect(p.questions[0]?.written?.is).toBe(p.questions[0]?.title.replace(/\D/g, ''));
  });

  it('hands in no file without a number, and says what is missing', async () => {
    await open();
    await p.press('Opt them out');
    expect(p.text()).toContain('Choose the file with the numbers.');
    await choose('Dear all,');
    expect(p.text()).toContain('There is no number in it.');
    await fill();
    await p.press('Opt them out');
    expect(p.questions).toEqual([]);
    expect(p.api.of('opt-outs.bring')).toEqual([]);
  });

  it('is left to administrators', async () => {
    await open('viewer');
    expect(p.text()).toContain('An administrator brings in opt-outs');
    expect(p.host.querySelector('form')).toBeNull();
  });
});
