import type { EventBasis } from '@long-gate/contracts';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { ApiProblem } from '../../api/api';
import { LedgerPage } from './ledger';

const event = (id: string, over: object = {}) => ({
  id,
  seq: 5299,
  kind: 'granted',
  e164: '+12015550171',
  contactId: 'con_1',
  contactName: 'Wren Eide',
  purposes: ['promotional'],
  happenedAt: Date.parse('2027-03-08T15:41:00Z'),
  recordedAt: Date.parse('2027-03-08T15:41:00Z'),
  how: 'web page',
  awaitsConfirmation: false,
  disclosure: 'Text me news about bread.',
  disclosureVersion: 'v2',
  evidence: { page: '/join/rye-club', address: '' },
  recordedBy: 'contact',
  prevHash: 'aaaa',
  hash: 'bbbb',
  ...over,
});

describe('the ledger on screen', () => {
  let p: OpenPage;
  const open = async (
    at: string,
    verdict: object = {},
    items: object[] = [event('a'), event('b', { kind: 'revoked' })],
    count: unknown = { total: items.length, more: false },
    letter: EventBasis['letter'] = null,
  ): Promise<void> => {
    p = await openPage(
      LedgerPage,
      {
        'consent.ledger': { items, next: null },
        'consent.count': typeof count === 'function' ? count : () => count,
        'consent.basis': ({ params }: Asked) => {
          if (params['id'] === 'none')
            throw new ApiProblem(404, 'not-found', 'The event you opened does not exist.', []);
          return {
            event: event(String(params['id'])),
            texts: [
              { id: 'msg_1', direction: 'out', text: 'Reply YES to agree.', at: Date.parse('2027-03-08T15:40:00Z') },
              { id: 'msg_2', direction: 'in', text: 'yes please', at: Date.parse('2027-03-08T15:41:00Z') },
            ],
            document: { name: 'sign.png', size: 2048 },
            letter,
            programme: { id: 'key_1', title: 'Rye club' },
            form: null,
            recordedBy: 'Maren Oakhurst',
          };
        },
        'consent.words': {
          items: ['rye-club, version 1', 'rye-club, version 2', 'form frm_1'],
          sources: [
            { source: 'rye-club', name: 'Rye club' },
            { source: 'form frm_1', name: 'form “counter.pdf”' },
          ],
        },
        'lists.list': {
          items: [
            { id: 'lst_1', name: 'Regulars', kind: 'list', count: 3 },
            { id: 'lst_2', name: 'season', kind: 'tag', count: 2 },
          ],
        },
        'consent.verify': {
          ok: true,
          message: '5,299 events follow one another unbroken.',
          head: 'bbbb',
          projection: { ok: true, differing: 0 },
          ...verdict,
        },
      },
      { at },
    );
  };
  afterEach(() => closePage(p));

  it('opens an event to what it rests on: the texts, the document, the programme and who recorded it by name', async () => {
    await open('/page?open=a', {}, [
      event('a', { evidence: { message: 'msg_2', answers: 'msg_1', programme: 'key_1' } }),
    ]);
    const docket = p.host.querySelector('lg-docket');
    const said = docket?.textContent ?? '';
    for (const part of ['Reply YES to agree.', 'yes please', 'sign.png', 'Maren Oakhurst'])
      expect(said).toContain(part);
    expect(said).not.toContain('msg_1');
    const links = Array.from(docket?.querySelectorAll('a') ?? []).map((a) => a.getAttribute('href') ?? '');
    expect(links.some((x) => x.endsWith('/consent/keywords?open=key_1'))).toBeTrue();
    expect(links.some((x) => x.includes('/inbox?open='))).toBeTrue();
    expect(p.api.of('consent.basis').map((a) => a.params['id'])).toEqual(['a']);
  });

  it('opens the event an address names, wherever it is in the ledger, and says where there is none', async () => {
    const docket = () => p.host.querySelector('lg-docket')?.textContent ?? '';
    await open('/page?open=long-ago');
    expect(docket()).toContain('Text me news about bread.');
    expect(p.host.querySelectorAll('tr[data-row]').length).withContext('it is not among those shown').toBe(2);
    closePage(p);
    await open('/page?open=none');
    expect(docket()).toContain('The event you opened does not exist.');
    await p.press('Close');
    expect(p.host.querySelector('lg-docket')).toBeNull();
  });

  it('calls what an event rests on as people do, and leads to the event it cites', async () => {
    const evidence = { agent: 'Mozilla/5.0', cites: 'b', unheardOf: 'x' };
    await open('/page?open=a', {}, [event('a', { evidence }), event('b', { disclosure: 'Words of before.' })]);
    const said = () => p.host.querySelector('lg-docket')?.textContent ?? '';
    for (const part of ['Browser', 'Mozilla/5.0', 'unheardOf']) expect(said()).toContain(part);
    await p.press('an earlier event');
    expect(said()).toContain('Words of before.');
  });

  it('calls words by what the page or form is called that showed them', async () => {
    const said = () => p.host.querySelector('lg-docket')?.textContent ?? '';
    await open('/page?open=a', {}, [event('a', { disclosureVersion: 'form frm_1' })]);
    expect(said()).toContain('form “counter.pdf”');
    expect(said()).not.toContain('frm_1');
    closePage(p);
    await open('/page?open=a', {}, [event('a', { disclosureVersion: 'rye-club, version 2' })]);
    expect(said()).toContain('Rye club, version 2');
    closePage(p);
    await open('/page?open=a', {}, [event('a', { disclosureVersion: 'a page long gone, version 2' })]);
    expect(said()).toContain('a page long gone, version 2');
  });

  it('names a document once, and what else it was called', async () => {
    const times = (name: string) => (p.host.querySelector('lg-docket')?.textContent ?? '').split(name).length - 1;
    await open('/page?open=a', {}, [event('a', { evidence: { document: 'sign.png' } })]);
    expect(times('sign.png')).toBe(1);
    closePage(p);
    await open('/page?open=a', {}, [event('a', { evidence: { document: 'scan-7.png' } })]);
    expect([times('sign.png'), times('scan-7.png')]).toEqual([1, 1]);
  });

  it('opens an event that came by an e-mail to the letter as its reader got it', async () => {
    const evidence = { invitation: 'lnk_1' };
    const sent = { to: 'perrin@mail.example', at: Date.parse('2027-03-08T15:00:00Z'), by: 'Maren Oakhurst' };
    const said = () => p.host.querySelector('lg-docket')?.textContent ?? '';
    const letter = { ...sent, subject: 'Texts, if you like', text: 'Hello Perrin,\n[their personal link]' };
    await open('/page?open=a', {}, [event('a', { evidence })], undefined, letter);
    for (const part of ['perrin@mail.example', 'Texts, if you like', 'Hello Perrin,\n[their personal link]'])
      expect(said()).toContain(part);
    expect(said()).not.toContain('lnk_1');
    closePage(p);
    await open('/page?open=a', {}, [event('a', { evidence })], undefined, { ...sent, subject: '', text: '' });
    expect(said()).toContain('Its words were not kept at that time.');
  });

  it('shows an event with the words they saw, its evidence and its place in the chain', async () => {
    await open('/page?open=a');
    const docket = p.host.querySelector('lg-docket')?.textContent ?? '';
    for (const part of ['5,299', 'Text me news about bread.', '/join/rye-club', 'bbbb', 'aaaa'])
      expect(docket).toContain(part);
    expect(docket).withContext('what was not kept is not shown').not.toContain('address');
    expect(p.host.querySelectorAll('del').length).withContext('nothing here can be changed').toBe(0);
  });

  it('leads from an event to the page as it was, and to a pack about its number', async () => {
    await open('/page?open=a', {}, [event('a', { evidence: { pageSha256: 'cd'.repeat(32) } })]);
    const links = [...p.host.querySelectorAll<HTMLAnchorElement>('lg-docket a')].map((a) => a.href);
    expect(links.some((l) => l.endsWith(`/page-versions/${'cd'.repeat(32)}`))).toBeTrue();
    expect(links.some((l) => l.endsWith('/evidence/ask?e164=%2B12015550171'))).toBeTrue();
    closePage(p);
    await open('/page?open=a');
    expect(p.host.querySelector('lg-docket a[href*="page-versions"]')).withContext('where none was kept').toBeNull();
  });

  it('asks the server for what is filtered: a whole number as it is, else words of whoever is meant', async () => {
    await open('/page?kind=revoked');
    expect(p.api.of('consent.ledger')[0]?.query['kind']).toBe('revoked');
    const field = p.host.querySelector<HTMLInputElement>('[data-filter]');
    if (field) field.id = 'one';
    await p.fill('one', '01');
    expect(p.text()).toContain('Three letters or digits at least.');
    await p.fill('one', '0171');
    expect(p.url()).toBe('/page?kind=revoked&q=0171');
    await p.fill('one', '201 555 0171');
    expect(p.url()).toBe('/page?kind=revoked&e164=%2B12015550171');
    expect(p.api.of('consent.ledger').at(-1)?.query).toEqual(
      jasmine.objectContaining({ kind: 'revoked', e164: '+12015550171' }),
    );
    await p.press('Show all');
    expect(p.url()).toBe('/page');
  });

  it('is narrowed by a source, by the words people were shown, by a list and by days', async () => {
    await open('/page');
    const choose = async (name: string, words: string): Promise<void> => {
      const select = p.host.querySelector<HTMLSelectElement>(`select[aria-label="${name}"]`);
      const option = [...(select?.options ?? [])].find((x) => x.text === words);
      if (select && option) select.value = option.value;
      select?.dispatchEvent(new Event('change'));
      await p.settle();
    };
    await choose('Page, keyword, form or list it came by', 'Rye club');
    await choose('Words they were shown', 'Rye club, version 2');
    await choose('People on a list or with a tag', 'tag: season');
    await choose('Purpose', 'promotional');
    const first = p.host.querySelector<HTMLInputElement>('input[aria-label="First day"]');
    if (first) first.id = 'first-day';
    await p.fill('first-day', '1 Mar 2027');
    expect(p.api.of('consent.ledger').at(-1)?.query).toEqual(
      jasmine.objectContaining({
        source: 'rye-club',
        words: 'rye-club, version 2',
        list: 'lst_2',
        purpose: 'promotional',
        from: '2027-03-01',
      }),
    );
  });

  it('shows its events before they are counted, and says where there are more than were', async () => {
    const answers: unknown[] = [{ total: 2, more: false }];
    await open('/page', {}, undefined, () => answers.shift());
    expect(p.text()).toContain('2 events, newest first');
    let counted: (answer: object) => void = () => undefined;
    answers.push(new Promise((resolve) => (counted = resolve)));
    const field = p.host.querySelector<HTMLInputElement>('[data-filter]');
    if (field) field.value = 'eide';
    field?.dispatchEvent(new Event('change'));
    // It never comes to rest before it is counted, so it is not waited for.
    for (let i = 0; i < 2_000 && p.api.of('consent.count').length < 2; i++) await new Promise((r) => setTimeout(r, 25));
    await new Promise((r) => setTimeout(r, 25));
    expect(p.text()).toContain('Wren Eide');
    expect(p.text()).toContain('Counting…, newest first');
    counted({ total: 1000, more: true });
    await p.settle();
    expect(p.text()).toContain('At least 1,000 events, newest first');
    expect(p.api.of('consent.count').at(-1)?.query).toEqual({ q: 'eide' });
    closePage(p);
    await open('/page?q=eide', {}, [event('a')], new Error('away'));
    expect(p.text()).withContext('a count that failed is none').toContain('Events, newest first');
  });

  it('takes what is shown along as a file', async () => {
    await open('/page?kind=revoked&purpose=promotional');
    const file = [...p.host.querySelectorAll('a')].find((a) => a.textContent?.trim() === 'Export CSV');
    expect(file?.getAttribute('href')).toMatch(/ledger\.csv\?kind=revoked&purpose=promotional$/);
  });

  it('says whether the chain holds, and whether the state of now follows from it', async () => {
    await open('/page');
    await p.press('Verify the chain');
    expect(p.text()).toContain('Unbroken. 5,299 events follow one another unbroken. The state of now follows from it.');
    closePage(p);
    await open('/page', { ok: false, message: 'Event 12 was changed.', projection: { ok: false, differing: 3 } });
    await p.press('Verify the chain');
    expect(p.text()).toContain('Broken. Event 12 was changed. 3 numbers show another state than the ledger gives.');
  });

  it('says how it fills where it is empty, and not where a filter hides all', async () => {
    await open('/page', {}, []);
    expect(p.text()).toContain('The ledger is empty');
    closePage(p);
    await open('/page?kind=revoked', {}, []);
    expect(p.text()).not.toContain('The ledger is empty');
    expect(p.text()).toContain('No event matches.');
  });
});
