import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { ApiProblem } from '../../api/api';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { InboxPage } from './inbox';

const NOW = Date.parse('2027-03-12T19:00:00Z');
const thread = (e164: string, over: object = {}) => ({
  e164,
  name: '',
  contactId: '',
  numberId: 'num_1',
  lastText: 'Do you take dogs',
  lastAt: Date.parse('2027-03-12T18:00:00Z'),
  unread: 1,
  standing: 'waiting',
  waitsUntil: NOW + 5 * 3_600_000,
  handled: '',
  ...over,
});
const A = '+12015550171';
const B = '+12015550172';
const left = thread(B, { unread: 0, standing: 'by itself', waitsUntil: null, handled: 'opt-out', lastText: 'STOP' });

describe('the inbox', () => {
  let p: OpenPage;
  const open = async (at: string, gate: object = {}, role = 'administrator', over: object = {}): Promise<void> => {
    p = await openPage(
      InboxPage,
      {
        'inbox.threads': (a: { query: { standing?: string } }) => ({
          items: a.query.standing === 'by itself' ? [left] : [thread(A), thread(B, { unread: 0, lastText: 'Thanks' })],
          next: null,
          total: 2,
          counts: { waiting: 2, 'too late': 0, answered: 4, 'by itself': 1 },
        }),
        'inbox.thread': (a: { params: { e164: string } }) => ({
          thread: thread(a.params.e164),
          messages: [
            {
              id: 'm1',
              direction: 'in',
              kind: 'reply',
              at: 1,
              text: 'Do you take dogs',
              state: '',
              why: '',
              failure: '',
            },
          ],
          gate: { result: 'pass', answers: [], why: '', lift: '', answerUntil: 2, ...gate },
          ownPage: 'https://texts.ferries.example/t/****************',
        }),
        'inbox.read': { done: true },
        'inbox.waiting': { done: true },
        'inbox.answer': { done: true },
        ...over,
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));
  const pick = async (text: RegExp): Promise<void> => {
    await (await p.loader.getHarness(MatButtonToggleHarness.with({ text }))).toggle();
    await p.settle();
  };
  const answer = (): string | undefined => p.host.querySelector<HTMLTextAreaElement>('#answer')?.value;

  it('reads a conversation by opening it, and leaves it unread where that is wished', async () => {
    await open('/page');
    expect(p.text()).toContain('1 new');
    await p.press(/201-555-0171/);
    expect(p.api.of('inbox.read').map((a) => a.body)).toEqual([{ read: true }]);
    await p.press('Mark unread');
    expect(p.api.of('inbox.read').map((a) => a.body)).toEqual([{ read: true }, { read: false }]);
    expect(p.url()).toBe('/page');
  });

  it('says of a number that was never texted that nothing was, instead of that it does not exist', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`, {}, 'administrator', {
      'inbox.thread': () => {
        throw new ApiProblem(404, 'not-found', 'This conversation does not exist.', []);
      },
    });
    expect(p.text()).toContain('Nothing was texted to this number yet');
    expect(p.text()).toContain('+1 201-555-0171');
    expect(p.host.querySelector('lg-docket [role=alert]')).toBeNull();
  });

  it('keeps what is typed with its conversation while another one is read, and over a reload', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`);
    await p.fill('answer', 'Yes, on a lead');
    await p.press(/201-555-0172/);
    expect(answer()).toBe('');
    await p.press(/201-555-0171/);
    expect(answer()).toBe('Yes, on a lead');
    await p.press('Send answer');
    expect(p.api.of('inbox.answer').map((a) => [a.params['e164'], a.body])).toEqual([[A, { text: 'Yes, on a lead' }]]);
    expect(answer()).toBe('');
    expect(localStorage.length).withContext('nothing is kept of what was sent').toBe(0);
  });

  it('lets no answer out that the gate stops, and says what would lift it', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`, { result: 'stop', why: 'opted out', lift: 'their START' });
    expect(p.text()).toContain('An answer is stopped: opted out. What lifts it: their START.');
    expect(p.host.querySelector<HTMLTextAreaElement>('#answer')?.disabled).toBeTrue();
  });

  it('shows what waits, each with the time that is left, and apart from it what was handled by itself', async () => {
    await open('/page');
    expect(p.api.of('inbox.threads').map((a) => a.query['standing'])).toEqual(['waiting']);
    expect(p.text()).toContain('waiting for an answer 2');
    expect([...p.host.querySelectorAll('tr[data-row]')].map((r) => /\d h left/.exec(r.textContent)?.[0])).toEqual([
      '5 h left',
      '5 h left',
    ]);
    await pick(/handled by itself 1/);
    expect(p.url()).toContain('show=by%20itself');
    expect(p.host.querySelector('tr[data-row]')?.textContent).toContain('opt-out');
    await pick(/^all/);
    expect(p.api.of('inbox.threads').at(-1)?.query['standing']).toBeUndefined();
  });

  it('puts a link to their own page into an answer, once', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`);
    await p.press('Put a link to their page in');
    await p.press('Put a link to their page in');
    expect(p.host.querySelector<HTMLTextAreaElement>('#answer')?.value).toBe(
      'https://texts.ferries.example/t/****************',
    );
    await p.press('Send answer');
    expect(p.api.of('inbox.answer').map((a) => a.body)).toEqual([
      { text: 'https://texts.ferries.example/t/****************' },
    ]);
  });

  it('says that something needs no answer', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`);
    await p.press('Needs no answer');
    expect(p.api.of('inbox.waiting').map((a) => [a.params['e164'], a.body])).toEqual([[A, { waits: false }]]);
  });

  it('says that nothing waits, and still leads to the others; empty it is only where nobody ever wrote', async () => {
    const none = (counts: object) => ({ 'inbox.threads': { items: [], next: null, total: 0, counts } });
    await open('/page', {}, 'administrator', none({ waiting: 0, 'too late': 0, answered: 4, 'by itself': 1 }));
    expect(p.text()).toContain('Nothing waits for an answer.');
    expect(p.text()).toContain('answered 4');
    expect(p.text()).not.toContain('No conversations yet');
    closePage(p);
    await open('/page', {}, 'administrator', none({ waiting: 0, 'too late': 0, answered: 0, 'by itself': 0 }));
    expect(p.text()).toContain('No conversations yet');
  });

  it('marks nothing as read for one who may only look', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`, {}, 'viewer');
    expect(p.api.of('inbox.read')).toEqual([]);
    expect(p.host.querySelector('#answer')).toBeNull();
  });
});
