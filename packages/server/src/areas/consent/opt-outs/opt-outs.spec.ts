import type { OptOutList } from '@long-gate/contracts';
import { Office } from '../../../testing/office.js';

const ADA = '+12125550110';
const BRAM = '+12125550111';
const CLEO = '+12125550112';
const STRANGER = '+12125550119';
const GRANTED = { conversational: 'none', informational: 'granted', promotional: 'granted' };
const OUT = { conversational: 'revoked', informational: 'revoked', promotional: 'revoked' };

describe('lists of people who had opted out', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    for (const [e164, firstName] of [
      [ADA, 'Ada'],
      [BRAM, 'Bram'],
      [CLEO, 'Cleo'],
    ] as const)
      await o.contact(e164, ['informational', 'promotional'], { firstName });
  });
  afterEach(() => o.close());

  const bring = (text: string | Buffer, over: object = {}, key = 'list-one'): Promise<OptOutList> =>
    o.app.optOutLists.bring(
      o.admin,
      o.business,
      {
        origin: 'earlier provider',
        source: 'the export of our last provider',
        datedOn: '2030-03-12',
        name: 'gone.csv',
        base64: Buffer.from(text).toString('base64'),
        ...over,
      },
      key,
    );
  const now = async (): Promise<OptOutList | undefined> =>
    (await o.app.optOutLists.list(o.business, { limit: 10 })).items[0];

  it('opt everybody on them out of everything, also who is nobody’s contact yet, with the line that says it', async () => {
    const made = await bring(`phone,when\n212-555-0110,2030-03-12\n${STRANGER}\nnonsense 5`);
    expect([made.lines, made.refused, made.refusals.map((x) => x.line), made.done]).toEqual([4, 1, [4], false]);
    // Nobody is offered to call it off.
    expect(await o.app.platform.jobs.listed(o.business)).toEqual([]);
    await o.settle();
    expect(await o.state(ADA)).toEqual(OUT);
    expect(await o.state(BRAM)).toEqual(GRANTED);
    const done = await now();
    expect([done?.people, done?.already, done?.agreedSince, done?.done]).toEqual([2, 0, 0, true]);
    const [event] = (await o.app.ledgerPages.page(o.business, { e164: ADA, limit: 1 })).items;
    expect([event?.kind, event?.how, event?.recordedBy]).toEqual(['revoked', 'imported record', o.admin.id]);
    expect(event?.evidence).toEqual(
      jasmine.objectContaining({ line: '2', words: '212-555-0110,2030-03-12', fileSha256: made.sha256 }),
    );
    // Whoever becomes a contact later had left before.
    await o.contact(STRANGER, [], { firstName: 'Later' });
    expect(await o.state(STRANGER)).toEqual(OUT);
  });

  it('say what a carrier said as the carrier’s', async () => {
    await bring(ADA, { origin: 'carrier', source: 'the monthly list' });
    await o.settle();
    expect((await o.app.ledgerPages.page(o.business, { e164: ADA, limit: 1 })).items[0]?.how).toBe('carrier');
  });

  it('leave in who agreed after their no, and count them; only the person comes back', async () => {
    // They agreed in the days before the office opened; these had left long before that, or on the day of the list.
    await bring(`${ADA},2020-01-05\n${BRAM}`, { datedOn: '2030-03-12' });
    await o.settle();
    expect(await o.state(ADA)).toEqual({ ...GRANTED, conversational: 'revoked' });
    expect(await o.state(BRAM)).toEqual(OUT);
    expect([(await now())?.people, (await now())?.agreedSince]).toEqual([2, 1]);
    await o.text(BRAM, 'START');
    await o.settle();
    expect((await o.state(BRAM)).promotional).toBe('granted');
  });

  it('record a no once: who is out of everything already is counted, and the same file again changes nothing', async () => {
    await o.text(ADA, 'STOP');
    await o.settle();
    const text = `${ADA}\n${BRAM}\n${BRAM}`;
    const first = await bring(text);
    expect((await bring(text)).id).toBe(first.id);
    await o.settle();
    expect([(await now())?.people, (await now())?.already]).toEqual([1, 1]);
    await bring(text, {}, 'list-two');
    await o.settle();
    expect([(await now())?.people, (await now())?.already]).toEqual([0, 2]);
    expect((await o.app.ledgerPages.page(o.business, { e164: BRAM, kind: 'revoked', limit: 10 })).items.length).toBe(1);
  });

  it('are gone on with where the application ended in the middle, nobody twice and nobody left out', async () => {
    const many = Array.from({ length: 900 }, (_, i) => `+1213555${String(1000 + i)}`);
    await bring([ADA, ...many].join('\n'));
    const { ledger } = o.app;
    const append = ledger.append.bind(ledger);
    let lots = 0;
    spyOn(ledger, 'append').and.callFake((...of) =>
      ++lots === 2 ? Promise.reject(new Error('The disk is full.')) : append(...of),
    );
    await o.settle();
    const broken = await now();
    expect(broken?.people).toBeGreaterThan(0);
    expect(broken?.people).toBeLessThan(901);
    expect(await o.state(ADA)).toEqual(OUT);
    await o.again();
    await o.later(60_000);
    const done = await now();
    expect([done?.people, done?.already, done?.done]).toEqual([901, 0, true]);
    const [{ n } = { n: 0 }] = await o.app.platform.db.all<{ n: number }>(
      "SELECT count(*) AS n FROM consent_event WHERE kind = 'revoked'",
    );
    expect(n).toBe(901);
  });

  it('stop at once what is on its way to whoever is on them', async () => {
    const draft = await o.draft({ purpose: 'promotional' });
    const before = (await o.app.preview.preview(o.business, draft)).counts;
    expect(before.pass).toBe(3);
    await bring(CLEO);
    await o.settle();
    expect((await o.app.preview.preview(o.business, draft)).counts.pass).toBe(2);
  });

  it('are refused where they are no text, hold no number, or are of a day to come, and nothing is recorded', async () => {
    await expectAsync(bring(Buffer.from([0xff, 0xfe, 0x32, 0x00, 0x31, 0x00]))).toBeRejectedWithError(
      /No number was found|no text/,
    );
    await expectAsync(bring(Buffer.concat([Buffer.from(`${ADA}\n`), Buffer.from([0xff])]))).toBeRejectedWithError(
      /no text in UTF-8/,
    );
    await expectAsync(bring('Dear all,\nplease find attached')).toBeRejectedWithError(/No number was found/);
    await expectAsync(bring(ADA, { datedOn: '2030-03-13' })).toBeRejectedWithError(/still to come/);
    await o.settle();
    expect(await o.state(ADA)).toEqual(GRANTED);
    expect(await now()).toBeUndefined();
  });

  it('are kept as they were handed in; each look at them is on the trail, and each event leads there', async () => {
    const made = await bring(`${ADA}\r\n`);
    await o.settle();
    const file = await o.app.optOutLists.document(o.admin, o.business, made.id);
    expect([file.name, file.bytes.toString()]).toEqual(['gone.csv', `${ADA}\r\n`]);
    const door = await o.door();
    const v = await door.visitor(o.admin.id);
    const [event] = (await o.app.ledgerPages.page(o.business, { e164: ADA, limit: 1 })).items;
    const basis = await v.ask('GET', `/businesses/${o.business}/ledger/${event?.id ?? ''}/basis`);
    expect(basis.body).toEqual(jasmine.objectContaining({ optOutList: { id: made.id, title: 'gone.csv' } }));
    await door.close();
    const trail = await o.app.platform.db.all<{ action: string }>(
      "SELECT action FROM audit WHERE object_kind = 'opt-out list' ORDER BY n",
    );
    expect(trail.map((x) => x.action)).toEqual(['opt-outs brought in', 'opt-outs looked at']);
  });
});
