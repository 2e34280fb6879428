import { closePage, openPage, type OpenPage } from '../../../../testing/open-page';
import { RouteChooser } from './route-chooser';

const found = (over: object = {}) => ({
  e164: '+16095550110',
  ours: null,
  kind: 'landline',
  carrier: 'Harth Telephone',
  portable: true,
  whyNotPortable: '',
  enabledElsewhere: '',
  ...over,
});

describe('the route chooser', () => {
  let p: OpenPage;
  const open = async (over: object = {}, at = '/page?number=%2B16095550110'): Promise<void> => {
    p = await openPage(RouteChooser, { 'numbers.route': found(over) }, { at });
  };
  afterEach(() => closePage(p));

  it('lays the ways side by side, the one to take first', async () => {
    await open({}, '/page?number=%2B16095550110&stays=stay');
    const ways = [...p.host.querySelectorAll('tbody tr')].map((r) => r.querySelector('.strong')?.textContent?.trim());
    expect(ways[0]).toBe('Text-enable where it is');
    expect(ways.length).toBe(4);
    expect(p.text()).toContain('the way to take');
  });

  it('knows our own numbers, and leads to them instead', async () => {
    await open({ ours: { is: 'being ported in', link: 'numbers/ports/prt_1' } });
    expect(p.text()).toContain('is yours: it is being ported in');
    expect(p.host.querySelector('table')).toBeNull();
    const link = [...p.host.querySelectorAll('a')].find((a) => a.textContent?.includes('To it'));
    expect(link?.getAttribute('href')).toBe('/b/biz_1/numbers/ports/prt_1');
  });

  it('carries the line through to the new number, where calls are to be passed on', async () => {
    await open();
    const row = [...p.host.querySelectorAll('tbody tr')].find((r) => r.textContent?.includes('Forward only'));
    row?.querySelector<HTMLButtonElement>('button')?.click();
    await p.settle();
    expect(p.url()).toBe('/b/biz_1/numbers/acquire?where=609&forward=%2B16095550110');
  });
});
