import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { IntakePage } from './intake';

const LINES = Array.from({ length: 4500 }, (_, i) => `201-555-${String(1000 + i)}`).join('\n');
const COUNTS = { delivered: 3, failed: 2, stopped: 40 };
const KNOWN = ['+12015551000', '+12015551001'];
const intake = (over: object = {}) => ({
  id: 'int_1',
  fileName: 'pasted lines',
  state: 'reading',
  total: 4500,
  received: 2000,
  listId: null,
  attestation: 'The counter, says Cora.',
  undo: null as string | null,
  digest: '',
  result: null,
  createdAt: Date.parse('2027-03-12T18:00:00Z'),
  createdBy: 'Wren Holloway',
  ...over,
});

/** A worker is started and reads thousands of lines. */
const PATIENCE = 30_000;

describe('bringing contacts in', () => {
  let p: OpenPage;
  let earlier: object[];
  const open = async (answers: object = {}): Promise<void> => {
    p = await openPage(IntakePage, {
      'lists.list': { items: [] },
      'fields.list': { items: [{ id: 'fld_1', name: 'Berth', kind: 'number', choices: [], outcome: false }] },
      'contacts.known': { known: KNOWN },
      'intakes.undo': intake({ state: 'undoing' }),
      'intakes.list': () => ({ items: earlier }),
      'intakes.begin': ({ body }: Asked) => intake({ received: 0, ...(body as object) }),
      'intakes.rows': { received: 0 },
      'intakes.store': intake({ state: 'storing' }),
      'intakes.cancel': { done: true },
      'dispatches.list': ({ query }: Asked) => ({
        items: query['show'] === 'sent' ? [{ id: 'dsp_1', title: 'Spring fares', sentAt: 1, counts: COUNTS }] : [],
        next: null,
        total: 1,
      }),
      ...answers,
    });
  };
  beforeEach(() => (earlier = []));
  afterEach(() => closePage(p));
  const until = async (words: string): Promise<void> => {
    for (let i = 0; i < 300 && !p.text().includes(words); i++) {
      await new Promise((r) => setTimeout(r, 50));
      await p.settle();
    }
    expect(p.text()).toContain(words);
  };
  const paste = async (lines = LINES): Promise<void> => {
    const field = p.host.querySelector<HTMLTextAreaElement>('textarea');
    if (!field) throw new Error('There is nowhere to paste.');
    field.value = lines;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    await p.settle();
    await p.press('Read the lines');
    await until('will be stored');
  };
  it(
    'takes the recipients of an earlier dispatch, by what became of their texts',
    async () => {
      const file = 'phone,name\n+1 201-555-1000,Ada Eide\n+1 201-555-1001,Bo Eide\n+1 201-555-1005,Cy Eide\n';
      await open({ 'dispatches.messages-file': new Blob([file]) });
      const field = p.host.querySelector<HTMLSelectElement>('#from-dispatch');
      if (!field) throw new Error('There is no dispatch to choose.');
      field.value = 'dsp_1';
      field.dispatchEvent(new Event('change', { bubbles: true }));
      await p.settle();
      expect(p.text().replace(/\s+/g, ' ')).toContain('Read these 3');
      expect(p.text()).not.toContain('held');
      await (await p.loader.getHarness(MatCheckboxHarness.with({ label: /failed/ }))).check();
      await p.settle();
      await p.press('Read these 5');
      await until('3 will be stored');
      expect(p.api.of('dispatches.messages-file').map((a) => [a.params['id'], a.query['state']])).toEqual([
        ['dsp_1', 'delivered,failed'],
      ]);
      await until('2 known already');
      expect(p.text()).toContain('Spring fares, delivered, failed.csv');
    },
    PATIENCE,
  );

  const firsts = (): number[] =>
    p.api.of('intakes.rows').map((a) => (a.body as { rows: { row: number }[] }).rows[0]?.row ?? 0);

  it(
    'hands every row in, with the digest by which the file is known again',
    async () => {
      await open();
      await paste();
      await until('2 known already');
      await p.press(/^Store/);
      expect(p.text()).toContain('Say where this list came from, and who says so.');
      expect(p.api.of('intakes.begin')).toEqual([]);
      await p.fill('attestation', 'The counter, says Cora.');
      await p.press(/^Store/);
      await until('Read the lines');
      const [begun] = p.api.of('intakes.begin');
      expect((begun?.body as { digest: string }).digest).toMatch(/^[0-9a-f]{64}$/);
      expect(firsts().length).toBe(5);
      expect(p.api.of('intakes.store').length).toBe(1);
    },
    PATIENCE,
  );

  it(
    'hands in while it is still compared with who is here, each of the two having its own answers',
    async () => {
      const many = Array.from({ length: 15_500 }, (_, i) => `201-${500 + Math.floor(i / 1000)}-${1000 + (i % 1000)}`);
      let compared = (_: object): void => undefined;
      const first = new Promise<object>((r) => (compared = r));
      await open({
        'contacts.known': () => (p.api.of('contacts.known').length === 1 ? first : { known: [] }),
        // The first lot has been asked of the worker, and is not there yet, when comparing goes on.
        'intakes.begin': ({ body }: Asked) => {
          setTimeout(() => compared({ known: [] }));
          return intake({ received: 0, ...(body as object) });
        },
      });
      await paste(many.join('\n'));
      await p.fill('attestation', 'The counter, says Cora.');
      await p.press(/^Store/);
      await until('Read the lines');
      expect(firsts().length).toBe(16);
      expect(p.api.of('intakes.store').length).toBe(1);
    },
    PATIENCE,
  );

  it(
    'goes on where it was cut off, beginning nothing anew',
    async () => {
      let fail = true;
      await open({
        'intakes.rows': () => {
          if (p.api.of('intakes.rows').length === 2 && fail) {
            fail = false;
            const [begun] = p.api.of('intakes.begin');
            earlier = [intake({ digest: (begun?.body as { digest: string }).digest, received: 1000 })];
            return new ApiProblem(0, 'offline', 'The server does not answer.', []);
          }
          return { received: 0 };
        },
      });
      await paste();
      await p.fill('attestation', 'The counter, says Cora.');
      await p.press(/^Store/);
      await until('This file was begun before.');
      expect(p.said.at(-1)).toContain('does not answer');
      await p.press(/^Go on storing/);
      await until('Earlier intakes');
      expect(p.api.of('intakes.begin').length).toBe(1);
      // The lot that failed is handed in again, the one before it is not.
      expect(firsts().map((n) => Math.floor(n / 1000))).toEqual([0, 1, 1, 2, 3, 4]);
      expect(p.api.of('intakes.store').map((a) => a.params['id'])).toEqual(['int_1']);
    },
    PATIENCE,
  );

  it(
    'throws away what was cut off, after a question, and stores what has arrived whole',
    async () => {
      earlier = [intake(), intake({ id: 'int_2', fileName: 'whole.csv', received: 4500 })];
      await open();
      await until('2,000 of 4,500 rows have arrived.');
      await p.press('Store it');
      expect(p.api.of('intakes.store').map((a) => a.params['id'])).toEqual(['int_2']);
      await p.press('Throw it away');
      expect(p.questions.map((q) => q.title)).toEqual(['Throw the intake of “pasted lines” away?']);
      expect(p.api.of('intakes.cancel').map((a) => a.params['id'])).toEqual(['int_1']);
    },
    PATIENCE,
  );

  const CSV = [
    'Full name;Mobile;Berth;Opt-in;Opt-in date',
    'Fenwick, Ada;201-555-0101;12;yes;03/04/2026',
    '"Marsh',
    'Cora";call her;;no;',
    'Bo;201-555-0103;a dozen;no;25/12/2025',
  ].join('\n');
  const give = async (content: string, name: string): Promise<void> => {
    const field = p.host.querySelector<HTMLInputElement>('input[type=file]');
    if (!field) throw new Error('There is no file to choose.');
    const files = new DataTransfer();
    files.items.add(new File([content], name));
    field.files = files.files;
    field.dispatchEvent(new Event('change'));
    await until('will be stored');
  };
  const sent = (): Record<string, unknown>[] =>
    p.api.of('intakes.rows').flatMap((a) => (a.body as { rows: Record<string, unknown>[] }).rows);

  it(
    'takes a messy list apart: columns found, rows mended in place, and all that is known of each handed in',
    async () => {
      await open();
      await give(CSV, 'messy.csv');
      expect(p.text().replace(/\s+/g, ' ')).toContain(
        '3 rows = 1 ok + 1 to look at + 0 known already + 0 repeated + 1 refused',
      );
      const group = Array.from(p.host.querySelectorAll<HTMLElement>('tr')).find((r) =>
        r.textContent.includes('no digits'),
      );
      group?.querySelector<HTMLElement>('[aria-expanded]')?.click();
      await until('Mend…');
      await p.press('Mend…');
      await p.fill('row-phone', '201-555-0102');
      await p.press('Take it so');
      await until('0 refused');
      await p.fill('attestation', 'The counter, says Cora.');
      await p.press(/^Store/);
      await until('Read the lines');
      expect(sent().map((r) => [r['phone'], r['firstName'], r['lastName'], r['more']])).toEqual([
        [
          '201-555-0101',
          'Ada',
          'Fenwick',
          { own: { fld_1: '12' }, consent: { says: 'yes', date: '2026-04-03', source: '', disclosure: '' } },
        ],
        ['201-555-0102', 'Marsh', 'Cora', { consent: { says: 'no', date: '', source: '', disclosure: '' } }],
        ['201-555-0103', 'Bo', '', { consent: { says: 'no', date: '2025-12-25', source: '', disclosure: '' } }],
      ]);
    },
    PATIENCE,
  );

  it(
    'takes the columns of the next file of the same shape as they were taken the last time',
    async () => {
      localStorage.removeItem('long-gate intake shapes');
      await open();
      await give(CSV, 'one.csv');
      const berth = p.host.querySelector<HTMLSelectElement>('#use2');
      if (berth) berth.value = 'ignore';
      berth?.dispatchEvent(new Event('change'));
      await p.settle();
      await until('will be stored');
      await p.fill('attestation', 'The counter, says Cora.');
      await p.press(/^Store/);
      await until('Read the lines');
      await give(CSV, 'two.csv');
      expect(p.text()).toContain('columns as the last time');
      expect(p.host.querySelector<HTMLSelectElement>('#use2')?.value).toBe('ignore');
      localStorage.removeItem('long-gate intake shapes');
    },
    PATIENCE,
  );

  it(
    'takes a stored one back, and says why where that cannot be',
    async () => {
      const result = { stored: 4, known: 1, changed: 2, repeats: 0, refused: 0, dropped: 0, revoked: 1, proven: 0 };
      earlier = [intake({ state: 'stored', undo: '', result, total: 7 })];
      await open();
      await until('4 stored + 3 known already');
      expect(p.text()).toContain('= 7 rows; 2 of those known filled in, 1 said no');
      await p.press('Take it back');
      expect(p.said.at(-1)).toContain('What it revoked stays');
      Object.assign(p.api.answers, {
        'intakes.undo': new ApiProblem(409, 'conflict', 'One of its contacts was edited since.', []),
      });
      await p.press('Take it back');
      expect(p.said.at(-1)).toContain('One of its contacts was edited since.');
    },
    PATIENCE,
  );
});
