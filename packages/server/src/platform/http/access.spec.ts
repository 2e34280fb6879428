import { accessTable, CALLERS, type AccessRow, type Caller } from '@long-gate/contracts';
import type { Answer, Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

/** Whether the door itself turned somebody away; what lies behind it may refuse for its own reasons. */
function turnedAway(a: Answer): boolean {
  if (a.status === 401) return a.body.code === 'signed-out';
  if (a.status === 403) return a.body.code === 'role' || a.body.code === 'csrf' || a.body.code === 'factor-missing';
  return a.status === 404 && /no such business, or you have no part in it/.test(a.body.detail ?? '');
}

describe('every door, for every role, in a business of one’s own and another’s', () => {
  let o: Office;
  let door: Door;
  let elsewhere = '';
  const people = {} as Record<Caller, string | undefined>;

  beforeAll(async () => {
    o = await Office.open();
    door = await o.door();
    for (const role of ['viewer', 'coordinator', 'administrator'] as const)
      people[role] = (await o.person(role, role)).id;
    elsewhere = await o.app.platform.db.write((w) =>
      o.app.businesses.add(w, o.admin, {
        legalName: 'Alder Quay Rowing Club',
        nameLine: 'Alder Quay',
        form: 'non-profit',
      }),
    );
  });
  afterAll(async () => {
    await door.close();
    await o.close();
  });

  /** @param as a session to go by; one of its own where none is given, since some doors end it. */
  async function knock(row: AccessRow, caller: Caller, business: string, body: unknown, as?: Visitor): Promise<Answer> {
    const e = row.endpoint;
    const path = e.path.replace(/:(\w+)/g, (_, name: string) =>
      name === 'businessId'
        ? encodeURIComponent(business)
        : name === 'e164'
          ? '%2B12125550100'
          : 'nothing-of-this-name',
    );
    const v = as ?? (await door.visitor(people[caller]));
    return v.ask(e.method, path, e.method === 'GET' ? undefined : body, {
      'idempotency-key': `knock-${e.id}-${caller}`,
      'if-match': '"1"',
    });
  }

  for (const row of accessTable()) {
    // Asking too often is refused before anything is read; the doors without a session are tried by their own specs.
    const counted = /^\/(public|session$|setup)/.test(row.endpoint.path) && row.endpoint.access === 'public';
    it(`${row.endpoint.id}: ${CALLERS.filter((c) => row.may[c]).join(', ')}`, async () => {
      const named = row.endpoint.path.includes(':businessId');
      for (const caller of CALLERS) {
        const own = await knock(row, caller, o.business, {});
        expect(own.status)
          .withContext(`${caller}: ${own.body.detail ?? ''}`)
          .toBeLessThan(500);
        if (!counted || own.status !== 429)
          expect(turnedAway(own)).withContext(`${caller}, own`).toBe(!row.may[caller]);
        if (row.stricter) {
          const more = await knock(row, caller, o.business, row.endpoint.stricter?.example);
          expect(turnedAway(more))
            .withContext(`${caller}, to ${row.endpoint.stricter?.to ?? ''}`)
            .toBe(!row.stricter[caller]);
        }
        if (!named) continue;
        // Nobody comes through these, so that one session does for all.
        const v = await door.visitor(people[caller]);
        const body = row.endpoint.stricter?.example ?? {};
        // Names that every object answers to are no business, whoever asks: whom most is open to tries them.
        const names = caller === 'administrator' ? ['constructor', '__proto__', 'toString', ''] : [];
        const others = [elsewhere, ...names];
        const answers = await Promise.all(others.map((other) => knock(row, caller, other, body, v)));
        for (const [i, other] of others.entries())
          expect(turnedAway(answers[i] as Answer) || other === '')
            .withContext(`${caller}, ${other || 'no business'}`)
            .toBeTrue();
      }
    });
  }

  it('wants the token of the page for everything that changes something', async () => {
    const v = await door.visitor(people.administrator);
    v.csrf = '';
    for (const { endpoint: e } of accessTable()) {
      if (e.method === 'GET' || e.access === 'public') continue;
      const path = e.path.replace(':businessId', o.business).replace(/:\w+/g, 'x');
      const a = await v.ask(e.method, path, {}, { 'idempotency-key': 'a-key-of-mine', 'if-match': '"1"' });
      expect([a.status, a.body.code]).withContext(e.id).toEqual([403, 'csrf']);
    }
  });

  it('wants a key for everything that costs, and a version for every edit of a shared thing', async () => {
    const v = await door.visitor(people.administrator);
    for (const { endpoint: e } of accessTable()) {
      const path = e.path.replace(':businessId', o.business).replace(/:\w+/g, 'x');
      if (e.costs)
        expect((await v.ask(e.method, path, {})).status)
          .withContext(e.id)
          .toBe(400);
      if (e.versioned)
        expect((await v.ask(e.method, path, {}, { 'idempotency-key': 'a-key-of-mine' })).status)
          .withContext(e.id)
          .toBe(428);
    }
  });

  it('answers nothing that a cache may keep', async () => {
    const v = await door.visitor(people.viewer);
    for (const path of ['/session', `/businesses/${o.business}/people`, '/nowhere'])
      expect((await v.ask('GET', path)).headers.get('cache-control'))
        .withContext(path)
        .toBe('no-store');
  });
});
