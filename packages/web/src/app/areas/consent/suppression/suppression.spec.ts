import type { SuppressionList } from '@long-gate/contracts';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { BringListPage } from './bring-list';
import { SuppressionPage } from './suppression';

const AT = Date.parse('2027-03-10T15:00:00Z');
const list = (over: Partial<SuppressionList> = {}): SuppressionList => ({
  id: 'sup_1',
  name: 'National list',
  kind: 'national',
  state: 'stands',
  source: 'the registry',
  datedOn: '2027-02-03',
  daysOld: 37,
  stale: true,
  numbers: 1288,
  reading: null,
  refused: 1,
  refusals: [{ line: 402, raw: '911,5550142', why: 'No such area code exists.' }],
  addedBy: 'Wren Holloway',
  addedAt: AT,
  broughtAt: AT,
  version: 3,
  ...over,
});
const PEOPLE = {
  items: [
    {
      e164: '+12015550171',
      name: 'Wren Eide',
      contactId: 'con_1',
      kept: [],
      exception: 'Their purchase.',
      exceptionEndsAt: AT,
    },
    {
      e164: '+12015550172',
      name: 'Bo Eide',
      contactId: 'con_2',
      kept: ['promotional'],
      exception: 'Notices may go.',
      exceptionEndsAt: null,
    },
  ],
  next: null,
  total: 61,
};

describe('suppression lists on screen', () => {
  let p: OpenPage;
  let answers: object = {};
  const open = async (at: string, over: Partial<SuppressionList> = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(
      SuppressionPage,
      {
        'suppression.list': { items: [list(over)] },
        'suppression.people': PEOPLE,
        'suppression.drop': { done: true },
        'suppression.discard': { done: true },
        ...answers,
      },
      { at, role },
    );
  };
  afterEach(() => {
    answers = {};
    closePage(p);
  });

  it('says how old a registry is, what was no number and where, and whom it keeps off', async () => {
    await open('/page?open=sup_1');
    for (const part of [
      'It is 37 days old',
      'line 402',
      'No such area code exists.',
      '61 contacts of ours are on it',
      'Wren Eide',
      'Their purchase. Until 10 Mar 2027.',
      'Notices may go.',
      'and 59 more, in the file',
    ])
      expect(p.text()).toContain(part);
    expect(p.host.querySelector<HTMLAnchorElement>('a[download]')?.href).toContain('sup_1/people.csv');
  });

  it('shows more of the people on it where that is wished', async () => {
    answers = { 'suppression.people': { ...PEOPLE, next: 'more' } };
    await open('/page?open=sup_1');
    expect(p.api.of('suppression.people').at(-1)?.query).toEqual(jasmine.objectContaining({ limit: 50 }));
    await p.press('Show more');
    expect(p.api.of('suppression.people').at(-1)?.query).toEqual(jasmine.objectContaining({ limit: 200 }));
    expect(p.text()).toContain('Wren Eide');
  });

  it('is taken away only when that was confirmed, in the version that was seen', async () => {
    await open('/page?open=sup_1');
    p.yes = false;
    await p.press('Take the list away…');
    expect(p.questions[0]?.line).toContain('61 of your contacts');
    expect(p.api.of('suppression.drop')).toEqual([]);
    p.yes = true;
    await p.press('Take the list away…');
    expect(p.api.of('suppression.drop').map((a) => [a.params['id'], a.version])).toEqual([['sup_1', 3]]);
  });

  it('offers to leave a file that was not read to its end', async () => {
    const reading = { edition: 2, source: 'again', datedOn: '2027-03-09', parts: 2, lines: 4000 };
    await open('/page?open=sup_1', { reading });
    expect(p.text()).toContain('4,000 lines came, and keep off already.');
    await p.press('Leave it');
    expect(p.api.of('suppression.discard').length).toBe(1);
  });

  it('shows others all of it, and lets only an administrator change it', async () => {
    await open('/page?open=sup_1', {}, 'coordinator');
    expect(p.text()).toContain('Bo Eide');
    for (const words of ['Bring in a list', 'Bring in a newer file', 'Take the list away'])
      expect([...p.host.querySelectorAll('a[matButton], button')].some((b) => b.textContent.includes(words)))
        .withContext(words)
        .toBeFalse();
  });
});

const READING = { edition: 1, source: 'the registry', datedOn: '2027-03-09', parts: 0, lines: 0 };

describe('bringing in a suppression list', () => {
  let p: OpenPage;
  let answers: Record<string, unknown>;
  const open = async (at: string): Promise<void> => {
    p = await openPage(BringListPage, answers, { at });
  };
  beforeEach(() => {
    answers = {
      'suppression.list': { items: [list()] },
      'suppression.add': list({ id: 'sup_2', state: 'reading', reading: READING }),
      'suppression.renew': list({ reading: { ...READING, edition: 2 } }),
      'suppression.take': ({ body }: Asked) => {
        const { part, lines } = body as { part: number; lines: string[] };
        return { parts: part + 1, lines: part * 2000 + lines.length, refused: 0 };
      },
      'suppression.finish': list({ id: 'sup_2', numbers: 4500 }),
      'suppression.people': PEOPLE,
    };
  });
  afterEach(() => closePage(p));
  const choose = async (text: string): Promise<void> => {
    const field = p.host.querySelector<HTMLInputElement>('input[type=file]');
    const data = new DataTransfer();
    data.items.add(new File([text], 'dnc.csv'));
    if (field) field.files = data.files;
    field?.dispatchEvent(new Event('change'));
    await p.settle();
  };
  const fill = async (): Promise<void> => {
    await p.fill('name', 'State list');
    await p.fill('source', 'the registry');
    await p.fill('datedOn', '9 Mar 2027');
  };
  const FILE = Array.from({ length: 4500 }, (_, i) => `201555${i}`).join('\n');
  const handedIn = () =>
    p.api.of('suppression.take').map((a) => {
      const { part, lines } = a.body as { part: number; lines: string[] };
      return [a.params['id'], part, lines.length];
    });
  const read = async (): Promise<void> => {
    for (let i = 0; i < 200 && p.api.of('suppression.finish').length === 0; i++)
      await new Promise((r) => setTimeout(r, 25));
    await p.settle();
  };

  it('wants to know what it is, of which day and from where, before anything is handed in', async () => {
    await open('/page');
    await p.press('Bring it in');
    expect(p.text()).toContain('Give the list a name.');
    expect(p.text()).toContain('Write the day as year-month-day');
    expect(p.api.of('suppression.add')).toEqual([]);
    await fill();
    await p.press('Bring it in');
    expect(p.text()).toContain('Choose the file with the numbers.');
    expect(p.api.of('suppression.add')).toEqual([]);
  });

  it('hands a file in part by part, and says it stands with the last', async () => {
    await open('/page');
    await fill();
    await choose(FILE);
    await p.press('Bring it in');
    await read();
    expect(handedIn()).toEqual([
      ['sup_2', 0, 2000],
      ['sup_2', 1, 2000],
      ['sup_2', 2, 500],
    ]);
    expect(p.api.of('suppression.finish').map((a) => a.body)).toEqual([{ edition: 1, parts: 3 }]);
    expect(p.said).toContain('4,500 numbers are kept off.');
    expect(p.url()).toContain('/consent/suppression?open=sup_2');
  });

  it('hands a part in again whose answer was lost, and stops where it is refused', async () => {
    let lost = 2;
    const take = answers['suppression.take'] as (a: Asked) => unknown;
    answers['suppression.take'] = (a: Asked) =>
      lost-- > 0 ? new ApiProblem(0, 'offline', 'The server does not answer.', []) : take(a);
    await open('/page');
    await fill();
    await choose('2015550142');
    await p.press('Bring it in');
    await read();
    expect(handedIn().map(([, part]) => part)).toEqual([0, 0, 0]);
    expect(p.api.of('suppression.finish').length).toBe(1);
    closePage(p);
    answers['suppression.take'] = new ApiProblem(409, 'conflict', 'Nothing is being read into this list.', []);
    await open('/page');
    await fill();
    await choose('2015550142');
    await p.press('Bring it in');
    await new Promise((r) => setTimeout(r, 200));
    await p.settle();
    expect(handedIn().length).toBe(1);
    expect(p.text()).toContain('Nothing is being read into this list.');
  });

  it('brings a newer file in beside the one that stands, of the list that is named', async () => {
    await open('/page?open=sup_1');
    expect(p.text()).toContain('A newer file of National list');
    expect(p.host.querySelector('#name')).toBeNull();
    await p.fill('source', 'downloaded again');
    await p.fill('datedOn', '9 Mar 2027');
    await choose('2015550142');
    await p.press('Bring it in');
    await read();
    expect(p.api.of('suppression.renew').map((a) => [a.params['id'], a.version, a.body])).toEqual([
      ['sup_1', 3, { source: 'downloaded again', datedOn: '2027-03-09' }],
    ]);
    expect(p.api.of('suppression.take').map((a) => (a.body as { edition: number }).edition)).toEqual([2]);
  });
});
