import { answersFor } from '@long-gate/core';
import { ApiProblem } from '../../api/api';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { KeywordsPage } from './keywords';

const OFFERS = [
  { purpose: 'promotional', label: 'Text me news about bread', frequency: 'about twice a month' },
] as const;
const told =
  'Text RYE to 201-555-0142 to get automated promotional texts with news of bread from Heron Lane, about twice a month. Not a condition of any purchase. Msg & data rates may apply. Reply HELP for help, STOP to end. Terms and privacy at heron.example/terms.';
const keyword = {
  id: 'kwd_1',
  title: 'At the till',
  numberId: 'num_1',
  words: ['RYE', 'BREAD'],
  purposes: OFFERS,
  told,
  place: 'a sign beside the till',
  termsUrl: 'https://heron.example/terms',
  doubleOptIn: true,
  answers: answersFor('Heron Lane', OFFERS),
  active: true,
  toldVersion: 2,
  picture: null as { name: string; sha256: string } | null,
  came: { new: 1204, already: 31, back: 12 },
  confirmed: 988,
  codes: { given: 40, left: 0 },
  lastAt: Date.parse('2027-03-08T15:00:00Z'),
  version: 4,
};
const number = { id: 'num_1', e164: '+12015550142', label: 'Offers', state: 'active', kind: 'local', deciding: null };

describe('keywords', () => {
  let p: OpenPage;
  let kept: typeof keyword;
  /** Of the number they stand on. */
  let state = 'active';
  let asked: { id: string; body: Record<string, unknown> }[];
  const open = async (at: string, role = 'administrator', over: Partial<typeof keyword> = {}): Promise<void> => {
    kept = { ...keyword, ...over };
    asked = [];
    p = await openPage(
      KeywordsPage,
      {
        'keywords.list': () => ({ items: [kept] }),
        'numbers.list': { items: [{ ...number, state }] },
        'keywords.add': (a: { body: Record<string, unknown> }) => {
          asked.push({ id: 'add', body: a.body });
          return { ...kept, id: 'kwd_2' };
        },
        'keywords.edit': (a: { body: Record<string, unknown>; version?: number }) => {
          asked.push({ id: 'edit', body: a.body });
          return (a.body['words'] as string[]).includes('LOAF')
            ? new ApiProblem(409, 'conflict', 'Taken.', [{ field: 'words', message: '“LOAF” is a word of “Loaves”.' }])
            : (kept = { ...kept, ...a.body, version: kept.version + 1 });
        },
        'keywords.addCodes': (a: { body: Record<string, unknown> }) => {
          asked.push({ id: 'codes', body: a.body });
          return { added: 2, known: 1, left: 2 };
        },
      },
      { at, role },
    );
  };
  afterEach(() => {
    closePage(p);
    state = 'active';
  });

  it('stand with their number, who came, and that no code is left', async () => {
    await open('/page');
    for (const words of ['RYE, BREAD', '+1 201-555-0142', '1,204', '988', 'live']) expect(p.text()).toContain(words);
    await p.press('RYE, BREAD');
    expect(p.url()).toBe('/page?open=kwd_1');
    expect(p.host.querySelector<HTMLTextAreaElement>('#told')?.value).toBe(told);
    expect(p.text()).toContain('40 given, 0 left');
  });

  it('are not said to be live where their number is gone, which stays chosen and can be paused', async () => {
    state = 'released';
    await open('/page?open=kwd_1');
    expect(p.text()).toContain('out of service');
    expect(p.text()).toContain('Nobody can text it: the number is not in service.');
    expect(p.text()).toContain('+1 201-555-0142 Offers (not in service)');
    closePage(p);
    await open('/page?open=kwd_1', 'administrator', { active: false });
    expect(p.text()).not.toContain('Nobody can text it');
  });

  it('say what is missing while it is written, and what an answer comes to', async () => {
    await open('/page?open=kwd_1');
    expect(p.text()).not.toContain('Must be mended');
    await p.fill('told', told.replace('Msg & data rates may apply. ', ''));
    expect(p.text()).toContain('It does not say that rates may apply.');
    await p.fill('new', 'Heron Lane: welcome. Code: [code]');
    expect(p.text()).toContain('When no code is left nothing stands there.');
    expect(p.text()).toContain('lacks how often, that rates may apply, HELP, STOP');
    expect(p.text()).toContain('Heron Lane: welcome. Code: K7-204');
    expect(p.text()).toMatch(/1 segment, \d+ at most/);
  });

  it('say what a text would be taken for', async () => {
    await open('/page?open=kwd_1');
    for (const [words, said] of [
      ['rye!', 'It joins, by RYE.'],
      ['STOP rye', 'It is a wish to stop'],
      ['what is rye', 'It is an ordinary text'],
      ['YES', 'joins only as the answer to a request'],
    ] as const) {
      await p.fill('tried', words);
      expect(p.text()).withContext(words).toContain(said);
    }
  });

  it('are saved with their words apart, and a word that is taken is said at its field', async () => {
    await open('/page?open=kwd_1');
    await p.fill('words', 'RYE; crust');
    await p.press('Save');
    expect(asked.map((x) => x.body['words'])).toEqual([['RYE', 'crust']]);
    await p.press('RYE, crust');
    await p.fill('words', 'RYE, LOAF');
    await p.press('Save');
    expect(p.host.querySelector('#words-wrong')?.textContent).toContain('“LOAF” is a word of “Loaves”.');
    expect(p.host.querySelector<HTMLInputElement>('#words')?.value).toBe('RYE, LOAF');
  });

  it('propose answers that say all they have to', async () => {
    await open('/page?open=new');
    expect(p.text().includes('Propose words and answers')).toBeFalse();
    await p.fill('promotional', 'Text me news about bread');
    await p.fill('promotionalOften', 'about twice a month');
    await p.fill('words', 'rye');
    await p.fill('termsUrl', 'heron.example/terms');
    const select = p.host.querySelector<HTMLSelectElement>('#numberId');
    if (select) select.value = 'num_1';
    select?.dispatchEvent(new Event('change'));
    await p.press('Propose words and answers');
    expect(p.host.querySelector<HTMLTextAreaElement>('#told')?.value).toContain('Text RYE to +1 201-555-0142 to get');
    expect(p.text()).not.toContain('Must be mended');
    expect(p.host.querySelector<HTMLTextAreaElement>('#back')?.value).toContain('welcome back');
  });

  it('take codes as they are pasted, and say how many there were', async () => {
    await open('/page?open=kwd_1');
    await p.fill('codes', 'A1\nA2, A2\nA3');
    expect(p.text()).toContain('3 codes; 1 there twice, taken once');
    await p.press('Add them');
    expect(asked.at(-1)?.body['codes']).toEqual(['A1', 'A2', 'A3']);
    expect(p.host.querySelector<HTMLTextAreaElement>('#codes')?.value).toBe('');
  });

  it('can be read by a viewer, who changes nothing', async () => {
    await open('/page?open=kwd_1', 'viewer');
    expect(p.text().includes('Begin a keyword')).toBeFalse();
    expect([...p.host.querySelectorAll('button')].some((b) => b.textContent.trim() === 'Save')).toBeFalse();
    expect(p.host.querySelector<HTMLTextAreaElement>('#told')?.disabled).toBeTrue();
    expect(p.text()).toContain('40 given');
  });
});
