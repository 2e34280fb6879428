import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { DispatchPage } from './dispatch';

const DISPATCH = {
  id: 'dsp_1',
  title: 'Rye is back',
  text: 'The rye loaf is back.',
  purpose: 'informational',
  transactional: false,
  stopLine: true,
  numberId: 'num_1',
  audience: { include: ['lst_1'], exclude: [] },
  override: '',
  overrideBy: '',
  category: '',
  effort: '',
  archivedAt: null,
  state: 'scheduled',
  schedule: {
    local: '2027-03-14T09:00',
    zone: 'own',
    at: Date.parse('2027-03-14T13:00:00Z'),
    reach: 120,
    cost: 840_000,
    by: 'Odette Brand',
    held: '',
  },
  createdBy: 'Wren',
  createdAt: 1,
  sentAt: null,
  endsAt: null,
  counts: {},
  version: 7,
};
const PREVIEW = {
  counts: { audience: 130, pass: 125, hold: 0, stop: 5, posts: [], nextAt: null, goodUntil: null },
  repeats: 0,
  askedFirst: null,
  findings: [],
  example: 'Heron Lane: The rye loaf is back.',
  hours: [],
  reach: 125,
  costAtMost: 875_000,
  later: null,
};

describe('a scheduled dispatch', () => {
  let p: OpenPage;
  const open = async (held = '', role = 'administrator'): Promise<void> => {
    let off = false;
    p = await openPage(
      DispatchPage,
      {
        'dispatches.get': () =>
          off
            ? { ...DISPATCH, state: 'draft', schedule: null }
            : { ...DISPATCH, schedule: { ...DISPATCH.schedule, held } },
        'dispatches.preview': PREVIEW,
        'dispatches.counts': { shows: {}, categories: [], efforts: [] },
        'dispatches.call-off': () => {
          off = true;
          return DISPATCH;
        },
        'dispatches.send': DISPATCH,
        'lists.list': { items: [{ id: 'lst_1', name: 'Regulars', kind: 'list', count: 130 }] },
        'numbers.list': { items: [{ id: 'num_1', e164: '+12015550142', label: 'News', defaultFor: [] }] },
      },
      { path: 'dispatch/:id', at: '/dispatch/dsp_1', role },
    );
  };
  afterEach(() => closePage(p));

  it('says when it leaves, what was confirmed, and what it would come to as of now', async () => {
    await open();
    expect(p.text()).toContain('It leaves 14 Mar 2027, 09:00 EDT, at 09:00 where each of them is');
    expect(p.text()).toContain('Confirmed by Odette Brand: to 120, for at most 0.84');
    expect(p.text()).toContain('As of now it would reach 125 for at most 0.88');
    expect((p.api.of('dispatches.preview')[0]?.body as { when: object }).when).toEqual({
      local: '2027-03-14T09:00',
      zone: 'own',
    });
  });

  it('is called off once that is confirmed, and is a draft that begins from the time it had', async () => {
    await open();
    p.yes = false;
    await p.press(/Call it off/);
    expect(p.api.of('dispatches.call-off')).toEqual([]);
    p.yes = true;
    await p.press(/Call it off/);
    expect(p.api.of('dispatches.call-off').length).toBe(1);
    const value = (id: string) => p.host.querySelector<HTMLInputElement>(`#${id}`)?.value;
    expect([value('when-day'), value('when-time')]).toEqual(['14 Mar 2027', '09:00']);
    expect(p.host.querySelector<HTMLSelectElement>('#when')?.value).toBe('own');
  });

  it('says why it was held, and goes now only by a yes that names what has changed', async () => {
    await open('It would reach 125 people, 25 more than the 100 that were confirmed.');
    expect(p.host.querySelector('[role=alert]')?.textContent).toContain('25 more than the 100');
    await p.press(/Send to 125 now/);
    expect(p.questions[0]?.line).toContain('It was confirmed for 120');
    expect(p.questions[0]?.facts?.[0]?.value).toContain('The rye loaf is back');
    expect(p.api.of('dispatches.send').map((a) => a.version)).toEqual([7]);
  });

  it('is only looked at by one who may not write', async () => {
    await open('More people.', 'viewer');
    expect(p.text()).not.toContain('Call it off');
    expect(p.text()).not.toContain('now…');
  });
});
