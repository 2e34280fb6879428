import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { ApiProblem } from '../../../api/api';
import { IntakePage } from './intake';

const LINES = Array.from({ length: 4500 }, (_, i) => `201-555-${String(1000 + i)}`).join('\n');
const intake = (over: object = {}) => ({
  id: 'int_1',
  fileName: 'pasted lines',
  state: 'reading',
  total: 4500,
  received: 2000,
  listId: null,
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
      'intakes.list': () => ({ items: earlier }),
      'intakes.begin': ({ body }: Asked) => intake({ received: 0, ...(body as object) }),
      'intakes.rows': { received: 0 },
      'intakes.store': intake({ state: 'storing' }),
      'intakes.cancel': { done: true },
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
  const paste = async (): Promise<void> => {
    const field = p.host.querySelector<HTMLTextAreaElement>('textarea');
    if (!field) throw new Error('There is nowhere to paste.');
    field.value = LINES;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    await p.settle();
    await p.press('Read the lines');
    await until('will be stored');
  };
  const firsts = (): number[] =>
    p.api.of('intakes.rows').map((a) => (a.body as { rows: { row: number }[] }).rows[0]?.row ?? 0);

  it(
    'hands every row in, with the digest by which the file is known again',
    async () => {
      await open();
      await paste();
      await p.press(/^Store/);
      await until('Read the lines');
      const [begun] = p.api.of('intakes.begin');
      expect((begun?.body as { digest: string }).digest).toMatch(/^[0-9a-f]{64}$/);
      expect(firsts().length).toBe(3);
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
            earlier = [intake({ digest: (begun?.body as { digest: string }).digest })];
            return new ApiProblem(0, 'offline', 'The server does not answer.', []);
          }
          return { received: 0 };
        },
      });
      await paste();
      await p.press(/^Store/);
      await until('This file was begun before.');
      expect(p.said.at(-1)).toContain('does not answer');
      await p.press(/^Go on storing/);
      await until('Earlier intakes');
      expect(p.api.of('intakes.begin').length).toBe(1);
      // The lot that failed is handed in again, the one before it is not.
      expect(firsts().map((n) => Math.floor(n / 2000))).toEqual([0, 1, 1, 2]);
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
});
