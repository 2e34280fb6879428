import { hash } from 'node:crypto';
import { canonicalEvent, judge, spend, Tally, type GateCounts, type LedgerEvent } from '@long-gate/core';
import { Person, Running, until } from '../running.js';

interface Draft {
  title: string;
  text: string;
  purpose: string | null;
  transactional: boolean;
  stopLine: boolean;
  numberId: string | null;
  audience: { include: string[]; exclude: string[] };
}

/** What holds over the whole demo data, asked through the API. */
const sha256 = (text: string): string => hash('sha256', text, 'hex');

describe('the demo', () => {
  let running: Running;
  let person: Person;
  const all: {
    id: string;
    lists: { id: string; name: string; count: number }[];
    numbers: { id: string; e164: string; deciding: unknown }[];
  }[] = [];

  beforeAll(async () => {
    running = await Running.start({ demo: true });
    person = await new Person(running.url).signIn('administrator');
    for (const b of person.businesses) {
      const lists = await person.ok<{ items: { id: string; name: string; count: number }[] }>(
        'GET',
        `/businesses/${b.id}/lists`,
      );
      const numbers = await person.ok<{ items: { id: string; e164: string; deciding: unknown }[] }>(
        'GET',
        `/businesses/${b.id}/numbers`,
      );
      all.push({ id: b.id, lists: lists.items, numbers: numbers.items });
    }
  });
  afterAll(() => running.stop());

  it('has three businesses with months of history, and no empty area', async () => {
    expect(all.length).toBe(3);
    for (const b of all) {
      const today = await person.ok<{ matters: unknown[] }>('GET', `/businesses/${b.id}/today`);
      expect(today.matters.length).toBeGreaterThan(0);
      const dispatches = await person.ok<{ total: number }>('GET', `/businesses/${b.id}/dispatches`);
      expect(dispatches.total).toBeGreaterThan(0);
      const ledger = await person.ok<{ total: number }>('GET', `/businesses/${b.id}/ledger-count`);
      expect(ledger.total).toBeGreaterThan(100);
      const watch = await person.ok<{ numbers: { sent: number }[] }>('GET', `/businesses/${b.id}/watch`);
      expect(Math.max(...watch.numbers.map((n) => n.sent))).toBeGreaterThan(0);
      expect((await person.ok<{ total: number }>('GET', `/businesses/${b.id}/threads`)).total).toBeGreaterThan(0);
    }
  });

  /** Everybody behind a count, page by page, by their numbers. */
  async function behind(businessId: string, which: object): Promise<string[]> {
    const out: string[] = [];
    for (let cursor: string | null | undefined; cursor !== null;) {
      const page: { items: { e164: string }[]; next: string | null } = await person.ok(
        'POST',
        `/businesses/${businessId}/dispatches/preview/people`,
        { ...which, cursor, limit: 500 },
      );
      out.push(...page.items.map((x) => x.e164));
      cursor = page.next;
    }
    return out;
  }

  it('gives the same counts by classes and one by one, for every list, purpose and number', async () => {
    let compared = 0;
    for (const b of all) {
      for (const list of b.lists) {
        for (const purpose of ['informational', 'promotional']) {
          for (const numberId of [b.numbers[0]?.id ?? null, b.numbers[b.numbers.length - 1]?.id ?? null]) {
            const draft: Draft = {
              title: 'x',
              text: 'Hello [firstName], the boat is late: saltmarsh.example/x',
              purpose,
              transactional: false,
              stopLine: compared % 2 === 0,
              numberId,
              audience: { include: [list.id], exclude: compared % 3 === 0 ? [b.lists[0]?.id ?? ''] : [] },
            };
            const preview = await person.ok<{ counts: GateCounts }>(
              'POST',
              `/businesses/${b.id}/dispatches/preview`,
              draft,
            );
            const c = preview.counts;
            expect(c.pass + c.hold + c.stop).toBe(c.audience);
            expect(c.posts.reduce((n, p) => n + p.hold + p.stop, 0)).toBe(c.hold + c.stop);
            for (const post of c.posts) {
              for (const result of ['hold', 'stop'] as const) {
                if (post[result] === 0) continue;
                const people = await behind(b.id, { dispatch: draft, post: post.post, result });
                expect(new Set(people).size).withContext('nobody twice').toBe(people.length);
                expect(people.length)
                  .withContext(`${list.name} ${purpose} post ${post.post} ${result}`)
                  .toBe(post[result]);
              }
            }
            if (c.pass > 0) {
              const people = await behind(b.id, { dispatch: draft, post: 0, result: 'pass' });
              expect(people.length).toBe(c.pass);
            }
            compared++;
          }
        }
      }
    }
    expect(compared).toBeGreaterThan(30);
    // The same rule book stands behind both; it is the one exported by the core.
    expect([typeof judge, typeof spend, typeof Tally]).toEqual(['function', 'function', 'function']);
  });

  it('hands out a ledger whose chain anybody can verify without us', async () => {
    for (const b of all) {
      const text = (await person.ok<{ text: string }>('GET', `/businesses/${b.id}/ledger.jsonl`)).text;
      let prev = '0'.repeat(64);
      let n = 0;
      for (const line of text.trim().split('\n')) {
        const event = JSON.parse(line) as LedgerEvent;
        expect(event.prevHash).toBe(prev);
        expect(sha256(`${prev}\n${sha256(canonicalEvent(event))}`)).toBe(event.hash);
        prev = event.hash;
        n++;
      }
      const verdict = await person.ok<{ ok: boolean; count: number; head: string }>(
        'POST',
        `/businesses/${b.id}/ledger/verification`,
        {},
      );
      expect(verdict).toEqual(jasmine.objectContaining({ ok: true, count: n, head: prev }));
    }
  });

  it('keeps a statement in which every balance follows from the one before, and none is below nothing', async () => {
    for (const b of all) {
      const { items } = await person.ok<{ items: { amount: number; balanceAfter: number }[] }>(
        'GET',
        `/businesses/${b.id}/money?limit=500`,
      );
      let balance = 0;
      for (const e of items.reverse()) {
        balance += e.amount;
        expect(e.balanceAfter).toBe(balance);
        expect(balance).toBeGreaterThanOrEqual(0);
      }
      expect((await person.ok<{ balance: number }>('GET', `/businesses/${b.id}`)).balance).toBe(balance);
    }
  });

  it('lets the coordinator send but not settle, the viewer read but not write, and nobody grant consent', async () => {
    const coordinator = await new Person(running.url).signIn('coordinator');
    const viewer = await new Person(running.url).signIn('viewer');
    const b = all[0]?.id ?? '';
    const draft: Draft = {
      title: 'Mine',
      text: 'x',
      purpose: null,
      transactional: false,
      stopLine: true,
      numberId: null,
      audience: { include: [], exclude: [] },
    };
    expect((await coordinator.call('POST', `/businesses/${b}/dispatches`, draft)).status).toBe(200);
    expect((await viewer.call('POST', `/businesses/${b}/dispatches`, draft)).status).toBe(403);
    expect((await coordinator.call('POST', `/businesses/${b}/top-ups`, { amount: 5_000_000 })).status).toBe(403);
    expect((await coordinator.call('PUT', `/businesses/${b}/texts`, { off: true })).status).toBe(403);
    expect((await viewer.call('GET', `/businesses/${b}/contacts.csv`)).status).toBe(200);
    expect((await new Person(running.url).call('GET', `/businesses/${b}/contacts`)).status).toBe(401);
    expect((await person.call('GET', '/businesses/biz_somebody-elses/contacts')).status).toBe(404);
    const api = await person.ok<{ paths: Record<string, Record<string, { summary: string }>> }>('GET', '/openapi.json');
    const writing = Object.entries(api.paths).flatMap(([p, methods]) =>
      Object.keys(methods)
        .filter((m) => m !== 'get')
        .map((m) => `${m} ${p}`),
    );
    // The ways in to the ledger: the contact's own page, a recorded wish to stop, the reading of a reply, and when consent
    // ends that nobody stood by, which opens nothing. Letters that invite people write nothing into it.
    const ways = writing.filter((w) => /consent|revocation|opt-in(?!-invitations)|ledger|reply-review/.test(w));
    expect(ways.sort()).toEqual([
      'post /api/v1/businesses/{businessId}/consent-expiry/preview',
      'post /api/v1/businesses/{businessId}/ledger/verification',
      'post /api/v1/businesses/{businessId}/reply-reviews/{id}',
      'post /api/v1/businesses/{businessId}/revocations',
      'post /api/v1/public/pages/{slug}/opt-ins',
      'put /api/v1/businesses/{businessId}/consent-expiry',
    ]);
  });

  it('does a costly thing once for one key, and refuses two people who overwrite each other', async () => {
    const b = all[1]?.id ?? '';
    const balance = async (): Promise<number> =>
      (await person.ok<{ balance: number }>('GET', `/businesses/${b}`)).balance;
    const before = await balance();
    const key = { 'idempotency-key': 'the-same-wish-1' };
    await Promise.all([1, 2, 3].map(() => person.ok('POST', `/businesses/${b}/top-ups`, { amount: 5_000_000 }, key)));
    expect((await balance()) - before).toBe(5_000_000);
    expect(
      (await person.call('POST', `/businesses/${b}/top-ups`, { amount: 5_000_000 }, { 'idempotency-key': '' })).status,
    ).toBe(400);
    const n = (await person.ok<{ items: { id: string; version: number }[] }>('GET', `/businesses/${b}/numbers`))
      .items[0];
    const edit = (label: string): Promise<{ status: number }> =>
      person.call(
        'PUT',
        `/businesses/${b}/numbers/${n?.id ?? ''}`,
        { label, description: '' },
        { 'if-match': `"${n?.version ?? 0}"` },
      );
    expect([(await edit('One')).status, (await edit('Two')).status]).toEqual([200, 412]);
  });

  it('answers every refusal as problem details that name the field', async () => {
    const b = all[0]?.id ?? '';
    const bad = await person.call('GET', `/businesses/${b}/exchange?where=12`);
    expect(bad.status).toBe(422);
    expect(bad.body['fields']).toEqual([
      { field: 'where', message: 'An area code has three digits and begins with 2 to 9.' },
    ]);
    const raw = await fetch(`${running.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{broken',
    });
    expect(raw.status).toBe(400);
    expect(raw.headers.get('content-type')).toContain('application/problem+json');
    expect((await fetch(`${running.url}/api/v1/nowhere`)).status).toBe(404);
    const page = await fetch(`${running.url}/`);
    expect(page.headers.get('content-security-policy')).toContain("object-src 'none'");
    expect(page.headers.get('x-content-type-options')).toBe('nosniff');
  });

  it('limits how often one may try to sign in', async () => {
    const tries = await Promise.all(
      Array.from({ length: 40 }, () =>
        fetch(`${running.url}/api/v1/session`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ email: 'nobody@quillmere.example', password: 'x' }),
        }).then((r) => r.status),
      ),
    );
    expect(tries.filter((s) => s === 401).length).toBeLessThanOrEqual(30);
    expect(tries).toContain(429);
  });

  it('says plainly that a port is taken or a folder cannot be written', async () => {
    await expectAsync(
      Running.start({ demo: false, env: { LONG_GATE_PORT: new URL(running.url).port } }),
    ).toBeRejectedWithError(/Port \d+ is taken\. Set LONG_GATE_PORT to a free one\./);
    await expectAsync(
      Running.start({ demo: false, env: { LONG_GATE_DATA: `${running.dataDir}/secret.key/below` } }),
    ).toBeRejectedWithError(/cannot be (written|created)|Set LONG_GATE_DATA/);
  });

  it('keeps the history and adds nothing to it at a second start', async () => {
    const b = all[0]?.id ?? '';
    const total = async (): Promise<number> =>
      (await person.ok<{ total: number }>('GET', `/businesses/${b}/ledger-count`)).total;
    const before = await total();
    await running.kill();
    await running.startServerAgain();
    expect(await total()).toBe(before);
  });

  it('goes on with lookups after a kill, within the pace, and pays for each number once', async () => {
    const b = all[0]?.id ?? '';
    const estimate = (): Promise<{ numbers: number }> => person.ok('POST', `/businesses/${b}/lookups/estimate`, {});
    const { numbers } = await estimate();
    expect(numbers).toBeGreaterThan(80);
    await person.ok('POST', `/businesses/${b}/lookups`, {});
    await until(async () => (await estimate()).numbers < numbers - 30);
    await running.kill();
    await running.startServerAgain();
    await until(
      async () =>
        (await person.ok<{ items: { kind: string; state: string }[] }>('GET', `/businesses/${b}/jobs`)).items.some(
          (j) => j.kind === 'lookups' && j.state === 'done',
        ),
      60_000,
    );
    const pace = (await (await fetch(`${running.outside}/lines/pace`)).json()) as {
      lookups: number;
      busiestSecond: number;
    };
    expect(pace.busiestSecond).toBeLessThanOrEqual(20);
    expect(pace.lookups - numbers)
      .withContext('at most one slice is asked again after a kill')
      .toBeLessThanOrEqual(18);
  });
});
