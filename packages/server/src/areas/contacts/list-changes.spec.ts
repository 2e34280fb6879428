import type { Answer, Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

const PEOPLE = 1250;
const phone = (i: number): string => `+1212${String(5_550_000 + i)}`;

describe('putting all contacts that match on a list, or taking them off', () => {
  let o: Office;
  let door: Door;
  let v: Visitor;
  let list = '';
  /** Each spec has a list of its own. */
  let name = '';
  let specs = 0;
  beforeAll(async () => {
    o = await Office.open();
    await o.app.platform.db.write(async (w) => {
      for (let i = 0; i < PEOPLE; i++)
        await o.app.contacts.ensure(w, o.admin, o.business, phone(i), {
          firstName: i % 5 === 0 ? `Rower${i}` : `Walker${i}`,
        });
    });
  });
  afterAll(() => o.close());
  beforeEach(async () => {
    door = await o.door();
    v = await door.visitor(o.admin.id);
    name = `Rowers ${++specs}`;
    list = (await o.app.lists.add(o.admin, o.business, name, 'list')).id;
  });
  afterEach(() => door.close());

  const ROWERS = PEOPLE / 5;
  const ask = (who: Visitor, id: string, body: object, key: string): Promise<Answer> =>
    who.ask('POST', `/businesses/${o.business}/lists/${id}/matching`, body, { 'idempotency-key': `${key}-${specs}` });
  const wish = (over: object = {}): Promise<Answer> =>
    ask(v, list, { change: 'put on', filter: { q: 'rower' }, seen: ROWERS, ...over }, 'key-of-this-wish');
  const members = async (): Promise<string[]> =>
    (
      await o.app.platform.db.all<{ name: string }>(
        'SELECT c.first_name AS name FROM list_member m JOIN contact c ON c.id = m.contact_id WHERE m.list_id = $1',
        [list],
      )
    ).map((x) => x.name);
  const job = async (id: unknown) => o.app.platform.jobs.one(o.app.platform.db, o.business, String(id));

  it('puts on all of them and nobody else, and says how many were on it already', async () => {
    const ids = (await o.app.contacts.page(o.business, { q: 'rower' }, undefined, 3)).items.map((c) => c.id);
    await o.app.lists.changeMembers(o.admin, o.business, list, ids, []);
    const { status, body } = await wish();
    expect([status, body['contacts']]).toEqual([200, ROWERS]);
    await o.settle();
    const on = await members();
    expect(on.length).toBe(ROWERS);
    expect(on.every((name) => name.startsWith('Rower'))).toBeTrue();
    expect(await job(body['jobId'])).toEqual(
      jasmine.objectContaining({
        state: 'done',
        doneCount: ROWERS,
        result: `${ROWERS - 3} put on “${name}”; 3 were on it already`,
      }),
    );
  });

  it('takes off all who match, also where they match by being on that list', async () => {
    await wish();
    await o.settle();
    const { body } = await ask(v, list, { change: 'take off', filter: { list }, seen: ROWERS }, 'key-of-another');
    await o.settle();
    expect(await members()).toEqual([]);
    expect((await job(body['jobId']))?.result).toBe(`${ROWERS} taken off “${name}”`);
  });

  it('walks a list of everybody to its end', async () => {
    await wish({ filter: {}, seen: PEOPLE });
    await o.settle();
    expect(new Set(await members()).size).toBe(PEOPLE);
  });

  it('does it once for one key, and refuses where other people match than were seen', async () => {
    expect((await wish({ seen: ROWERS + 1 })).status).toBe(409);
    await o.settle();
    expect(await members()).toEqual([]);
    const first = await wish();
    const again = await wish();
    expect(again.body).toEqual(first.body);
    const jobs = (await v.ask('GET', `/businesses/${o.business}/jobs`)).body['items'] as { title: string }[];
    expect(jobs.filter((j) => j.title.includes(`“${name}”`))).toHaveSize(1);
    expect((await wish({ filter: { q: 'nobody at all' }, seen: 1 })).status).toBe(200);
  });

  it('refuses nobody, a list that is not there, and people who may only look', async () => {
    const fine = { change: 'put on', filter: {}, seen: PEOPLE };
    const nobody = { ...fine, filter: { q: 'nobody at all' }, seen: 1 };
    expect((await ask(v, list, nobody, 'key-for-nobody')).status).toBe(422);
    expect((await ask(v, 'lst_elsewhere', fine, 'key-for-elsewhere')).status).toBe(404);
    const viewer = await door.visitor((await o.person('Viola', 'viewer')).id);
    expect((await ask(viewer, list, fine, 'key-of-a-viewer')).status).toBe(403);
    await o.settle();
    expect(await members()).toEqual([]);
  });

  it('goes on after a crash from where it was, and ends with the same people', async () => {
    const { body } = await wish({ filter: {}, seen: PEOPLE });
    const { jobs } = o.app.platform;
    // One turn, cut short by the end of the process after its first lots.
    const keep = jobs.keep.bind(jobs);
    let lots = 0;
    jobs.keep = async (...of) => {
      await keep(...of);
      if (++lots === 3) throw new Error('the process ends');
    };
    while (lots < 3) await jobs.workOne();
    const reached = (await job(body['jobId']))?.doneCount ?? 0;
    expect((await members()).length)
      .withContext('what is counted is what was done')
      .toBe(reached);
    expect(reached).toBeGreaterThan(0);
    expect(reached).toBeLessThan(PEOPLE);
    await o.again();
    await o.app.platform.clock.moveTo(o.now + 60_000);
    await o.settle();
    expect(new Set(await members()).size).toBe(PEOPLE);
    // Who was put on before the end is not taken for somebody who was on it already: it began where it was.
    expect(await job(body['jobId'])).toEqual(
      jasmine.objectContaining({ state: 'done', doneCount: PEOPLE, result: `1,250 put on “${name}”` }),
    );
  });

  it('reaches somebody who is renamed meanwhile from behind its place to before it', async () => {
    const { body } = await wish({ filter: {}, seen: PEOPLE });
    const { jobs } = o.app.platform;
    const keep = jobs.keep.bind(jobs);
    let lots = 0;
    jobs.keep = async (w, ...of) => {
      await keep(w, ...of);
      if (++lots === 1)
        await w.run(
          `UPDATE contact SET sort_name = ' first of all' WHERE id = (SELECT contact_id FROM contact_number ORDER BY sort_name DESC LIMIT 1)`,
        );
    };
    await o.settle();
    jobs.keep = keep;
    expect(new Set(await members()).size).toBe(PEOPLE);
    expect(await job(body['jobId'])).toEqual(
      jasmine.objectContaining({ state: 'done', doneCount: PEOPLE, result: `1,250 put on “${name}”` }),
    );
  });

  it('stops where it is when it is cancelled: what is on the list stays, nothing is added', async () => {
    const { body } = await wish({ filter: {}, seen: PEOPLE });
    const { jobs, db } = o.app.platform;
    const keep = jobs.keep.bind(jobs);
    let lots = 0;
    jobs.keep = async (w, ...of) => {
      await keep(w, ...of);
      if (++lots === 2)
        w.afterCommit(() => void db.write((x) => jobs.control(x, o.business, String(body['jobId']), 'cancel')));
    };
    await o.settle();
    const on = (await members()).length;
    expect(on).toBeGreaterThan(0);
    expect(on).toBeLessThan(PEOPLE);
    expect(await job(body['jobId'])).toEqual(jasmine.objectContaining({ state: 'cancelled', doneCount: on }));
  });

  it('tells those changed one by one apart from those who were on it', async () => {
    const ids = (await o.app.contacts.page(o.business, { q: 'rower' }, undefined, 5)).items.map((c) => c.id);
    const change = async (body: object) =>
      (await v.ask('POST', `/businesses/${o.business}/lists/${list}/members`, body)).body;
    expect(await change({ add: ids.slice(0, 3) })).toEqual(
      jasmine.objectContaining({ added: ids.slice(0, 3), removed: [], count: 3 }),
    );
    expect(await change({ add: ids })).toEqual(
      jasmine.objectContaining({ added: ids.slice(3), removed: [], count: 5 }),
    );
    expect(await change({ remove: [...ids.slice(3), 'con_nobody'] })).toEqual(
      jasmine.objectContaining({ added: [], removed: ids.slice(3), count: 3 }),
    );
  });
});
