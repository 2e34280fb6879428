import { jsonRows } from '../../platform/db.js';
import { Seeded } from '../../demo/random.js';
import { Office } from '../../testing/office.js';
import type { ContactSort } from '@long-gate/contracts';
import type { ContactFilter } from './filter-store.js';

const LISTS = ['lst_few', 'lst_more', 'tag_one', 'tag_two'];

interface Made {
  id: string;
  name: string;
  email: string;
  e164: string;
  textable: string;
  informational: string;
  promotional: string;
  faults: boolean;
  /** The lists they are on, and the tags they have. */
  on: string[];
}

/** A person whose facts are spread by dice. */
function spread(dice: Seeded, i: number): Made {
  const roll = (n: number): number => dice.int(0, n - 1);
  return {
    id: `con_${String(roll(1e6)).padStart(6, '0')}${i}`,
    name: `${dice.pick(['Alder', 'Birch', 'Cedar', 'Dogwood', 'Elm'])} ${dice.pick(['Ada', 'Brandt', 'Cora', 'Otto'])}`,
    email: `${dice.pick(['heron', 'otter', 'stoat'])}.${i}@mail.example`,
    e164: `+1212555${String(1000 + i)}`,
    textable: dice.pick(['yes', 'yes', 'no', 'unknown']),
    informational: dice.pick(['none', 'granted', 'revoked']),
    promotional: dice.pick(['none', 'granted', 'unproven']),
    faults: roll(10) === 0,
    on: LISTS.filter(() => roll(4) === 0),
  };
}

/** A word that sorts as the person does. */
function placeOf(sort: ContactSort | undefined, m: Made): string {
  const named = `${m.name.toLowerCase()}\0${m.id}`;
  const by = sort?.replace('-', '') ?? 'contact';
  if (by === 'contact') return named;
  if (by === 'number') return m.e164;
  return `${by === 'line' ? m.textable : by === 'informational' ? m.informational : m.promotional}\0${named}`;
}

/** Made-up people in an office of their own. */
class People {
  private constructor(
    readonly o: Office,
    private readonly made: readonly Made[],
  ) {}

  static async bringIn(made: readonly Made[]): Promise<People> {
    const o = await Office.open();
    await o.app.platform.db.write(async (w) => {
      for (const id of LISTS)
        await w.run(`INSERT INTO contact_list (id, business_id, kind, name, created_at) VALUES ($1, $2, $3, $1, 1)`, [
          id,
          o.business,
          id.startsWith('tag') ? 'tag' : 'list',
        ]);
      const rows = jsonRows(
        made.map((m) => [
          m.id,
          m.name,
          m.email,
          m.e164,
          m.textable,
          m.informational,
          m.promotional,
          m.faults ? 1 : 0,
          m.on,
        ]),
      );
      await w.run(
        `INSERT INTO contact (id, business_id, last_name, email, sort_name, created_at) SELECT value->>0, $2, value->>1, value->>2, lower(value->>1), 1 FROM jsonb_each($1)`,
        [rows, o.business],
      );
      await w.run(
        `INSERT INTO contact_number (business_id, contact_id, e164, sort_name, country, zones, states, textable, consent_informational, consent_promotional, faults_in_review)
         SELECT $2, value->>0, value->>3, lower(value->>1), 'US', '', '', value->>4, value->>5, value->>6, CAST(value->>7 AS BOOLEAN) FROM jsonb_each($1)`,
        [rows, o.business],
      );
      await w.run(
        `INSERT INTO list_member (list_id, contact_id, sort_name) SELECT value->>0, value->>1, value->>2 FROM jsonb_each($1)`,
        [jsonRows(made.flatMap((m) => m.on.map((list) => [list, m.id, m.name.toLowerCase()])))],
      );
    });
    return new People(o, made);
  }

  /** What a filter leaves, worked out the slow way, in the order of lists. */
  left(f: ContactFilter): string[] {
    return this.made
      .filter(
        (m) =>
          [f.list, f.tag].every((any) => !any || any.split(',').some((x) => m.on.includes(x))) &&
          (!f.faults || m.faults) &&
          (['textable', 'informational', 'promotional'] as const).every(
            (x) => !f[x] || f[x].split(',').includes(m[x]),
          ) &&
          (!f.q || `${m.name} ${m.email} ${m.e164}`.toLowerCase().includes(f.q.toLowerCase())),
      )
      .sort((a, b) => {
        const [x, y] = [placeOf(f.sort, a), placeOf(f.sort, b)];
        return (f.sort?.startsWith('-') ? -1 : 1) * (x < y ? -1 : 1);
      })
      .map((m) => m.id);
  }

  /** What the pages show, one after the other. */
  async walked(f: ContactFilter, size: number): Promise<string[]> {
    const seen: string[] = [];
    for (let cursor: string | undefined; ;) {
      const page = await this.o.app.contacts.page(this.o.business, f, cursor, size);
      seen.push(...page.items.map((c) => c.id));
      if (page.next === null) return seen;
      expect(page.items.length).withContext('only the last page is short').toBe(size);
      cursor = page.next;
    }
  }
}

describe('pages of contacts', () => {
  let p: People;
  beforeAll(async () => {
    const dice = new Seeded('pages of contacts');
    p = await People.bringIn(Array.from({ length: 160 }, (_, i) => spread(dice, i)));
  });
  afterAll(() => p.o.close());

  const FILTERS: ContactFilter[] = [
    {},
    { list: 'lst_few' },
    { list: 'lst_few,lst_more' },
    { tag: 'tag_one,tag_two' },
    { tag: 'tag_one,tag_two', list: 'lst_few' },
    { tag: 'tag_one,tag_two', textable: 'no' },
    { faults: 'yes' },
    ...['yes', 'no', 'no,unknown'].map((textable) => ({ textable })),
    ...['none', 'granted,revoked'].map((informational) => ({ informational })),
    { promotional: 'unproven' },
    { textable: 'yes', promotional: 'granted' },
    { textable: 'no,unknown', informational: 'none,revoked', promotional: 'none,unproven' },
    { list: 'lst_few', textable: 'yes' },
    { list: 'lst_few', faults: 'yes' },
    { faults: 'yes', promotional: 'none' },
    { q: 'ced' },
    { q: 'OTTER' },
    { q: 'cedar otto' },
    { q: '5100' },
    { q: 'er.1' },
    { q: 'er' },
    { q: 'otto', list: 'lst_few' },
    { q: 'birch', textable: 'yes', informational: 'granted' },
    { q: 'nobody at all' },
    ...(['contact', 'number', 'line', 'informational', 'promotional'] as const).flatMap((sort) => [
      { sort },
      { sort: `-${sort}` as const },
      { sort, textable: 'no,unknown', promotional: 'none' },
      { sort: `-${sort}` as const, list: 'lst_few' },
      { sort, tag: 'tag_two,tag_one' },
      { sort, list: 'lst_few', informational: 'none' },
      { sort: `-${sort}` as const, q: 'ced' },
      { sort, q: 'er' },
      { sort: `-${sort}` as const, faults: 'yes' },
    ]),
  ];
  for (const f of FILTERS)
    it(`hold everybody once, in order, with ${JSON.stringify(f)}`, async () => {
      const want = p.left(f);
      if (f.q !== 'nobody at all') expect(want.length).toBeGreaterThan(0);
      for (const size of [7, 40, 500])
        expect(await p.walked(f, size))
          .withContext(`pages of ${size}`)
          .toEqual(want);
      const page = await p.o.app.contacts.page(p.o.business, f, undefined, 5);
      expect(page.total ?? want.length).toBe(want.length);
      expect((await p.o.app.contacts.facets(p.o.business, f)).total).toBe(want.length);
    });

  it('go on after where one stopped although people before it have come and gone', async () => {
    const [first, second, third, fourth] = p.left({});
    const page = await p.o.app.contacts.page(p.o.business, {}, undefined, 2);
    expect(page.items.map((c) => c.id)).toEqual([first ?? '', second ?? '']);
    const { db } = p.o.app.platform;
    await db.write((w) => w.run(`UPDATE contact SET sort_name = '' WHERE id = $1`, [fourth]));
    const next = await p.o.app.contacts.page(p.o.business, {}, page.next ?? '', 1);
    expect(next.items.map((c) => c.id)).toEqual([third ?? '']);
    await db.write((w) => w.run(`UPDATE contact SET sort_name = lower(last_name) WHERE id = $1`, [fourth]));
    expect(await p.walked({}, 50)).toEqual(p.left({}));
  });
});

/** Enough for the way a page is found to depend on how many match; and those who match lie together. */
describe('pages of many contacts', () => {
  let p: People;
  beforeAll(async () => {
    const dice = new Seeded('pages of many contacts');
    p = await People.bringIn(
      Array.from({ length: 1200 }, (_, i) => ({
        ...spread(dice, i),
        // Those with the last numbers.
        on: i >= 500 ? ['lst_few'] : [],
        textable: i >= 400 ? 'yes' : dice.pick(['no', 'unknown']),
        promotional: i < 700 ? 'granted' : dice.pick(['none', 'unproven']),
      })),
    );
  });
  afterAll(() => p.o.close());

  const sorts = ['number', '-number', 'line', '-line', 'informational', '-promotional'] as const;
  for (const f of [
    { list: 'lst_few' },
    { textable: 'yes' },
    { promotional: 'granted' },
    { list: 'lst_few', textable: 'yes' },
    { textable: 'yes', promotional: 'granted,none' },
    { textable: 'no,unknown', promotional: 'granted' },
  ])
    it(`hold everybody once in any order, with ${JSON.stringify(f)}`, async () => {
      for (const sort of sorts) {
        const want = p.left({ ...f, sort });
        expect(want.length).toBeGreaterThan(300);
        for (const size of sort === 'number' ? [25, 100] : [100])
          expect(await p.walked({ ...f, sort }, size))
            .withContext(`by ${sort}, pages of ${size}`)
            .toEqual(want);
      }
    });
});
