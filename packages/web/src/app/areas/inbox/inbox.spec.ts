import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { InboxPage } from './inbox';

const thread = (e164: string, over: object = {}) => ({
  e164,
  name: '',
  contactId: '',
  numberId: 'num_1',
  lastText: 'Do you take dogs',
  lastAt: Date.parse('2027-03-12T18:00:00Z'),
  unread: 1,
  ...over,
});
const A = '+12015550171';
const B = '+12015550172';

describe('the inbox', () => {
  let p: OpenPage;
  const open = async (at: string, gate: object = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(
      InboxPage,
      {
        'inbox.threads': (a: { query: { unread?: string } }) => ({
          items: a.query.unread ? [thread(A)] : [thread(A), thread(B, { unread: 0, lastText: 'Thanks' })],
          next: null,
          total: 2,
          unread: 1,
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
        }),
        'inbox.read': { done: true },
        'inbox.answer': { done: true },
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));
  const answer = (): string | undefined => p.host.querySelector<HTMLTextAreaElement>('#answer')?.value;

  it('reads a conversation by opening it, and leaves it unread where that is wished', async () => {
    await open('/page');
    expect(p.text()).toContain('unread 1');
    await p.press(/201-555-0171/);
    expect(p.api.of('inbox.read').map((a) => a.body)).toEqual([{ read: true }]);
    await p.press('Mark unread');
    expect(p.api.of('inbox.read').map((a) => a.body)).toEqual([{ read: true }, { read: false }]);
    expect(p.url()).toBe('/page');
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

  it('shows only what is unread where that is asked', async () => {
    await open('/page?unread=yes');
    expect(p.host.querySelectorAll('tr[data-row]').length).toBe(1);
    expect(p.api.of('inbox.threads')[0]?.query['unread']).toBe('yes');
  });

  it('marks nothing as read for one who may only look', async () => {
    await open(`/page?open=${encodeURIComponent(A)}`, {}, 'viewer');
    expect(p.api.of('inbox.read')).toEqual([]);
    expect(p.host.querySelector('#answer')).toBeNull();
  });
});
