import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { PeopleBehind } from './people-behind';
import type { CountOf } from './people-behind.store';

const dispatch = {
  title: 'Fares',
  text: 'Spring fares.',
  purpose: 'promotional' as const,
  transactional: false,
  stopLine: true,
  numberId: 'num_1',
  audience: { include: ['lst_1'], exclude: [] },
  override: '',
  category: '',
  effort: '',
  when: null,
};
const count = signal<CountOf>({ dispatch, post: 6, result: 'stop' });

@Component({
  selector: 'lg-host',
  imports: [PeopleBehind],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-people-behind [count]="count()" [booked]="250" dispatchId="dis_1" (closed)="closed = true" />`,
})
class Host {
  protected readonly count = count;
  protected closed = false;
}

const person = (i: number, reason: string) => ({
  contactId: `con_${i}`,
  name: `Wren${i} Eide`,
  e164: `+1201555${String(1000 + i)}`,
  result: 'stop',
  post: 6,
  reason,
  why: reason === 'consent-none' ? 'never agreed to this kind of text' : 'declined',
  lift: 'their own act: the opt-in page',
  until: null,
  answers: [],
  onFile: 'nothing',
});
const reasons = [
  {
    reason: 'consent-none',
    why: 'never agreed to this kind of text',
    lift: 'their own act: the opt-in page',
    n: 248,
    remedies: ['ask', 'file a form'],
  },
  { reason: 'consent-declined', why: 'declined', lift: 'their own act: the opt-in page', n: 2, remedies: [] },
];

describe('the people behind a count', () => {
  let p: OpenPage;
  const open = async (answers: object = {}, role = 'administrator'): Promise<void> => {
    count.set({ dispatch, post: 6, result: 'stop' });
    p = await openPage(
      Host,
      {
        'dispatches.people': ({ body }: Asked) => {
          const { cursor, limit, reason } = body as { cursor?: string; limit: number; reason: string | null };
          const from = Number(cursor ?? 0);
          const all = reason === 'consent-declined' ? 2 : 250;
          return {
            items: Array.from({ length: Math.min(limit, all - from) }, (_, i) =>
              person(from + i, reason ?? (from + i < 248 ? 'consent-none' : 'consent-declined')),
            ),
            next: from + limit < all ? String(from + limit) : null,
            total: all,
            reasons,
          };
        },
        'pages.list': {
          items: [
            { id: 'pag_1', slug: 'old', title: 'Old', intro: '', published: false },
            { id: 'pag_2', slug: 'saltmarsh', title: 'Texts', intro: 'Fares and fog.', published: true },
          ],
        },
        'dispatches.tag': { listId: 'lst_7', added: 248, people: 248 },
        'dispatches.peopleFile': '',
        ...answers,
      },
      { role },
    );
  };
  afterEach(() => closePage(p));
  const pick = async (words: RegExp): Promise<void> => {
    await (await p.loader.getHarness(MatButtonToggleHarness.with({ text: words }))).toggle();
    await p.settle();
  };
  const asked = (): unknown[] => p.api.of('dispatches.people').map((a) => (a.body as { reason: unknown }).reason);

  it('are all reached by scrolling, and narrowed to one reason', async () => {
    await open();
    expect(p.text()).toContain('Post 6, consent');
    expect(p.text()).toContain('250 stopped');
    const [first] = p.api.of('dispatches.people');
    expect(first?.body).toEqual(jasmine.objectContaining({ dispatch, post: 6, result: 'stop', reason: null }));
    const rows = p.host.querySelector<HTMLElement>('cdk-virtual-scroll-viewport');
    for (let i = 0; i < 6 && rows; i++) {
      rows.scrollTop = rows.scrollHeight;
      rows.dispatchEvent(new Event('scroll'));
      await p.settle();
    }
    expect(p.api.of('dispatches.people').map((a) => (a.body as { cursor?: string }).cursor)).toEqual([
      undefined,
      '100',
      '200',
    ]);
    await pick(/declined 2/);
    expect(asked().at(-1)).toBe('consent-declined');
    expect(p.host.querySelectorAll('tr[data-row]').length).toBe(2);
  });

  it('of whom it is not known whether their number changed hands are asked about, all of that reason', async () => {
    const unknown = {
      reason: 'reassignment-no-data',
      why: 'not known whether it changed hands',
      lift: 'a later query that says no',
      n: 250,
      remedies: ['query'],
    };
    await open({
      'dispatches.people': { items: [person(1, 'reassignment-no-data')], next: null, total: 250, reasons: [unknown] },
      'reassigned.estimate': { numbers: 250, cost: 1_375_000, seconds: 13, balance: 5_000_000 },
      'reassigned.start': { jobId: 'job_1', numbers: 250 },
    });
    p.yes = true;
    await p.press('Ask whether these changed hands…');
    expect(p.questions[0]?.yes).toBe('Ask for 1.375');
    const [begun] = p.api.of('reassigned.start').map((a) => a.body as { behind: { reason: string }; again: boolean });
    expect([begun?.behind.reason, begun?.again]).toEqual(['reassignment-no-data', true]);
  });

  it('are asked with words of a page that is published, and put on a tag; nobody who declined is', async () => {
    await open();
    expect(p.text()).toContain('248 never agreed to this kind of text');
    await p.press('Ask these…');
    const words = p.host.querySelector<HTMLTextAreaElement>('textarea')?.value ?? '';
    expect(words).toContain('/join/saltmarsh');
    expect(words).toContain('Fares and fog.');
    await p.fill('tag', 'ask at the pier');
    await p.press('Put 248 on the tag');
    expect(p.api.of('dispatches.tag').map((a) => a.body)).toEqual([
      jasmine.objectContaining({ reason: 'consent-none', tag: 'ask at the pier' }),
    ]);
    expect(p.text()).toContain('They are on the tag.');
    await pick(/declined 2/);
    expect(p.text()).not.toContain('Ask these…');
  });

  it('are looked up for what it costs, after a question', async () => {
    await open({
      'dispatches.people': {
        items: [person(1, 'never-looked-up')],
        next: null,
        total: 1,
        reasons: [
          { reason: 'never-looked-up', why: 'never looked up', lift: 'its lookup', n: 1, remedies: ['look up'] },
        ],
      },
      'dispatches.estimateLookups': { numbers: 1, cost: 5500, seconds: 1, balance: 9_000_000 },
      'dispatches.lookUp': { jobId: 'job_1', numbers: 1 },
    });
    p.yes = false;
    await p.press('Look these up…');
    expect(p.questions.at(-1)?.title).toBe('Look up this number?');
    expect(p.api.of('dispatches.lookUp').length).toBe(0);
    p.yes = true;
    await p.press('Look these up…');
    expect(p.api.of('dispatches.lookUp').length).toBe(1);
  });

  it('begin with all reasons where another count is opened', async () => {
    await open();
    await pick(/declined 2/);
    count.set({ dispatch, post: 4, result: 'stop' });
    await p.settle();
    expect(asked().at(-1)).toBeNull();
  });

  it('have a form filed by an administrator alone', async () => {
    await open();
    expect(p.text()).toContain('File a form…');
    closePage(p);
    await open({}, 'coordinator');
    expect(p.text()).toContain('Ask these…');
    expect(p.text()).not.toContain('File a form…');
  });

  it('offer nothing to do to one who may only look', async () => {
    await open({}, 'viewer');
    expect(p.text()).not.toContain('Ask these');
    expect(p.text()).toContain('Export CSV');
  });
});
