import { BUSINESS, closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { BusinessSettings } from './business';

const facts = {
  contactName: 'Marit Solheim',
  contactEmail: 'office@heron.example',
  website: '',
  street: '4 Quay Road',
  city: 'Aldersund',
  state: 'NJ',
  postalCode: '07030',
  transactionalAnyHour: false,
  taxStatus: 'taxable',
};

describe('a business’s own facts', () => {
  let p: OpenPage;
  const open = async (over: object = {}, role = 'administrator', answers: object = {}): Promise<void> => {
    p = await openPage(
      BusinessSettings,
      {
        'businesses.edit': (a: { body: object }) => ({ ...BUSINESS, ...facts, ...a.body, version: 4 }),
        'businesses.address': { verdict: 'good', better: facts },
        'businesses.openAccount': BUSINESS,
        'businesses.switchTexts': BUSINESS,
        ...answers,
      },
      { role, business: { ...facts, ...over } },
    );
  };
  afterEach(() => closePage(p));
  const value = (id: string): string | undefined => p.host.querySelector<HTMLInputElement>(`#${id}`)?.value;

  it('are saved when it is said, from the version they were made of, and can be undone before', async () => {
    await open();
    expect(value('city')).toBe('Aldersund');
    await p.fill('city', 'Quillmere');
    expect(p.text()).toContain('not saved yet');
    await p.press('Undo the changes');
    expect(value('city')).toBe('Aldersund');
    await p.fill('city', 'Quillmere');
    await p.press('Save');
    const [edit] = p.api.of('businesses.edit');
    expect([edit?.version, (edit?.body as typeof facts).city, p.said]).toEqual([3, 'Quillmere', ['Saved.']]);
  });

  it('have the time zone that is chosen, also one that this browser does not name', async () => {
    await open({ timeZone: 'US/Eastern' });
    const zone = p.host.querySelector<HTMLSelectElement>('#timeZone');
    expect(zone?.value).toBe('US/Eastern');
    if (zone) zone.value = 'America/Chicago';
    zone?.dispatchEvent(new Event('change', { bubbles: true }));
    await p.settle();
    await p.press('Save');
    expect((p.api.of('businesses.edit')[0]?.body as { timeZone: string }).timeZone).toBe('America/Chicago');
  });

  it('say what is wrong where it is wrong', async () => {
    await open();
    await p.fill('state', 'New Jersey');
    expect(document.getElementById('state-wrong')?.textContent?.trim()).toBe('A state has two letters, such as NJ.');
    await p.press('Save');
    expect(p.api.of('businesses.edit')).toEqual([]);
  });

  it('of a provisional account open it, with the post’s spelling where that is wanted', async () => {
    const better = { street: '4 Quay Rd', city: 'Aldersund', state: 'NJ', postalCode: '07030' };
    await open({ accountState: 'provisional' }, 'administrator', {
      'businesses.address': { verdict: 'better', better },
    });
    await p.press('Open the account');
    expect(p.questions[0]?.line).toContain('The post spells it “4 Quay Rd, Aldersund, NJ 07030”');
    expect((p.api.of('businesses.edit').at(-1)?.body as typeof facts).street).toBe('4 Quay Rd');
    expect(p.api.of('businesses.openAccount').map((a) => a.body)).toEqual([{ keepAddress: false }]);
  });

  it('switch all texts off only once that is confirmed', async () => {
    await open();
    p.yes = false;
    await p.press('Switch all texts off');
    expect(p.api.of('businesses.switchTexts')).toEqual([]);
    p.yes = true;
    await p.press('Switch all texts off');
    expect(p.api.of('businesses.switchTexts').map((a) => a.body)).toEqual([{ off: true }]);
  });

  it('stay as they are for one who may not change them', async () => {
    await open({}, 'coordinator');
    expect(p.host.querySelector<HTMLInputElement>('#city')?.disabled).toBeTrue();
    expect(p.text()).not.toContain('Save');
  });
});
