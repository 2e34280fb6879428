import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { AskNumber } from './ask-number';
import { FieldsPage } from './fields';
import { UnreachedPage } from './unreached';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { TestBed } from '@angular/core/testing';

const number = (i: number, over: object = {}) => ({
  id: i,
  contactId: `con_${i}`,
  name: `Wren${i}`,
  email: i % 2 === 0 ? `w${i}@post.example` : '',
  e164: `+1201555010${i}`,
  lineType: 'landline',
  source: 'lookup',
  carrier: 'Harth Telephone',
  detail: 'landline',
  firstAt: 1,
  lastAt: 2,
  times: 1,
  informational: 'granted',
  promotional: 'none',
  faultsInReview: false,
  ...over,
});
const cause = (name: string, numbers: number) => ({
  cause: name,
  numbers,
  informational: numbers,
  promotional: 0,
  carriers: numbers > 0 ? [{ carrier: 'Harth Telephone', source: 'lookup', n: numbers }] : [],
});

describe('numbers that cannot be reached', () => {
  let p: OpenPage;
  const open = async (
    over: { at?: string; role?: string } = {},
    rows = [number(1), number(2)],
    requests: object[] = [],
  ): Promise<void> => {
    p = await openPage(
      UnreachedPage,
      {
        'unreached.summary': {
          causes: [
            cause('not-textable', 2),
            cause('out-of-service', 0),
            cause('refused-by-owner', 1),
            cause('passing-fault', 1),
          ],
          all: 40,
          outcomes: [{ field: 'Last booking', values: [{ value: 'missed', reached: 1, unreached: 3 }] }],
        },
        'unreached.list': { items: rows, next: null, total: rows.length },
        'numberRequests.list': { items: requests, next: null, total: requests.length },
        'lookups.estimate': { numbers: 1, cost: 5500, seconds: 1, balance: 9_000_000 },
        'lookups.start': { jobId: 'job_1', numbers: 1 },
        'contacts.decideFaults': { done: true },
        'contacts.delete': { jobId: 'job_2', contacts: 1 },
      },
      over,
    );
  };
  afterEach(() => closePage(p));
  const choose = async (): Promise<void> => {
    await p.press('Choose…');
    const boxes = await p.loader.getAllHarnesses(MatCheckboxHarness);
    await boxes[1]?.check();
    await p.settle();
  };

  it('show what came of asking for better numbers, also of letters that never arrived', async () => {
    const asked = (state: string, over: object = {}): object => ({
      id: `nrq_${state}`,
      contactId: 'con_1',
      name: state,
      email: 'a@post.example',
      oldE164: '+12015550101',
      newE164: null,
      state,
      why: '',
      refused: '',
      askedBy: 'Wren',
      askedAt: 1,
      answeredAt: null,
      confirmedAt: null,
      ...over,
    });
    await open(
      {},
      [],
      [
        asked('sent', { refused: '+12015550102, a landline' }),
        asked('came back', { why: '550 no such mailbox' }),
        asked('held back', { why: 'Its address gets no such e-mail any more.' }),
      ],
    );
    for (const said of [
      'asked by e-mail; gave +12015550102, a landline',
      'the e-mail came back: 550 no such mailbox',
      'not sent: Its address gets no such e-mail any more.',
    ])
      expect(p.text()).toContain(said);
    const links = [...p.host.querySelectorAll<HTMLAnchorElement>('lg-number-requests a')];
    expect(links.map((a) => [a.textContent?.trim(), a.search])).toContain(['came back', '?open=con_1']);
  });

  it('stand by cause with how many had agreed, over which carrier, and how bookings fare', async () => {
    await open();
    const text = p.text().replace(/\s+/g, ' ');
    expect(text).toContain('not textable');
    expect(text).toContain('2 had agreed to informational texts');
    expect(text).toContain('Harth Telephone (lookup) 2');
    expect(text).toContain('3 of 3 (100%)');
    expect(p.api.of('unreached.list').at(-1)?.query['cause']).toBe('not-textable');
    await p.press(/passing fault/);
    expect(p.api.of('unreached.list').at(-1)?.query['cause']).toBe('passing-fault');
  });

  it('offer the mends that can help a cause and no others', async () => {
    await open();
    await choose();
    for (const mend of ['Ask for another number…', 'Look up again…', 'Write an e-mail', 'Delete the contacts…'])
      expect(p.text()).toContain(mend);
    expect(p.text()).not.toContain('Try again');
    closePage(p);
    await open({ at: '/page?cause=refused-by-owner' });
    await choose();
    expect(p.text()).toContain('Only they can lift that; nobody here can clear it.');
    for (const mend of ['Ask for another number…', 'Look up again…', 'Write an e-mail', 'Try again'])
      expect(p.text()).withContext(mend).not.toContain(mend);
  });

  it('are looked up again, tried again and deleted, each for those chosen alone', async () => {
    await open({ at: '/page?cause=passing-fault' }, [number(1, { faultsInReview: true }), number(2)]);
    await choose();
    await p.press('Look up again…');
    expect(p.api.of('lookups.start').map((a) => a.body)).toEqual([{ e164s: ['+12015550101'], again: false }]);
    await choose();
    await p.press('Try again');
    expect(p.api.of('contacts.decideFaults').map((a) => a.body)).toEqual([{ e164: '+12015550101', tryAgain: true }]);
    closePage(p);
    await open();
    await choose();
    await p.press('Delete the contacts…');
    expect(p.api.of('contacts.delete').map((a) => a.body)).toEqual([{ ids: ['con_1'], seen: 1 }]);
  });

  it('are only read by a viewer', async () => {
    await open({ role: 'viewer' });
    expect(p.text()).not.toContain('Choose…');
  });
});

describe('asking for another number', () => {
  let p: OpenPage;
  const open = async (pages: object[]): Promise<void> => {
    TestBed.configureTestingModule({
      providers: [
        { provide: MAT_DIALOG_DATA, useValue: { e164s: ['+12015550101'] } },
        { provide: MatDialogRef, useValue: { close: () => undefined } },
      ],
    });
    p = await openPage(AskNumber, {
      'pages.list': { items: pages },
      'numberRequests.preview': ({ body }: Asked) => ({
        asked: 1,
        noEmail: 2,
        noMore: 3,
        already: 0,
        sample: { to: 'w@post.example', subject: (body as { subject: string }).subject, text: 'Hello Wren' },
      }),
      'numberRequests.start': { jobId: 'job_1', asked: 1 },
    });
  };
  afterEach(() => closePage(p));

  it('shows who gets the letter and what one of them reads, and sends what was shown', async () => {
    await open([{ id: 'pag_1', title: 'Texts from the ferry', published: true }]);
    expect(p.text()).toContain('1 person');
    expect(p.text()).toContain('2 have no e-mail here.');
    expect(p.text()).toContain('3 get no such e-mail any more');
    expect(p.text()).toContain('Hello Wren');
    await p.fill('letter', 'Call us.');
    expect(p.text())
      .withContext('a letter without its link')
      .toContain('Put [link] where the personal link shall stand.');
    await p.fill('letter', 'Here: [link]');
    await p.press(/Send 1 e-mail/);
    expect(p.api.of('numberRequests.start').map((a) => a.body)).toEqual([
      jasmine.objectContaining({
        whom: jasmine.objectContaining({ e164s: ['+12015550101'] }),
        pageId: 'pag_1',
        text: 'Here: [link]',
        seen: 1,
      }),
    ]);
    expect(p.api.of('numberRequests.start')[0]?.key).toMatch(/^[0-9a-f-]{36}$/);
  });

  it('says what is missing where no page is published', async () => {
    await open([{ id: 'pag_1', title: 'Draft', published: false }]);
    expect(p.text()).toContain('none is published');
  });
});

describe('own fields', () => {
  let p: OpenPage;
  const BERTH = { id: 'fld_1', name: 'Berth', kind: 'number', choices: [], outcome: false };
  const open = async (items: object[], role = 'administrator'): Promise<void> => {
    p = await openPage(
      FieldsPage,
      {
        'fields.list': { items },
        'fields.add': ({ body }: Asked) => ({ id: 'fld_2', ...(body as object) }),
        'fields.edit': ({ body }: Asked) => ({ ...BERTH, ...(body as object) }),
        'fields.drop': { done: true },
      },
      { role },
    );
  };
  afterEach(() => closePage(p));

  it('are added, of one of some choices with one a line', async () => {
    await open([]);
    await p.press('Add a field');
    await p.press('Add the field');
    expect(p.text()).toContain('Give the field a name.');
    await p.fill('field-name', 'Season pass');
    const kind = p.host.querySelector('select');
    if (kind) kind.value = 'choice';
    kind?.dispatchEvent(new Event('change'));
    await p.settle();
    await p.fill('field-choices', 'foot\n\ncar ');
    await p.press('Add the field');
    expect(p.api.of('fields.add').map((a) => a.body)).toEqual([
      { name: 'Season pass', kind: 'choice', choices: ['foot', 'car'], outcome: false },
    ]);
  });

  it('are taken away by an administrator alone, who is told that what stands in them goes', async () => {
    await open([BERTH], 'coordinator');
    expect(p.text()).not.toContain('Take away…');
    closePage(p);
    await open([BERTH]);
    await p.press('Take away…');
    expect(p.questions.at(-1)?.line).toContain('What stands in it goes with it');
    expect(p.api.of('fields.drop').map((a) => a.params['id'])).toEqual(['fld_1']);
  });
});
