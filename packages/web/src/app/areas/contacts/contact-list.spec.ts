import { MatAutocompleteHarness } from '@angular/material/autocomplete/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { MatSelectHarness } from '@angular/material/select/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { ApiProblem } from '../../api/api';
import { ContactListPage } from './contact-list';

const row = (i: number) => ({
  id: `con_${i}`,
  firstName: `Wren${i}`,
  lastName: 'Eide',
  email: '',
  stateCode: '',
  lists: [],
  version: 1,
  further: 0,
  number: {
    id: i,
    label: '',
    lastReplyAt: null,
    refusedElsewhere: [],
    e164: `+1201555${String(1000 + i)}`,
    country: 'US',
    zones: 'America/New_York',
    states: 'NJ',
    lineType: 'mobile',
    carrier: 'Tessary Wireless',
    reachable: true,
    lookedUpAt: 1,
    textable: 'yes',
    trouble: 'none',
    faultsInReview: false,
    consent: { conversational: 'none', informational: 'granted', promotional: 'none' },
  },
  verdicts: {
    informational: { result: 'pass', why: 'passes', lift: '', answers: [] },
    promotional: { result: 'stop', why: 'never agreed to this kind of text', lift: 'the page', answers: [] },
  },
});
/** So many match in all; the server gives a hundred at a time. */
const ALL = 2500;
const FEE = { numbers: 1, cost: 5500, seconds: 1, balance: 9_000_000 };

describe('the list of contacts', () => {
  let p: OpenPage;
  const open = async (over: { at?: string; role?: string } = {}, answers: object = {}): Promise<void> => {
    p = await openPage(
      ContactListPage,
      {
        'contacts.list': ({ query }: Asked) => {
          const from = Number(query['cursor'] ?? 0);
          const size = Number(query['limit']);
          const items = Array.from({ length: Math.min(size, ALL - from) }, (_, i) => row(from + i));
          return { items, next: from + size < ALL ? String(from + size) : null, total: ALL };
        },
        'contacts.facets': {
          textable: { yes: ALL },
          promotional: {},
          informational: {},
          conversational: {},
          line: { mobile: 2400, none: 100 },
          country: {},
          trouble: {},
          replied: { never: ALL },
          total: ALL,
        },
        'contacts.delete': { jobId: 'job_2', contacts: ALL },
        'lists.list': {
          items: [
            { id: 'lst_1', name: 'Crew', kind: 'list', count: 14 },
            { id: 'lst_2', name: 'Commuters', kind: 'tag', count: 300 },
          ],
        },
        'lookups.estimate': { numbers: 0, cost: 0, seconds: 0, balance: 0 },
        'lists.members': { id: 'lst_1', name: 'Crew', kind: 'list', count: 16, added: ['con_0', 'con_2'], removed: [] },
        'lists.matching': { jobId: 'job_1', contacts: ALL },
        'lists.add': ({ body }: Asked) => ({ id: 'lst_9', kind: 'tag', count: 0, ...(body as { name: string }) }),
        ...answers,
      },
      over,
    );
    if (over.role !== 'viewer') await p.press('Choose…');
  };
  afterEach(() => closePage(p));

  const box = async (label: RegExp): Promise<MatCheckboxHarness> => {
    for (const one of await p.loader.getAllHarnesses(MatCheckboxHarness))
      if (label.test((await one.getAriaLabel()) ?? '')) return one;
    throw new Error(`There is no box ${String(label)}.`);
  };
  const choose = async (label: RegExp): Promise<void> => {
    await (await box(label)).check();
    await p.settle();
  };
  const name = async (words: string): Promise<void> => {
    await (await p.loader.getHarness(MatAutocompleteHarness)).enterText(words);
    await p.settle();
  };
  const bar = (): string =>
    p.host.querySelector('[aria-label="With the chosen contacts"]')?.textContent.replace(/\s+/g, ' ').trim() ?? '';

  it('puts those chosen one by one on a list, and says who was on it already', async () => {
    await open();
    await choose(/Wren0 Eide/);
    await choose(/Wren1 Eide/);
    await choose(/Wren2 Eide/);
    expect(bar()).toContain('3 chosen');
    await name('crew');
    await p.press('Put on “Crew”');
    expect(p.questions).withContext('what can be taken back is not asked about').toEqual([]);
    expect(p.api.of('lists.members').map((a) => [a.params['id'], a.body])).toEqual([
      ['lst_1', { add: ['con_0', 'con_1', 'con_2'] }],
    ]);
    expect(p.said).toEqual(['2 contacts put on “Crew”; 1 was on it already.']);
    expect(bar()).withContext('nobody is chosen any more').toBe('');
    expect(await p.loader.getAllHarnesses(MatCheckboxHarness)).toEqual([]);
  });

  it('takes it back for those alone whom it changed', async () => {
    await open();
    await choose(/all \d+ shown/);
    await name('crew');
    await p.press('Put on “Crew”');
    p.undo?.();
    await p.settle();
    expect(p.api.of('lists.members').at(-1)?.body).toEqual({ remove: ['con_0', 'con_2'] });
    expect(p.said.at(-1)).toBe('Taken back.');
    expect(p.undo).withContext('taking back is not taken back').toBeUndefined();
  });

  it('offers all that match once all that are here are chosen, and means those who are not here too', async () => {
    await open();
    await choose(/all \d+ shown/);
    const here = /(\d+) chosen/.exec(bar())?.[1] ?? '';
    expect(Number(here)).toBeLessThan(ALL);
    await p.press(/choose all 2,500/);
    expect(bar()).toContain('All 2,500 chosen');
    await name('Commuters');
    await p.press('Take off “Commuters”');
    expect(p.questions.map((q) => q.title)).toEqual(['Take all 2,500 off “Commuters”?']);
    expect(p.api.of('lists.matching').map((a) => [a.params['id'], a.body])).toEqual([
      ['lst_2', { change: 'take off', filter: {}, seen: ALL }],
    ]);
    expect(p.api.of('lists.members')).toEqual([]);
  });

  it('hands over the filters in force, without the order, and does nothing where the question is declined', async () => {
    await open({ at: '/page?textable=yes&sort=-number' });
    await choose(/all \d+ shown/);
    await p.press(/choose all 2,500/);
    await name('Crew');
    p.yes = false;
    await p.press('Put on “Crew”');
    expect(p.api.of('lists.matching')).toEqual([]);
    expect(bar()).withContext('they are still chosen').toContain('All 2,500');
    p.yes = true;
    await p.press('Put on “Crew”');
    expect(p.api.of('lists.matching')[0]?.body).toEqual({ change: 'put on', filter: { textable: 'yes' }, seen: ALL });
  });

  it('means nobody whom other filters bring', async () => {
    await open();
    await choose(/all \d+ shown/);
    await p.press(/choose all 2,500/);
    const toggle = Array.from(p.host.querySelectorAll<HTMLElement>('lg-facet button')).find((b) =>
      b.textContent.includes('yes'),
    );
    toggle?.click();
    await p.settle();
    expect(p.url()).toContain('textable=yes');
    expect(bar()).not.toContain('All 2,500');
  });

  it('is one by one again where somebody is taken out of all', async () => {
    await open();
    await choose(/all \d+ shown/);
    await p.press(/choose all 2,500/);
    await (await box(/Wren1 Eide/)).uncheck();
    await p.settle();
    expect(bar()).toMatch(/^[\d,]+ chosen/);
    expect(bar()).not.toContain('All');
    await p.press('choose no more');
    expect(bar()).toBe('');
  });

  it('makes a tag of a name there is none of, and offers no taking off it', async () => {
    await open();
    await choose(/Wren0 Eide/);
    expect(bar()).withContext('nothing to do before there is a name').not.toContain('Put on');
    await name('Night boat');
    expect(bar()).toContain('Put on a new tag “Night boat”');
    expect(bar()).not.toContain('Take off');
    await p.press(/Put on a new tag/);
    expect(p.api.of('lists.add').map((a) => a.body)).toEqual([{ name: 'Night boat', kind: 'tag' }]);
    expect(p.api.of('lists.members')[0]?.params['id']).toBe('lst_9');
  });

  it('says the refusal and keeps who was chosen', async () => {
    const refusal = new ApiProblem(409, 'conflict', '2,600 contacts match now; 2,500 did when you looked.', []);
    await open({}, { 'lists.matching': refusal });
    await choose(/all \d+ shown/);
    await p.press(/choose all 2,500/);
    await name('Crew');
    await p.press('Put on “Crew”');
    expect(p.said).toEqual(['2,600 contacts match now; 2,500 did when you looked.']);
    expect(bar()).toContain('All 2,500');
  });

  it('chooses all that match at once, without looking at any', async () => {
    await open({ at: '/page?textable=yes' });
    expect(bar()).toContain('No contacts chosen yet');
    expect(bar()).withContext('nothing to do with nobody').not.toContain('Put on');
    await p.press('choose all 2,500 that match');
    expect(bar()).toContain('All 2,500 that match chosen');
  });

  it('shows the gate for both kinds of text, and says of which kind the reason is', async () => {
    await open();
    const [first] = p.host.querySelectorAll('tr[data-row]');
    expect(first?.querySelectorAll('lg-gate-strip').length).toBe(2);
    expect(first?.textContent).toContain('promotional: never agreed to this kind of text');
  });

  describe('looks up', () => {
    const fees = {
      'lookups.estimate': ({ body }: Asked) => {
        const again = (body as { again?: boolean }).again ?? false;
        return { numbers: again ? 2 : 0, cost: again ? 11_000 : 0, seconds: 1, balance: 9_000_000 };
      },
      'lookups.start': { jobId: 'job_1', numbers: 2 },
    };
    const begun = (): unknown[] => p.api.of('lookups.start').map((a) => a.body);

    it('those chosen one by one, and says where every answer is still good', async () => {
      await open({}, fees);
      await choose(/Wren0 Eide/);
      await choose(/Wren2 Eide/);
      await p.press('Look up…');
      expect(p.questions.map((q) => [q.title, q.line.includes('Every answer is still good.')])).toEqual([
        ['Look up 2 numbers again?', true],
      ]);
      expect(begun()).toEqual([{ e164s: ['+12015551000', '+12015551002'], again: true }]);
      expect(bar()).withContext('nobody is chosen any more').toBe('');
    });

    it('all that match, by their filters', async () => {
      await open({ at: '/page?textable=yes&list=lst_1' }, { ...fees, 'lookups.estimate': { ...FEE, numbers: 40 } });
      await choose(/all \d+ shown/);
      await p.press(/choose all 2,500/);
      p.yes = false;
      await p.press('Look up…');
      expect(begun()).withContext('declined').toEqual([]);
      p.yes = true;
      await p.press('Look up…');
      expect(begun()).toEqual([{ filter: { textable: 'yes', list: 'lst_1' }, again: false }]);
    });
  });

  it('is narrowed by several values of a facet that is folded away, each with how many there are', async () => {
    await open();
    const line = await p.loader.getHarness(MatSelectHarness.with({ selector: '[aria-label="Line"]' }));
    await line.open();
    const values = await Promise.all((await line.getOptions()).map((o) => o.getText()));
    expect(values.map((v) => v.replace(/\s+/g, ' '))).toEqual(['mobile 2,400', 'no such line 100']);
    await line.clickOptions({ text: /no such line/ });
    await p.settle();
    expect(p.api.of('contacts.list').at(-1)?.query['line']).toBe('none');
    await line.clickOptions({ text: /mobile/ });
    await p.settle();
    expect(String(p.api.of('contacts.list').at(-1)?.query['line']).split(',').sort()).toEqual(['mobile', 'none']);
  });

  it('are deleted by an administrator, having been told what stays, and many only once their number was written', async () => {
    await open();
    await choose(/Wren0 Eide/);
    await p.press('Delete…');
    expect(p.questions.at(-1)?.line).toContain('The ledger keeps what they agreed to and refused');
    expect(p.questions.at(-1)?.written).toBeUndefined();
    expect(p.api.of('contacts.delete').map((a) => a.body)).toEqual([{ ids: ['con_0'], seen: 1 }]);
    closePage(p);
    await open({ at: '/page?textable=no' });
    await choose(/all \d+ shown/);
    await p.press(/choose all 2,500/);
    await p.press('Delete…');
    expect(p.questions.at(-1)?.written?.is).toBe('2500');
    expect(p.api.of('contacts.delete').map((a) => a.body)).toEqual([{ filter: { textable: 'no' }, seen: ALL }]);
    closePage(p);
    await open({ role: 'coordinator' });
    await choose(/Wren0 Eide/);
    expect(p.text()).not.toContain('Delete…');
  });

  it('lets nobody choose who may only look', async () => {
    await open({ role: 'viewer' });
    expect(p.text()).toContain('Wren0 Eide');
    expect(await p.loader.getAllHarnesses(MatCheckboxHarness)).toEqual([]);
  });
});
