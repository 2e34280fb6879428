import { seeded } from '@long-gate/core';
import { Person, Running, until } from '../running.js';

/** What a long run of lookups has shown: `missing` and `twice` have to be nothing, and what was charged what was due. */
export interface QuestionToll {
  asked: number;
  kills: number;
  /** Numbers without an answer at the end, and such as were paid for more than once. */
  missing: number;
  twice: string[];
  /** Millionths of a dollar. */
  charged: number;
  due: number;
  busiestSecond: number;
  /** Of what the permitted pace allows while nothing was down; null where there were kills. */
  used: number | null;
}

const PRICE = 5_500;
const PACE = 20;
const CHUNK = 1000;
/** Numbers that nobody in the demo has. */
const numberAt = (i: number): string => `+1973${String(200 + Math.floor(i / 5000))}${String(1000 + (i % 5000))}`;

/**
 * Brings people in, has all of their lines looked up by a service that is late, fails and loses answers, and kills the
 * server, the outside or both at moments drawn from a seed.
 */
export async function lookUpThroughKills(
  seed: number,
  many: number,
  kills: number,
  say: (line: string) => void,
): Promise<QuestionToll> {
  const random = seeded(seed);
  const running = await Running.start({ demo: true, env: { LONG_GATE_LINE_FAULTS: '0.08' } });
  try {
    let person = await new Person(running.url).signIn('administrator');
    const at = `/businesses/${person.businesses.find((b) => b.nameLine === 'Saltmarsh Ferries')?.id ?? ''}`;
    await person.ok('POST', `${at}/top-ups`, { amount: 100_000_000 });
    const list = await bringIn(person, at, many);
    const before = await pace(running);
    const balance = await moneyOf(person, at);
    const { jobId } = await person.ok<{ jobId: string }>('POST', `${at}/lookups`, { listId: list });
    const job = async (): Promise<{ state: string; done: number } | undefined> =>
      (await person.ok<{ items: { id: string; state: string; done: number }[] }>('GET', `${at}/jobs`)).items.find(
        (j) => j.id === jobId,
      );
    for (let k = 0; k < kills; k++) {
      const reached = ((k + random()) / kills) * many;
      await until(async () => ((await job())?.done ?? many) >= Math.min(reached, many - 1), 600_000);
      await new Promise((r) => setTimeout(r, random() * 900));
      const which = random() < 0.6 ? 'server' : random() < 0.6 ? 'outside' : 'both';
      if (which !== 'outside') await running.kill('server');
      if (which !== 'server') await running.kill('outside');
      await new Promise((r) => setTimeout(r, random() * 300));
      if (which !== 'server') await running.startOutsideAgain();
      if (which !== 'outside') await running.startServerAgain();
      person = await new Person(running.url).signIn('administrator');
      if ((k + 1) % 10 === 0) say(`${k + 1} of ${kills} kills`);
    }
    await until(async () => (await job())?.state === 'done', 900_000);
    const after = await pace(running);
    const { numbers } = await person.ok<{ numbers: number }>('POST', `${at}/lookups/estimate`, { listId: list });
    const asked = after.lookups - before.lookups;
    return {
      asked,
      kills,
      missing: numbers,
      twice: after.twice,
      charged: balance - (await moneyOf(person, at)),
      due: many * PRICE,
      busiestSecond: after.busiestSecond,
      used: kills === 0 ? ((0.95 * after.lookups) / (after.mostMs - after.firstMs)) * (1000 / PACE) : null,
    };
  } finally {
    await running.stop();
  }
}

async function bringIn(person: Person, at: string, many: number): Promise<string> {
  const { id } = await person.ok<{ id: string }>('POST', `${at}/intakes`, {
    fileName: 'lines.csv',
    total: many,
    listName: 'To be looked up',
    consentClaim: '',
    attestation: 'Made up for measuring.',
  });
  for (let from = 0; from < many; from += CHUNK)
    await person.ok('POST', `${at}/intakes/${id}/rows`, {
      rows: Array.from({ length: Math.min(CHUNK, many - from) }, (_, i) => ({
        row: from + i + 1,
        phone: numberAt(from + i),
        firstName: 'Wren',
        lastName: `Eide ${from + i}`,
        email: '',
        stateCode: '',
        keep: true,
      })),
    });
  await person.ok('POST', `${at}/intakes/${id}/store`);
  await until(
    async () =>
      (await person.ok<{ items: { id: string; state: string }[] }>('GET', `${at}/intakes`)).items.some(
        (i) => i.id === id && i.state === 'stored',
      ),
    120_000,
  );
  const { items } = await person.ok<{ items: { id: string; name: string }[] }>('GET', `${at}/lists`);
  return items.find((l) => l.name === 'To be looked up')?.id ?? '';
}

const moneyOf = async (person: Person, at: string): Promise<number> =>
  (await person.ok<{ balance: number }>('GET', `${at}/money/outlook`)).balance;

interface Pace {
  lookups: number;
  busiestSecond: number;
  firstMs: number;
  /** When nineteen of twenty were asked: what is left at the end are those without an answer, asked again one by one. */
  mostMs: number;
  twice: string[];
}
const pace = async (running: Running): Promise<Pace> =>
  (await (await fetch(`${running.outside}/lines/pace`)).json()) as Pace;
