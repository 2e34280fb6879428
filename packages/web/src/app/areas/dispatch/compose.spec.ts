import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { POSTS } from '@long-gate/core';
import { ApiProblem } from '../../api/api';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { DispatchPage } from './dispatch';

const NOW = Date.parse('2027-03-12T19:00:00Z');
const DRAFT = {
  id: 'dsp_1',
  title: 'Rye is back',
  text: 'Rye bread is back.',
  purpose: 'informational' as 'informational' | 'promotional' | null,
  transactional: true,
  stopLine: true,
  numberId: 'num_1' as string | null,
  audience: { include: ['lst_1'], exclude: [] as string[] },
  override: '',
  overrideBy: '',
  category: '',
  effort: '',
  schedule: null,
  archivedAt: null,
  state: 'draft',
  createdBy: 'Wren Holloway',
  createdAt: NOW,
  sentAt: null,
  endsAt: null,
  counts: {},
  version: 3,
};
const PREVIEW = {
  counts: {
    audience: 12,
    pass: 9,
    hold: 2,
    stop: 1,
    posts: POSTS.map(({ no }) => ({ post: no, pass: 9, hold: 0, stop: 0, reasons: [] })),
    nextAt: null,
    goodUntil: null,
  },
  repeats: 0,
  askedFirst: { numbers: 412, cost: 2_266_000, seconds: 22 },
  findings: [],
  example: 'Heron Lane: Rye bread is back.',
  encoding: 'GSM-7',
  segmentsTypical: 1,
  segmentsWorst: 1,
  unitsWorst: 40,
  cost: 63_000,
  balance: 12_000_000,
  lastAt: NOW,
  perSecond: 40,
  perDay: 40_000,
  judgedAt: NOW,
  hours: [11, 11, 0],
  classes: 3,
  reach: 11,
  costAtMost: 77_000,
  later: null,
};
const NUMBERS = [
  {
    id: 'num_1',
    e164: '+12015550142',
    label: 'News',
    description: '',
    state: 'active',
    deciding: null,
    defaultFor: [],
  },
  {
    id: 'num_2',
    e164: '+12015550143',
    label: 'Offers',
    description: '',
    state: 'active',
    deciding: null,
    defaultFor: ['promotional'],
  },
];
const LISTS = [
  { id: 'lst_1', name: 'Regulars', kind: 'list', count: 12 },
  { id: 'lst_2', name: 'Market', kind: 'list', count: 30 },
];

/** Some specs wait for several pauses of somebody who types. */
const PATIENCE = 30_000;

describe('writing a dispatch', () => {
  let p: OpenPage;
  let kept: typeof DRAFT;
  let refuse: ApiProblem | null;
  const LATER = { at: Date.parse('2027-03-13T14:00:00Z'), held: 0, heldUntil: null, better: null };
  let later: object = LATER;
  async function open(over: Partial<typeof DRAFT> = {}, role = 'administrator'): Promise<void> {
    kept = { ...DRAFT, ...over };
    refuse = null;
    p = await openPage(
      DispatchPage,
      {
        'dispatches.get': () => kept,
        'dispatches.preview': ({ body }: Asked) => {
          const { when } = body as { when: object | null };
          return { ...PREVIEW, later: when ? later : null };
        },
        'dispatches.counts': { shows: {}, categories: [{ value: 'Fares', n: 2 }], efforts: [] },
        'dispatches.schedule': () => (kept = { ...kept, version: kept.version + 1 }),
        'dispatches.save': (a: Asked) => {
          if (refuse) return refuse;
          if (a.version !== kept.version) return new ApiProblem(412, 'changed-meanwhile', 'Changed.', []);
          return (kept = { ...kept, ...(a.body as object), version: kept.version + 1 });
        },
        'dispatches.send': () => (kept = { ...kept, version: kept.version + 1 }),
        'lists.list': { items: LISTS },
        'numbers.list': { items: NUMBERS },
      },
      { path: 'dispatch/:id', at: '/dispatch/dsp_1', role },
    );
    await new Promise((r) => setTimeout(r, 300));
    await p.settle();
  }
  afterEach(() => closePage(p));

  it('offers the default for the purpose first, marked, and chooses none by itself', async () => {
    await open({ purpose: 'promotional', numberId: null });
    const options = [...p.host.querySelectorAll('[aria-label="Sending number"] option')].map(
      (o) => o.textContent?.replace(/\s+/g, ' ').trim() ?? '',
    );
    expect(options).toEqual(['choose the number…', '+1 201-555-0143 Offers · default', '+1 201-555-0142 News']);
    expect(p.host.querySelector<HTMLSelectElement>('[aria-label="Sending number"]')?.selectedIndex).toBe(0);
  });

  /** A moment after the last key it is saved. */
  async function saved(): Promise<Record<string, unknown>> {
    await new Promise((r) => setTimeout(r, 800));
    await p.settle();
    return p.api.of('dispatches.save').at(-1)?.body as Record<string, unknown>;
  }
  async function choose(label: string, words: string): Promise<void> {
    const select = p.host.querySelector<HTMLSelectElement>(`select[aria-label="${label}"]`);
    const option = Array.from(select?.options ?? []).find((o) => o.text.includes(words));
    if (!select || !option) throw new Error(`There is no “${words}” in ${label}.`);
    select.value = option.value;
    select.dispatchEvent(new Event('change', { bubbles: true }));
    await p.settle();
  }
  const title = (): HTMLInputElement => p.host.querySelector('input.title') as HTMLInputElement;
  async function call(words: string): Promise<void> {
    title().dispatchEvent(new Event('focus'));
    title().value = words;
    title().dispatchEvent(new Event('input', { bubbles: true }));
    title().dispatchEvent(new Event('blur'));
    await p.settle();
  }

  it('saves what is chosen by itself, and never calls an offer transactional', async () => {
    await open();
    await choose('Purpose', 'promotional');
    const body = await saved();
    expect([body['purpose'], body['transactional']]).toEqual(['promotional', false]);
    expect(p.text()).toContain('saved');
    await choose('Sending number', 'Offers');
    expect((await saved())['numberId']).toBe('num_2');
    await choose('Sending number', 'choose the number');
    expect((await saved())['numberId']).toBeNull();
    expect(p.text()).toContain('a sending number is missing');
  });

  it('puts lists to the audience and takes them out, each once', async () => {
    await open();
    await choose('Add a list or tag to the audience', 'Market');
    expect((await saved())['audience']).toEqual({ include: ['lst_1', 'lst_2'], exclude: [] });
    const left = Array.from(p.host.querySelectorAll('select[aria-label="Leave out a list or tag"] option'));
    expect(left.map((o) => o.textContent?.trim()))
      .withContext('both are used already')
      .toEqual(['–']);
    p.host.querySelector<HTMLElement>('[aria-label="Take out Regulars"]')?.click();
    await p.settle();
    await choose('Leave out a list or tag', 'Regulars');
    expect((await saved())['audience']).toEqual({ include: ['lst_2'], exclude: ['lst_1'] });
  });

  it('keeps its title where it is emptied, and takes another', async () => {
    await open();
    await call('');
    expect(title().value).toBe('Rye is back');
    await call('Rye at last');
    expect((await saved())['title']).toBe('Rye at last');
    await call(' ');
    expect(title().value).withContext('as it was called last').toBe('Rye at last');
  });

  it('brings another’s change together with one’s own', async () => {
    await open();
    kept = { ...kept, title: 'Rye for all', version: 4 };
    const [stop] = await p.loader.getAllHarnesses(MatCheckboxHarness.with({ label: /Reply STOP/ }));
    await stop?.uncheck();
    const body = await saved();
    expect([body['title'], body['stopLine']]).toEqual(['Rye for all', false]);
    expect(title().value).toBe('Rye for all');
  });

  it('says what the server refuses, at its field', async () => {
    await open();
    refuse = new ApiProblem(422, 'refused', 'Not saved.', [{ field: 'title', message: 'There is one of this title.' }]);
    await call('Rye again');
    await saved();
    expect(p.text()).toContain('There is one of this title.');
  });

  it('sends what was asked about: the version before the person’s eyes', async () => {
    await open();
    await p.press(/Send to 9/);
    expect(p.questions[0]?.title).toBe('Send to 9 now?');
    expect(p.questions[0]?.line).toContain('2 held follow');
    expect(p.api.of('dispatches.send').map((a) => a.version)).toEqual([3]);
  });

  it('sends nothing that was not confirmed', async () => {
    await open();
    p.yes = false;
    await p.press(/Send to 9/);
    expect(p.api.of('dispatches.send')).toEqual([]);
  });

  it('says whom it asks about first, whether their numbers changed hands, and what that costs', async () => {
    await open();
    expect(p.text().replace(/\s+/g, ' ')).toContain(
      '412 numbers are asked about first, whether they changed hands since the last consent: 2.27, about 22 seconds.',
    );
  });

  it('shows when its audience may be texted', async () => {
    await open();
    expect(p.host.querySelectorAll('lg-hour-strip rect.open').length).toBe(3);
    expect(p.text()).toContain('By their hours 11 may be texted now');
  });

  /** Chooses a day and a time here. */
  async function at(zone: string, day: string, time: string): Promise<void> {
    const field = p.host.querySelector<HTMLSelectElement>('#when');
    if (field) field.value = [...field.options].find((o) => o.text.includes(zone))?.value ?? '';
    field?.dispatchEvent(new Event('change', { bubbles: true }));
    await p.settle();
    await p.fill('when-day', day);
    await p.fill('when-time', time);
    await new Promise((r) => setTimeout(r, 300));
    await p.settle();
  }

  it('is scheduled once its time, text, sender, purpose and audience were read and confirmed', async () => {
    later = LATER;
    await open();
    await at('at a time here', '2027-03-13', '09:00');
    expect(p.text()).toContain('By their hours nobody would be held');
    await p.press('Schedule…');
    const [q] = p.questions;
    expect(q?.title).toBe('Schedule for Sat 13 Mar 2027, 09:00?');
    expect(q?.line).toContain('As of now to 11, for at most 0.08');
    expect(q?.facts?.map((f) => f.name)).toEqual(['Text', 'From', 'Purpose', 'To']);
    expect(p.api.of('dispatches.schedule').map((a) => [a.version, a.body])).toEqual([
      [3, { local: '2027-03-13T09:00', zone: 'business', reach: 11, cost: 77_000 }],
    ]);
  });

  it('lets nothing go by an answer of the gate that was given for another time', async () => {
    later = LATER;
    await open();
    await at('at a time here', '2027-03-13', '09:00');
    const go = () => [...p.host.querySelectorAll('button')].find((b) => b.textContent?.includes('Schedule'));
    expect(go()?.disabled).toBeFalse();
    await p.fill('when-time', '10:00');
    expect(go()?.disabled).withContext('until the gate has answered for ten o’clock').toBeTrue();
    await new Promise((r) => setTimeout(r, 300));
    await p.settle();
    expect(go()?.disabled).toBeFalse();
  });

  it('says whom a time would hold and until when, and takes a better one', async () => {
    later = {
      ...LATER,
      held: 4,
      heldUntil: Date.parse('2027-03-13T16:00:00Z'),
      better: { at: 1, local: '2027-03-13T11:00', held: 0 },
    };
    await open();
    await at('where each of them is', '2027-03-13', '07:00');
    expect(p.text()).toContain('4 would be held, the last until 13 Mar 2027, 11:00');
    await p.press(/Nobody is held at Sat 13 Mar, 11:00/);
    await new Promise((r) => setTimeout(r, 300));
    expect((p.api.of('dispatches.preview').at(-1)?.body as { when: object }).when).toEqual({
      local: '2027-03-13T11:00',
      zone: 'own',
    });
    later = LATER;
  });

  it('schedules nothing for a moment that has passed, or half chosen', async () => {
    later = { ...LATER, at: Date.parse('2027-03-01T14:00:00Z') };
    await open();
    await at('at a time here', '2027-03-01', '09:00');
    expect(p.text()).toContain('This moment has passed');
    const go = () => [...p.host.querySelectorAll('button')].find((b) => b.textContent?.includes('Schedule'));
    expect(go()?.disabled).toBeTrue();
    await p.fill('when-time', '');
    expect(go()?.textContent).toContain('choose day and time');
    later = LATER;
  });

  it('is read, not written, by one who may not', async () => {
    await open({}, 'viewer');
    expect(title().disabled).toBeTrue();
    expect(p.host.querySelector<HTMLSelectElement>('select[aria-label="Purpose"]')?.disabled).toBeTrue();
    expect(p.host.querySelector('[aria-label="Take out Regulars"]')).toBeNull();
  });

  describe('that is new', () => {
    const begin = async (answer: (a: Asked) => unknown): Promise<void> => {
      await open();
      closePage(p);
      const { answers } = p.api;
      p = await openPage(
        DispatchPage,
        { ...answers, 'dispatches.add': answer, 'dispatches.get': () => kept },
        { at: '/b/biz_1/dispatch/new', path: 'b/biz_1/dispatch/:id' },
      );
    };
    const title = (): HTMLInputElement | null => p.host.querySelector('input.title');
    const write = async (words: string): Promise<void> => {
      const field = title();
      if (!field) throw new Error('There is no title.');
      field.focus();
      field.value = words;
      field.dispatchEvent(new Event('input', { bubbles: true }));
      await p.settle();
    };
    const rest = async (): Promise<void> => {
      await new Promise((r) => setTimeout(r, 900));
      await p.settle();
    };
    const store = ({ body }: Asked): unknown =>
      (kept = { ...DRAFT, ...(body as object), id: 'dis_9', version: 1, createdAt: NOW });

    it(
      'is stored at its first word and not before, once, and goes on where it is written',
      async () => {
        await begin(store);
        await rest();
        expect(p.api.of('dispatches.add')).withContext('nothing was written').toEqual([]);
        expect(title()?.value).toMatch(/^Dispatch of 12 Mar, /);
        const field = title();
        await write('Rye');
        await rest();
        expect(p.api.of('dispatches.add').map((a) => (a.body as { title: string }).title)).toEqual(['Rye']);
        expect(p.url()).toBe('/b/biz_1/dispatch/dis_9');
        expect(title()).withContext('the same field, with the caret in it').toBe(field);
        await write('Rye is back');
        await rest();
        expect(p.api.of('dispatches.add').length).withContext('begun once').toBe(1);
        expect(p.api.of('dispatches.save').map((a) => [a.params['id'], (a.body as { title: string }).title])).toEqual([
          ['dis_9', 'Rye is back'],
        ]);
      },
      PATIENCE,
    );

    it(
      'is another one when it is begun after it, and takes nothing of the first',
      async () => {
        let n = 8;
        await begin(
          ({ body }: Asked): unknown =>
            (kept = { ...DRAFT, ...(body as object), id: `dis_${++n}`, version: 1, createdAt: NOW }),
        );
        await write('Rye');
        await rest();
        expect(p.url()).toBe('/b/biz_1/dispatch/dis_9');
        await TestBed.inject(Router).navigateByUrl('/b/biz_1/dispatch/new');
        await rest();
        expect(title()?.value).toMatch(/^Dispatch of 12 Mar, /);
        await write('Spelt');
        await rest();
        expect(p.url()).toBe('/b/biz_1/dispatch/dis_10');
        const begun = p.api.of('dispatches.add');
        expect(begun.map((a) => (a.body as { title: string }).title)).toEqual(['Rye', 'Spelt']);
        expect(new Set(begun.map((a) => a.key)).size)
          .withContext('each its own wish')
          .toBe(2);
      },
      PATIENCE,
    );

    it(
      'loses nothing that is typed while the first word is on its way',
      async () => {
        let answer: (value: unknown) => void = () => undefined;
        await begin((a) => new Promise((r) => (answer = () => r(store(a)))));
        await write('Rye');
        await rest();
        await write('Rye is back');
        answer(undefined);
        await rest();
        expect(title()?.value).toBe('Rye is back');
        expect(kept.title).toBe('Rye is back');
      },
      PATIENCE,
    );

    it(
      'keeps the words where the server is away, and asks again under the same name',
      async () => {
        const keys: unknown[] = [];
        let away = true;
        await begin((a) => {
          keys.push(a.key);
          return away ? new ApiProblem(0, 'offline', 'The server does not answer.', []) : store(a);
        });
        await write('Rye');
        await rest();
        expect(p.text()).toContain('kept in this browser');
        expect(p.url()).toBe('/b/biz_1/dispatch/new');
        away = false;
        globalThis.dispatchEvent(new Event('online'));
        await rest();
        expect(p.url()).toBe('/b/biz_1/dispatch/dis_9');
        expect(new Set(keys).size).toBe(1);
        expect(keys[0]).toBeTruthy();
        expect(localStorage.length).withContext('nothing is kept of what is stored').toBe(0);
      },
      PATIENCE,
    );
  });
});
