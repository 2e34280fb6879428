import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { CountriesPage } from './countries';
import { SenderIdsPage } from './sender-ids';

const country = (code: string, name: string, over: object = {}) => ({
  code,
  name,
  state: 'closed',
  note: '',
  changedAt: null,
  kinds: ['sender ID'],
  registration: false,
  senderId: 'free',
  twoWay: false,
  hours: '09:00 to 20:00',
  optOut: 'A working way out.',
  source: 'its act',
  checked: '2026-11-25',
  contacts: 0,
  ...over,
});

describe('countries', () => {
  let p: OpenPage;
  const open = async (at: string, role = 'administrator'): Promise<void> => {
    p = await openPage(
      CountriesPage,
      {
        'countries.list': {
          items: [
            country('US', 'United States', { state: 'open', contacts: 2620 }),
            country('GB', 'United Kingdom', { contacts: 6 }),
            country('SE', 'Sweden', { contacts: 2 }),
          ],
        },
        'countries.open': country('GB', 'United Kingdom', { state: 'open' }),
        'countries.close': country('US', 'United States'),
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));

  it('say how many are held back where texts do not go', async () => {
    await open('/page');
    expect(p.text()).toContain('8 contact numbers live in a country that is not open');
    expect(p.host.querySelectorAll('tr[data-row]').length).toBe(3);
  });

  it('are opened one by one, once their rules were read', async () => {
    await open('/page?open=GB');
    expect(p.text()).toContain('Read the rules, then open it.');
    const read = await p.loader.getHarness(MatCheckboxHarness);
    const button = (): HTMLButtonElement | undefined =>
      Array.from(p.host.querySelectorAll('button')).find((b) => b.textContent.includes('Open United Kingdom'));
    expect(button()?.disabled).toBeTrue();
    await read.check();
    await p.press('Open United Kingdom');
    expect(p.api.of('countries.open').map((a) => [a.params['code'], a.body])).toEqual([['GB', { read: true }]]);
    expect(p.said).toEqual(['United Kingdom is open.']);
  });

  it('ask again for each: what was read of one is not read of another', async () => {
    await open('/page?open=GB');
    await (await p.loader.getHarness(MatCheckboxHarness)).check();
    await p.press('Sweden');
    expect(await (await p.loader.getHarness(MatCheckboxHarness)).isChecked()).toBeFalse();
  });

  it('are closed once that is confirmed, by what the question says', async () => {
    await open('/page?open=US');
    await p.press('Close it…');
    expect(p.questions[0]?.line).toContain('2,620 contact numbers live there');
    expect(p.api.of('countries.close').length).toBe(1);
  });

  it('are only read by one who may not change them', async () => {
    await open('/page?open=GB', 'viewer');
    expect(p.host.querySelector('mat-checkbox')).toBeNull();
  });
});

describe('sender IDs', () => {
  let p: OpenPage;
  const sender = {
    id: 'num_s',
    text: 'HERONLANE',
    label: 'Abroad',
    signature: 'Stop or reply: heron.example/stop',
    findings: [],
    countries: [
      { code: 'GB', name: 'United Kingdom', rule: 'free', cost: 0, state: 'free', note: '', findings: [], open: false },
      {
        code: 'AU',
        name: 'Australia',
        rule: 'to register',
        cost: 25_000_000,
        state: 'not asked',
        note: '',
        findings: [],
        open: false,
      },
    ],
    version: 2,
  };
  const open = async (at: string): Promise<void> => {
    p = await openPage(
      SenderIdsPage,
      {
        'sender-ids.list': { items: [sender] },
        'sender-ids.add': { ...sender, id: 'num_t' },
        'sender-ids.save': sender,
        'sender-ids.use': sender,
        'sender-ids.drop': { done: true },
      },
      { at },
    );
  };
  afterEach(() => closePage(p));

  it('are checked while they are typed, and made only when they are good', async () => {
    await open('/page');
    await p.fill('text', 'SALTMARSH FERRIES');
    expect(p.text()).toContain('17 characters; networks show at most 11.');
    await p.press('Make the sender ID');
    expect(p.api.of('sender-ids.add')).toEqual([]);
    await p.fill('text', 'SALTFERRY');
    await p.fill('signature', 'Stop or reply: saltmarsh.example/stop');
    await p.press('Make the sender ID');
    expect(p.api.of('sender-ids.add').map((a) => a.body)).toEqual([
      { text: 'SALTFERRY', signature: 'Stop or reply: saltmarsh.example/stop' },
    ]);
    expect(p.url()).toContain('open=num_t');
  });

  it('are registered for a price only once it was said', async () => {
    await open('/page?open=num_s');
    p.yes = false;
    await p.press(/register, 25\.00/);
    expect(p.questions[0]?.line).toContain('25.00 now, nothing monthly.');
    expect(p.api.of('sender-ids.use')).toEqual([]);
    p.yes = true;
    await p.press(/register, 25\.00/);
    expect(p.api.of('sender-ids.use').map((a) => a.params['code'])).toEqual(['AU']);
  });

  it('are edited from the version that is shown', async () => {
    await open('/page?open=num_s');
    await p.fill('s-label', 'For abroad');
    await p.press('Save');
    expect(p.api.of('sender-ids.save').map((a) => [a.version, a.body])).toEqual([
      [2, { label: 'For abroad', signature: 'Stop or reply: heron.example/stop' }],
    ]);
  });
});
