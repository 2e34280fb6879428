import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { ExpiryPage } from './expiry';

const NOW = Date.UTC(2027, 2, 12, 16);
const DAY = 86_400_000;
const KEPT = {
  on: true,
  months: 18,
  counts: 'either way',
  purposes: ['informational', 'promotional'],
  askDays: 30,
  invitationId: 'inv_1',
  version: 3,
  ending: 2,
  asked: 1,
  notAsked: 1,
  lookedAt: NOW,
  outlook: { inForce: 900, months: [{ month: '2027-04', n: 5 }] },
  letters: [
    { id: 'inv_1', title: 'Still on board?' },
    { id: 'inv_2', title: 'Spring timetable' },
  ],
};
const ROWS = [
  {
    contactId: 'con_1',
    name: 'Tamsin Eide',
    e164: '+12015550111',
    lastAt: NOW - 540 * DAY,
    lastHow: 'kept',
    endsAt: NOW + 9 * DAY,
    askedAt: NOW - 20 * DAY,
    why: '',
  },
  {
    contactId: 'con_2',
    name: 'Bram Solheim',
    e164: '+12015550112',
    lastAt: NOW - 530 * DAY,
    lastHow: 'a text reached them',
    endsAt: NOW + 18 * DAY,
    askedAt: null,
    why: 'no e-mail is known',
  },
];

describe('consent nobody stands by', () => {
  let p: OpenPage;
  const open = async (o: { role?: string; kept?: object; save?: unknown; at?: string } = {}): Promise<void> => {
    p = await openPage(
      ExpiryPage,
      {
        'expiry.get': { ...KEPT, ...o.kept },
        'expiry.preview': ({ body }: Asked) => ({
          inForce: 900,
          ending: (body as { months: number }).months < 18 ? 300 : 2,
          months: [
            { month: '2027-03', n: 2 },
            { month: '2027-04', n: 5 },
          ],
        }),
        'expiry.people': ({ query }: Asked) => {
          const asked = (query as { asked?: string }).asked;
          const items = ROWS.filter((x) => asked === undefined || (x.askedAt !== null) === (asked === 'yes'));
          return { items, next: null, total: items.length };
        },
        'lists.list': { items: [{ id: 'lst_1', name: 'Regulars', kind: 'list', count: 3 }] },
        'lists.add': ({ body }: Asked) => ({ id: 'lst_2', count: 0, ...(body as object) }),
        'lists.members': ({ body }: Asked) => ({ added: (body as { add: string[] }).add, removed: [] }),
        'expiry.save': o.save ?? (({ body }: Asked) => ({ ...KEPT, ...(body as object), version: 4 })),
      },
      { role: o.role ?? 'administrator', ...(o.at ? { at: o.at } : {}) },
    );
  };
  afterEach(() => closePage(p));
  const said = (): string => p.text().replace(/\s+/g, ' ');
  const box = (label: RegExp): Promise<MatCheckboxHarness> => p.loader.getHarness(MatCheckboxHarness.with({ label }));

  it('says whose consent ends next, by which last contact, and why somebody was not asked', async () => {
    await open();
    expect(said()).toContain('Tamsin Eide');
    expect(said()).toContain('said that they stay');
    expect(said()).toContain('no: no e-mail is known');
    expect(said()).toContain('Of 900 numbers with consent in force, 2 end within the days for asking');
    expect(p.api.of('expiry.preview')).withContext('what was counted is not counted again').toEqual([]);
  });

  it('shows those alone who were not asked, which stands in the address', async () => {
    await open({ at: '/page?asked=no' });
    expect(said()).not.toContain('Tamsin Eide');
    expect(said()).toContain('Bram Solheim');
    expect(p.host.querySelector<HTMLAnchorElement>('a[download]')?.getAttribute('href')).toContain(
      '/consent-expiry/people.csv?asked=no',
    );
  });

  it('says what another policy would come to before it is saved, and saves that of what was shown', async () => {
    await open();
    await p.fill('months', '12');
    expect(said()).toContain('300 would be listed at once');
    await (await box(/Notices/)).uncheck();
    await p.press('Save');
    expect(p.api.of('expiry.save').map((a) => [a.version, a.body])).toEqual([
      [
        3,
        {
          on: true,
          months: 12,
          counts: 'either way',
          purposes: ['promotional'],
          askDays: 30,
          invitationId: 'inv_1',
        },
      ],
    ]);
  });

  it('keeps what is typed where somebody else changed it meanwhile, and says so', async () => {
    await open({
      save: () => {
        throw new ApiProblem(412, 'changed', 'Somebody changed this policy meanwhile.', []);
      },
    });
    await p.fill('months', '12');
    await p.press('Save');
    expect(said()).toContain('Somebody changed this policy meanwhile.', []);
    expect(p.host.querySelector<HTMLInputElement>('#months')?.value).toBe('12');
    await p.press('As it was');
    expect(p.host.querySelector<HTMLInputElement>('#months')?.value).toBe('18');
  });

  it('says at the field what cannot be, and saves nothing', async () => {
    await open();
    await p.fill('months', '2');
    await (await box(/Notices/)).uncheck();
    await (await box(/Offers/)).uncheck();
    await p.press('Save');
    expect(said()).toContain('3 months at least.');
    expect(said()).toContain('Choose at least one kind of text.');
    expect(p.api.of('expiry.save')).toEqual([]);
  });

  it('lists nobody and counts nothing where it is switched off, and changes nothing for who may only read', async () => {
    await open({ role: 'viewer', kept: { on: false } });
    expect(said()).not.toContain('Whose ends next');
    expect(p.api.of('expiry.preview')).toEqual([]);
    expect(said()).toContain('An administrator changes it.');
    expect(await (await box(/Consent ends by itself/)).isDisabled()).toBeTrue();
  });

  it('puts those whom no letter asked on a list, new or known, so that they can be written to', async () => {
    await open({ at: '/page?asked=no' });
    const onto = p.host.querySelector<HTMLInputElement>('.put input');
    if (onto) onto.value = 'Ends soon';
    onto?.dispatchEvent(new Event('input'));
    await p.press('Put them on it');
    expect(p.api.of('lists.add').map((a) => a.body)).toEqual([{ name: 'Ends soon', kind: 'tag' }]);
    expect(p.api.of('lists.members').map((a) => [a.params['id'], a.body])).toEqual([['lst_2', { add: ['con_2'] }]]);
    expect(p.said.at(-1)).toContain('1 contact put on “Ends soon”.');
    expect(p.undo).toBeDefined();
  });
});
