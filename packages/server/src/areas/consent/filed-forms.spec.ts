import type { EventBasis, FormWhom } from '@long-gate/contracts';
import { postNo } from '@long-gate/core';
import { Office } from '../../testing/office.js';

const DISCLOSURE =
  'Text me offers and news, about four a month. I agree that Heron Lane Bakery LLC may send me automated promotional texts at this number. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end. Privacy and terms: heron.example.';
const PDF = Buffer.from('%PDF-1.4 a form that was signed');
const CLAIMED = ['+12125550110', '+12125550111', '+12125550112'];

describe('a form that people signed', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    for (const e164 of CLAIMED) await o.contact(e164, []);
    await o.app.platform.db.write((w) =>
      o.app.ledger.append(
        w,
        o.business,
        CLAIMED.map((e164) => ({
          e164,
          purposes: ['informational', 'promotional'],
          kind: 'claimed',
          how: 'imported record',
          happenedAt: o.now - 1000,
        })),
      ),
    );
  });
  afterEach(() => o.close());

  const whom = (over: Partial<FormWhom>): FormWhom => ({
    listId: null,
    filter: null,
    e164s: null,
    behind: null,
    claimedBy: null,
    ...over,
  });
  const file = (over: Partial<Parameters<typeof o.app.forms.file>[2]> = {}, key = 'filing-1') =>
    o.app.forms.file(
      o.admin,
      o.business,
      {
        whom: whom({ e164s: CLAIMED }),
        purposes: ['promotional'],
        signedOn: '2030-03-01',
        disclosure: DISCLOSURE,
        name: 'forms.pdf',
        bytes: PDF,
        ...over,
      },
      key,
    );
  const first = async () => {
    await o.settle();
    const [form] = (await o.app.forms.list(o.business, { limit: 10 })).items;
    if (!form) throw new Error('No form was filed.');
    return form;
  };

  it('makes proof of a claim: with the day, the words and the digest, and the gate opens', async () => {
    expect((await o.state(CLAIMED[0] ?? '')).promotional).toBe('unproven');
    await file();
    const form = await first();
    expect([form.people, form.leftOut, form.done]).toEqual([3, 0, true]);
    const [event] = (await o.app.ledgerPages.page(o.business, { e164: CLAIMED[0], limit: 1 })).items;
    expect([event?.kind, event?.how, event?.purposes, event?.disclosure, event?.recordedBy]).toEqual([
      'granted',
      'paper form',
      ['promotional'],
      DISCLOSURE,
      o.admin.id,
    ]);
    expect(event?.evidence['sha256']).toBe(form.sha256);
    const door = await o.door();
    const staff = await door.visitor(o.admin.id);
    const at = `/businesses/${o.business}/ledger/${event?.id ?? ''}`;
    const basis = (await staff.ask('GET', `${at}/basis`)).body as unknown as EventBasis;
    expect([basis.form?.id, basis.document?.size, basis.recordedBy]).toEqual([form.id, PDF.length, o.admin.name]);
    expect((await staff.ask('GET', `${at}/document`)).status).toBe(200);
    const [look] = await o.app.platform.db.all<{ action: string }>(`SELECT action FROM audit WHERE object_id = $1`, [
      event?.id ?? '',
    ]);
    expect(look?.action).toBe('document of a consent event looked at');
    await door.close();
    // The day begins where the business is.
    expect(event?.happenedAt).toBe(Date.UTC(2030, 2, 1, 5));
    for (const e164 of CLAIMED)
      expect(await o.state(e164)).toEqual(
        jasmine.objectContaining({ promotional: 'granted', informational: 'unproven' }),
      );
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
  });

  it('is kept as it was handed in, and each look at it is noted', async () => {
    await file();
    const { id } = await first();
    const document = await o.app.forms.document(o.admin, o.business, id);
    expect([document.bytes.equals(PDF), document.type]).toEqual([true, 'application/pdf']);
    const looks = await o.app.platform.db.all<{ n: number }>(
      `SELECT count(*) AS n FROM audit WHERE action = 'form looked at' AND object_id = $1`,
      [id],
    );
    expect(looks[0]?.n).toBe(1);
    await expectAsync(o.app.forms.document(o.admin, 'biz_other', id)).toBeRejectedWithError(/form/);
  });

  it('speaks for nobody who left, whenever it was signed, nor takes anything back', async () => {
    const [left = ''] = CLAIMED;
    await o.text(left, 'STOP');
    const review = await o.app.forms.review(o.business, whom({ e164s: CLAIMED }), { purposes: ['promotional'] });
    expect([review.people, review.leftOut]).toEqual([2, 1]);
    await o.later(24 * 3_600_000);
    await file({ signedOn: '2030-03-13' });
    const form = await first();
    expect([form.people, form.leftOut]).toEqual([2, 1]);
    expect((await o.state(left)).promotional).toBe('revoked');
  });

  it('loses to a wish to stop of the same day', async () => {
    const [e164 = ''] = CLAIMED;
    await file({ signedOn: '2030-03-12', whom: whom({ e164s: [e164] }) });
    await o.settle();
    await o.text(e164, 'STOP');
    expect((await o.state(e164)).promotional).toBe('revoked');
  });

  it('is refused where it is no proof, and says why at its field; nothing is kept then', async () => {
    await expectAsync(file({ signedOn: '2030-04-01' })).toBeRejectedWith(
      jasmine.objectContaining({ status: 422, fields: [jasmine.objectContaining({ field: 'signedOn' })] }),
    );
    await expectAsync(file({ disclosure: 'I want texts.' })).toBeRejectedWithError(/no proof/);
    await expectAsync(file({ bytes: Buffer.from('hello') })).toBeRejectedWithError(/no PDF, PNG or JPEG/);
    await expectAsync(file({ whom: whom({ e164s: ['+12125550199'] }) })).toBeRejectedWithError(/Nobody is left/);
    expect((await o.app.forms.list(o.business, { limit: 10 })).total).toBe(0);
  });

  it('is filed once for one key, also where the answer was lost and where it was cut off on its way', async () => {
    const a = await file();
    const b = await file();
    expect(b.id).toBe(a.id);
    await o.again();
    await o.settle();
    await file();
    await o.settle();
    const granted = await o.app.platform.db.one<{ n: number }>(
      `SELECT count(*) AS n FROM consent_event WHERE kind = 'granted' AND how = 'paper form'`,
    );
    expect(granted?.n).toBe(3);
  });

  it('is filed for a list, for a filter, and for those behind a count of a dispatch', async () => {
    const [one = ''] = CLAIMED;
    await o.contact('+12125550150', [], { firstName: 'Rosalind', list: 'Bakers' });
    await file({ whom: whom({ listId: await o.listId('Bakers') }) }, 'filing-1');
    await file({ whom: whom({ filter: { q: one.slice(-4) } }) }, 'filing-2');
    await o.settle();
    expect([(await o.state('+12125550150')).promotional, (await o.state(one)).promotional]).toEqual([
      'granted',
      'granted',
    ]);
    const d = await o.app.drafts.add(
      o.admin,
      o.business,
      await o.draft({ purpose: 'promotional', text: 'Rye is 20% off.' }),
    );
    const behind = {
      dispatchId: d.id,
      post: postNo('consent'),
      result: 'stop' as const,
      reason: 'consent-unproven' as const,
    };
    await file({ whom: whom({ behind }) }, 'filing-3');
    await o.settle();
    for (const e164 of CLAIMED)
      expect((await o.state(e164)).promotional)
        .withContext(e164)
        .toBe('granted');
    // A wish whose answer was lost, though nobody is behind the count any more.
    expect((await file({ whom: whom({ behind }) }, 'filing-3')).people).toBe(2);
    const counts = (await o.app.forms.list(o.business, { limit: 10 })).items.map((f) => f.people);
    expect(counts.sort()).toEqual([1, 1, 2]);
  });
});
