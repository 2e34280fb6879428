import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';
import { filedFormTable } from './model.js';

const ADA = '+12125550110';

describe('the one of an id, wherever it is in its list', () => {
  let o: Office;
  let door: Door;
  let staff: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    staff = await door.visitor(o.admin.id);
    await o.contact(ADA, ['informational'], { firstName: 'Ada' });
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  const lists: [string, () => Promise<string[]>][] = [
    [
      'forms',
      async () => {
        const ids = ['frm_one', 'frm_two'];
        const kept = { documentId: 'doc_1', name: 'form.pdf', size: 9, sha256: 'ab'.repeat(32) };
        const words = { purposes: ['informational' as const], signedOn: '2030-03-01', disclosure: 'Order updates.' };
        const filed = { filedBy: o.admin.name, filedAt: o.now, done: true };
        await o.app.platform.db.write(async (w) => {
          for (const id of ids)
            await w.of(filedFormTable).create({ id, businessId: o.business, ...kept, ...words, ...filed });
        });
        return ids;
      },
    ],
    [
      'opt-out-lists',
      async () => {
        const list = { origin: 'carrier' as const, source: 'a carrier', datedOn: '2030-03-10', name: 'gone.csv' };
        const ids: string[] = [];
        for (const n of ['2125550191', '2125550192'])
          ids.push(
            (
              await o.app.optOutLists.bring(
                o.admin,
                o.business,
                { ...list, base64: Buffer.from(n).toString('base64') },
                `list-${n}`,
              )
            ).id,
          );
        return ids;
      },
    ],
    [
      'evidence-requests',
      async () => {
        const wish = {
          asker: 'our own file' as const,
          who: '',
          reference: '',
          question: '',
          dueOn: null,
          numbers: ADA,
        };
        const ids: string[] = [];
        for (const key of ['ask-one', 'ask-two'])
          ids.push((await o.app.evidence.ask(o.admin, o.business, wish, key)).id);
        return ids;
      },
    ],
    [
      'relationships',
      async () => {
        const ids: string[] = [];
        for (const happenedOn of ['2030-01-15', '2030-01-16']) {
          const wish = { phone: ADA, kind: 'purchase' as const, happenedOn, reference: '' };
          ids.push((await o.app.relationships.record(o.admin, o.business, wish)).id);
        }
        return ids;
      },
    ],
  ];
  for (const [at, make] of lists)
    it(`is found among ${at}, and nothing is for an id of nothing`, async () => {
      const ids = await make();
      expect(ids.length).toBe(2);
      for (const id of [...ids, 'none']) {
        const answer = await staff.ask('GET', `/businesses/${o.business}/${at}?limit=1&id=${id}`);
        const found = (answer.body['items'] as { id: string }[]).map((x) => x.id);
        expect(found).toEqual(id === 'none' ? [] : [id]);
        expect(answer.body['next']).toBeNull();
      }
    });
});
