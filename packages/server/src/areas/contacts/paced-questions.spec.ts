import { GatewayBusy } from '@long-gate/gateways';
import type { Job, JobContext } from '../../platform/jobs.js';
import { Office } from '../../testing/office.js';
import { PacedQuestions, type Slice } from './paced-questions.js';
import { QuestionPayer } from './question-payer.js';

const PRICE = 1_000;

describe('paced questions', () => {
  let o: Office;
  let questions: PacedQuestions;
  beforeEach(async () => {
    o = await Office.open();
    const { platform, businesses } = o.app;
    questions = new PacedQuestions(platform, new QuestionPayer(platform, businesses));
  });
  afterEach(() => o.close());

  const numbers = (from: number, n: number): string[] =>
    Array.from({ length: n }, (_, i) => `+1212555${String(from + i).padStart(4, '0')}`);
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const context = (): JobContext => ({
    job: { id: 'job_1', kind: 'lookups', businessId: o.business, doneCount: 0, totalCount: 0 } as Job,
    progress: () => Promise.resolve(true),
    isAwaited: () => false,
  });
  const of = (with_: Partial<Slice<string>>): Slice<string> => ({
    price: PRICE,
    what: 'questions',
    ask: (_key, e164) => Promise.resolve(e164),
    keep: () => Promise.resolve(),
    next: () => ({}),
    ...with_,
  });

  it('go on to who is next without waiting for the last answers of those before, and ask nobody twice', async () => {
    const [first, second] = [numbers(0, 3), numbers(3, 3)];
    const asked: string[] = [];
    const kept: string[] = [];
    let answerLast = (): void => undefined;
    const before = await balance();
    await questions.slice(
      context(),
      first,
      of({
        ask: async (_key, e164) => {
          asked.push(e164);
          // The last of the first is answered only once one of the next has been asked about.
          if (e164 === first[2]) await new Promise<void>((r) => (answerLast = r));
          if (e164 === second[0]) answerLast();
          return e164;
        },
        keep: (_w, answers) => Promise.resolve(void kept.push(...answers)),
        // Whoever has no answer yet stands in what is asked for next.
        more: () => Promise.resolve([...first, ...second].filter((x) => !kept.includes(x))),
      }),
    );
    expect(asked).toEqual([...first, ...second]);
    expect(kept.sort()).toEqual([...first, ...second]);
    expect(before - (await balance())).toBe(6 * PRICE);
  });

  it('leave their turn to another job that is due', async () => {
    await o.app.platform.db.write((w) =>
      o.app.platform.jobs.add(w, { kind: 'lookups', businessId: o.business, payload: {}, key: 'another' }),
    );
    const asked: string[] = [];
    const outcome = await questions.slice(
      context(),
      numbers(0, 2),
      of({
        ask: (_key, e164) => {
          asked.push(e164);
          return Promise.resolve(e164);
        },
        more: () => Promise.resolve(numbers(2, 2)),
      }),
    );
    expect(asked).toEqual(numbers(0, 2));
    expect(outcome).toEqual({ done: false });
  });

  it('end where nobody answers, instead of asking the same again and again', async () => {
    let asked = 0;
    const all = numbers(0, 3);
    const outcome = await questions.slice(
      context(),
      all,
      of({
        ask: () => {
          asked++;
          return Promise.reject(new GatewayBusy('Out of order.', 1000, false));
        },
        more: () => Promise.resolve(all),
      }),
    );
    expect(asked).withContext('three tries each').toBe(9);
    expect(outcome.done).toBeFalse();
    expect((outcome as { at?: number }).at).toBeGreaterThan(o.app.platform.clock.now());
  });
});
