import fc from 'fast-check';
import type { SuppressionList } from '@long-gate/contracts';
import type { Suppression, SuppressionKind } from '@long-gate/core';
import { Office } from '../../../testing/office.js';

const ADA = '+12125550110';
const BRAM = '+12125550111';
const CLEO = '+12125550112';
const DAY = 86_400_000;

describe('suppression lists', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
    await o.contact(BRAM, ['informational'], { firstName: 'Bram' });
  });
  afterEach(() => o.close());

  const begin = (over: object = {}, key = 'list-one'): Promise<SuppressionList> =>
    o.app.suppression.add(
      o.admin,
      o.business,
      { name: 'National list', kind: 'national', source: 'the registry', datedOn: '2030-03-10', ...over },
      key,
    );
  const take = (list: SuppressionList, part: number, ...lines: string[]) =>
    o.app.suppression.take(o.business, list.id, { edition: list.reading?.edition ?? 0, part, lines });
  const finish = (list: SuppressionList, parts = 1) =>
    o.app.suppression.finish(o.admin, o.business, list.id, { edition: list.reading?.edition ?? 0, parts });
  const bring = async (kind: SuppressionKind, lines: string[], key = `list-${kind}`): Promise<SuppressionList> => {
    const list = await begin({ kind, name: `A list, ${kind}` }, key);
    await take(list, 0, ...lines);
    return finish(list);
  };
  const now = async (id: string): Promise<SuppressionList> => {
    const list = (await o.app.suppression.list(o.business)).find((l) => l.id === id);
    if (!list) throw new Error('The list is gone.');
    return list;
  };
  const keptOff = async (e164: string): Promise<Suppression | undefined> =>
    (
      await o.app.platform.db.one<{ suppression: Suppression }>(
        'SELECT suppression FROM contact_number WHERE e164 = $1',
        [e164],
      )
    )?.suppression;
  /** What the gate would say of offers and of notices to somebody, as their docket shows it. */
  const gate = async (e164: string) => {
    const id = (await o.app.contacts.names(o.app.platform.db, o.business, [e164])).get(e164)?.contactId ?? '';
    const { verdicts } = await o.app.edits.detail(o.app.platform.db, o.business, id);
    return [verdicts.promotional.why || verdicts.promotional.result, verdicts.informational.result];
  };

  it('keeps offers off who is on a registry and did not agree in writing; notices, and who agreed, pass', async () => {
    const list = await bring('national', ['212,5550110', '212,5550111']);
    expect(list.numbers).toBe(2);
    expect(await gate(ADA)).toEqual(['passes', 'pass']);
    expect(await gate(BRAM)).toEqual(['on a do-not-call list', 'pass']);
    await o.text(ADA, 'STOP');
    await o.later(60_000);
    const { items, total } = await o.app.suppression.people(o.business, list.id, undefined, 10);
    expect([total, items.map((x) => [x.name, x.kept])]).toEqual([
      2,
      [
        ['Ada', ['promotional']],
        ['Bram', ['promotional']],
      ],
    ]);
  });

  it('keeps everything off who is on our own list, or a carrier’s, whatever they agreed to', async () => {
    await bring('own', ['(212) 555-0110']);
    await bring('carrier', ['2125550111']);
    expect(await gate(ADA)).toEqual(['on a suppression list', 'stop']);
    expect(await gate(BRAM)).toEqual(['on a suppression list', 'stop']);
  });

  it('keeps off from the first part on, before the file was read to its end', async () => {
    const list = await begin();
    await take(list, 0, '212-555-0111');
    expect(await keptOff(BRAM)).toBe('solicitations');
    expect((await now(list.id)).reading?.lines).toBe(1);
    await o.app.suppression.discard(o.admin, o.business, list.id);
    await o.settle();
    expect(await keptOff(BRAM)).toBe('none');
    expect(await o.app.suppression.list(o.business)).toEqual([]);
  });

  it('looks for people who come later, from their first moment', async () => {
    await bring('own', [CLEO]);
    await o.contact(CLEO, ['promotional'], { firstName: 'Cleo' });
    expect(await gate(CLEO)).toEqual(['on a suppression list', 'stop']);
  });

  it('lets a newer file take the place of the older only when it was read to its end', async () => {
    const list = await bring('own', [ADA, BRAM]);
    const newer = await o.app.suppression.renew(o.admin, o.business, list.id, list.version, {
      source: 'the counter, newer',
      datedOn: '2030-03-11',
    });
    await take(newer, 0, BRAM, CLEO);
    await o.settle();
    expect([await keptOff(ADA), await keptOff(BRAM)]).toEqual(['all', 'all']);
    expect((await now(list.id)).datedOn).toBe('2030-03-10');
    await finish(newer);
    await o.settle();
    expect([await keptOff(ADA), await keptOff(BRAM)]).toEqual(['none', 'all']);
    const stands = await now(list.id);
    expect([stands.datedOn, stands.numbers, stands.source]).toEqual(['2030-03-11', 2, 'the counter, newer']);
    expect((await o.app.platform.db.all('SELECT * FROM suppression_number')).length).toBe(2);
  });

  it('takes no part twice and none too soon, and says what was no number and where', async () => {
    const list = await begin();
    const first = await take(list, 0, 'phone', ADA, '', 'call him at 9', '911-555-0142');
    expect(first).toEqual({ parts: 1, lines: 5, refused: 2 });
    expect(await take(list, 0, BRAM)).toEqual(first);
    expect(await keptOff(BRAM)).toBe('none');
    await expectAsync(take(list, 2, BRAM)).toBeRejectedWithError(/Part 2 comes first/);
    await expectAsync(finish(list, 2)).toBeRejectedWithError(/1 parts have come, of 2/);
    expect((await now(list.id)).refusals.map((x) => x.line)).toEqual([4, 5]);
    await finish(list, 1);
    await finish(list, 1);
    await expectAsync(take(list, 1, BRAM)).toBeRejectedWithError(/Nothing is being read/);
  });

  it('takes no part of one file for a part of another, where two are handed in from two tabs', async () => {
    const list = await bring('own', [ADA]);
    const renew = async () =>
      o.app.suppression.renew(o.admin, o.business, list.id, (await now(list.id)).version, {
        source: 'a tab',
        datedOn: '2030-03-11',
      });
    const one = await renew();
    await take(one, 0, 'heading');
    const other = await renew();
    await expectAsync(take(one, 0, 'nobody')).toBeRejectedWithError(/Another file/);
    await expectAsync(finish(one)).toBeRejectedWithError(/Another file/);
    expect(await take(other, 0, BRAM)).toEqual({ parts: 1, lines: 1, refused: 0 });
    await finish(other);
    await o.settle();
    expect([await keptOff(ADA), await keptOff(BRAM)]).toEqual(['none', 'all']);
    await expectAsync(finish(one)).toBeRejectedWithError(/Another file/);
  });

  it('stands as it was where the newer file holds no number: nobody is let go by a wrong file', async () => {
    const list = await bring('own', [ADA]);
    const newer = await o.app.suppression.renew(o.admin, o.business, list.id, list.version, {
      source: 'a letter',
      datedOn: '2030-03-11',
    });
    await take(newer, 0, 'Dear all,', 'please find attached');
    await expectAsync(finish(newer)).toBeRejectedWithError(/No number was found/);
    await o.settle();
    expect(await keptOff(ADA)).toBe('all');
    await expectAsync(begin({ datedOn: '2030-03-14' }, 'list-of-tomorrow')).toBeRejectedWithError(/still to come/);
  });

  it('loses nothing and lets nobody go when the application ends in the middle', async () => {
    const list = await bring('own', [ADA]);
    const newer = await o.app.suppression.renew(o.admin, o.business, list.id, list.version, {
      source: 'newer',
      datedOn: '2030-03-11',
    });
    await take(newer, 0, BRAM);
    await o.again();
    expect([await keptOff(ADA), await keptOff(BRAM)]).toEqual(['all', 'all']);
    expect((await now(list.id)).reading?.parts).toBe(1);
    await finish(newer);
    await o.again();
    await o.settle();
    expect([await keptOff(ADA), await keptOff(BRAM)]).toEqual(['none', 'all']);
  });

  it('are found too old while offers are written, by their name and age, and in nothing but offers', async () => {
    const found = async (purpose: 'informational' | 'promotional') =>
      (await o.app.preview.preview(o.business, await o.draft({ purpose }))).findings
        .filter((f) => f.code === 'suppression-list-old')
        .map((f) => [f.severity, f.message]);
    const list = await begin({ datedOn: '2030-02-10' });
    await take(list, 0, '2125550111');
    await finish(list);
    await bring('own', ['2125550110']);
    expect(await found('promotional')).toEqual([]);
    await o.later(2 * DAY);
    expect(await found('promotional')).toEqual([
      ['risk', 'The do-not-call list “National list” is 32 days old; offers may go by one of 31 days at most.'],
    ]);
    expect(await found('informational')).toEqual([]);
  });

  it('is a matter when a registry is more than thirty-one days old, and when it was not read to its end', async () => {
    const matters = async () =>
      (await o.app.platform.matters.all(o.business))
        .filter((m) => m.link.startsWith('consent/suppression'))
        .map((m) => m.title);
    const list = await begin();
    await take(list, 0, ADA);
    expect(await matters()).toEqual(['“National list” was not read to its end']);
    await finish(list);
    expect(await matters()).toEqual([]);
    await o.later(29 * DAY);
    expect(await matters()).toEqual([]);
    await o.later(1 * DAY);
    expect(await matters()).toEqual(['“National list” is 32 days old']);
  });

  it('says whom it keeps off and why, page by page, and all of them as a file', async () => {
    const list = await bring('national', [ADA, BRAM, CLEO]);
    const first = await o.app.suppression.people(o.business, list.id, undefined, 1);
    // Ada agreed in writing: she is on it, and it keeps nothing from her.
    expect(first.items.map((x) => [x.name, x.kept, x.exception])).toEqual([
      ['Ada', [], 'Their written consent to offers stands, and ends with it.'],
    ]);
    const next = await o.app.suppression.people(o.business, list.id, first.next ?? '', 1);
    expect([next.items[0]?.name, next.items[0]?.kept, next.next, next.total]).toEqual([
      'Bram',
      ['promotional'],
      null,
      2,
    ]);
    let file = '';
    for await (const part of await o.app.suppression.file(o.business, list.id)) file += part;
    await expectAsync(o.app.suppression.file(o.business, 'sup_none')).toBeRejectedWithError(/does not exist/);
    expect(file).toContain('Bram,promotional');
  });

  it('keeps off at every moment what any list that stands keeps off, in whatever order lists come and go', async () => {
    const PEOPLE = [ADA, BRAM, CLEO];
    await o.contact(CLEO, [], { firstName: 'Cleo' });
    const kinds: SuppressionKind[] = ['national', 'own'];
    let round = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            list: fc.nat(1),
            people: fc.subarray(PEOPLE, { minLength: 1 }),
            what: fc.constantFrom('bring', 'half', 'drop', 'settle'),
          }),
          { maxLength: 8 },
        ),
        async (steps) => {
          round++;
          const lists: (SuppressionList | null)[] = [null, null];
          const stands: string[][] = [[], []];
          const expected = (e164: string): Suppression =>
            stands[1]?.includes(e164) ? 'all' : stands[0]?.includes(e164) ? 'solicitations' : 'none';
          const strict = (s: Suppression | undefined): number => ['none', 'solicitations', 'all'].indexOf(s ?? 'none');
          for (const [i, step] of steps.entries()) {
            const list = lists[step.list];
            if (step.what === 'settle') await o.settle();
            else if (step.what === 'drop') {
              if (!list) continue;
              await o.app.suppression.drop(o.admin, o.business, list.id, (await now(list.id)).version);
              lists[step.list] = null;
              stands[step.list] = [];
            } else {
              const at = { source: `file ${i}`, datedOn: '2030-03-10' };
              const read = list
                ? await o.app.suppression.renew(o.admin, o.business, list.id, (await now(list.id)).version, at)
                : await begin({ kind: kinds[step.list], ...at }, `round-${round}-${i}`);
              lists[step.list] = read;
              await take(read, 0, ...step.people);
              if (step.what === 'bring') {
                await finish(read);
                stands[step.list] = step.people;
              }
            }
            for (const e164 of PEOPLE) if (strict(await keptOff(e164)) < strict(expected(e164))) return false;
          }
          for (const list of lists)
            if (list && (await now(list.id)).reading) await o.app.suppression.discard(o.admin, o.business, list.id);
          await o.settle();
          for (const e164 of PEOPLE) if ((await keptOff(e164)) !== expected(e164)) return false;
          for (const list of await o.app.suppression.list(o.business))
            await o.app.suppression.drop(o.admin, o.business, list.id, list.version);
          await o.settle();
          return (await Promise.all(PEOPLE.map(keptOff))).every((s) => s === 'none');
        },
      ),
      { numRuns: 15 },
    );
  });
});
