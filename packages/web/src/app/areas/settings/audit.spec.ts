import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { AuditSettings } from './audit';

const at = Date.parse('2027-03-11T18:41:00Z');
const entry = (id: string, over: object = {}) => ({
  id,
  at,
  actor: 'Marit Solheim',
  action: 'port edited',
  objectKind: 'port',
  objectId: 'prt_1',
  objectName: '+1 551-555-0188',
  before: { carrier: 'Old' },
  after: { carrier: 'New' },
  saves: 1,
  since: at,
  ...over,
});

describe('the audit trail', () => {
  let p: OpenPage;
  const open = async (address = '/page'): Promise<void> => {
    p = await openPage(
      AuditSettings,
      {
        'audit.list': {
          items: [
            entry('a', { saves: 4, since: at - 6 * 60_000 }),
            entry('b', {
              objectKind: 'job',
              objectId: 'job_1',
              objectName: 'Lookups of 340 numbers',
              action: 'job paused',
            }),
          ],
          next: null,
          total: 9,
        },
        'audit.facets': { actors: ['Ivo Brandt', 'Marit Solheim'], kinds: ['job', 'port'] },
      },
      { at: address },
    );
  };
  afterEach(() => closePage(p));
  const select = async (label: string, value: string): Promise<void> => {
    const field = p.host.querySelector<HTMLSelectElement>(`select[aria-label="${label}"]`);
    if (!field) throw new Error(`no ${label}`);
    field.value = value;
    field.dispatchEvent(new Event('change'));
    await p.settle();
  };

  it('shows a row of saves as one, and leads to the thing that was changed where that has a page', async () => {
    await open();
    expect(p.text()).toContain('4 saves since 11 Mar, 13:35');
    const links = [...p.host.querySelectorAll<HTMLAnchorElement>('td a')].map((a) => a.getAttribute('href'));
    expect(links).toEqual(['/b/biz_1/numbers/ports/prt_1']);
    expect(p.host.querySelector('td a')?.textContent).toContain('+1 551-555-0188');
    expect(p.text()).withContext('one that has no page').toContain('Lookups of 340 numbers');
  });

  it('is narrowed by who and what, in the address, and gives out what is shown', async () => {
    await open();
    await select('Who', 'Ivo Brandt');
    await select('Kind of thing', 'port');
    expect(p.api.of('audit.list').at(-1)?.query).toEqual(
      jasmine.objectContaining({ actor: 'Ivo Brandt', objectKind: 'port' }),
    );
    expect(p.url()).toContain('actor=Ivo%20Brandt');
    const file = p.host.querySelector<HTMLAnchorElement>('a[download]')?.getAttribute('href') ?? '';
    expect(file).toContain('/audit.csv?');
    expect(file).toContain('objectKind=port');
    await p.press(/only this/);
    expect(p.api.of('audit.list').at(-1)?.query).toEqual(jasmine.objectContaining({ objectId: 'prt_1', whole: 'yes' }));
    await p.press('of all, not of +1 551-555-0188');
    expect(p.api.of('audit.list').at(-1)?.query['objectId']).toBeUndefined();
  });

  it('is opened as a link has it', async () => {
    await open('/page?objectKind=port&from=2027-03-01&action=edited');
    expect(p.api.of('audit.list').at(-1)?.query).toEqual(
      jasmine.objectContaining({ objectKind: 'port', from: '2027-03-01', action: 'edited' }),
    );
    expect(p.host.querySelector<HTMLSelectElement>('select[aria-label="Kind of thing"]')?.value).toBe('port');
  });
});
