import { numberTable } from '../numbers/model.js';
import { Office } from '../../testing/office.js';

const GREETING =
  'Heron Lane Bakery. To get order texts, a few a week, press 1. Rates may apply; reply STOP at any time to end, HELP for help. Terms and privacy at heron.example.';

describe('calls to a texting number', () => {
  let o: Office;
  const CALLER = '+12125550123';
  beforeEach(async () => {
    o = await Office.open();
    await o.app.platform.db.write((w) => w.run(`UPDATE number SET capabilities = '["send","receive","voice"]'`));
  });
  afterEach(() => o.close());

  const set = (over: object): Promise<void> =>
    o.app.calls.set(o.admin, o.business, o.number, {
      way: 'greet',
      forwardTo: '',
      greeting: GREETING,
      textBack: 'Heron Lane: we open at 7. What can we do for you?',
      invites: true,
      list: 'Callers',
      ...over,
    });
  const call = (pressed = '', key = 'call-1') =>
    o.hear({ kind: 'call.inbound', key, from: CALLER, to: o.ours, pressed });

  it('shows in the Inbox, and the caller is texted back through the gate', async () => {
    await o.contact(CALLER, []);
    await set({});
    await call();
    const { thread, messages } = await o.app.inbox.thread(o.business, CALLER);
    expect([thread.standing, thread.handled, thread.unread])
      .withContext('texted back')
      .toEqual(['by itself', 'call', 0]);
    expect(messages.map((m) => m.text)).toEqual([
      'Called and heard the greeting.',
      'Heron Lane: we open at 7. What can we do for you?',
    ]);
    expect(o.sentTo(CALLER)).toEqual(['Heron Lane: we open at 7. What can we do for you?']);
    expect((await o.state(CALLER)).informational)
      .withContext('calling is no consent')
      .toBe('none');
  });

  it('keeps pressing 1 as consent with the greeting’s exact words, once, and nothing more than informational', async () => {
    await o.contact(CALLER, []);
    await set({});
    await call('1');
    await o.hear({ kind: 'call.inbound', key: 'call-1', from: CALLER, to: o.ours, pressed: '1' });
    const [event] = (await o.app.ledgerPages.page(o.business, { e164: CALLER, limit: 5 })).items;
    expect([event?.how, event?.disclosure]).toEqual(['phone call', GREETING]);
    const state = await o.state(CALLER);
    expect([state.informational, state.promotional]).toEqual(['granted', 'none']);
    expect(await o.listId('Callers')).not.toBe('');
    expect((await o.app.ledger.verify(o.business)).ok).toBeTrue();
  });

  it('says nothing about whether a line can be texted, and texts back once a caller and interval', async () => {
    await set({});
    o.outside.lines.lookup = (e164) =>
      Promise.resolve({
        e164,
        lineType: 'landline' as const,
        carrier: 'Harth Telephone',
        carrierKind: 'A' as const,
        reachable: true,
        askedAt: o.now,
      });
    await call('', 'from a landline');
    expect(o.sentTo(CALLER)).withContext('a call proves no mobile').toEqual([]);
    await o.contact(CALLER, []);
    for (const key of ['a', 'b', 'c']) await call('', key);
    expect(o.sentTo(CALLER).length).toBe(1);
    await o.later(13 * 3_600_000);
    await call('', 'tomorrow');
    expect(o.sentTo(CALLER).length).toBe(2);
  });

  it('offers pressing 1 only where the greeting tells all that people agree to', async () => {
    const said = (greeting: string): Promise<unknown> =>
      set({ greeting }).then(
        () => [],
        (e: unknown) => (e as { fields: unknown }).fields,
      );
    expect(await said(GREETING)).toEqual([]);
    expect(await said(GREETING.replace('Rates may apply; ', ''))).toEqual([
      { field: 'greeting', message: 'It does not say that rates may apply. Add “Message and data rates may apply.”' },
    ]);
    // One saved before this was asked is not taken for consent.
    await o.contact(CALLER, []);
    await o.app.platform.db.write(async (w) => {
      const number = await w.of(numberTable).findByPk(o.number, { rejectOnEmpty: true });
      await number.update({
        calls: number.calls.replace(/"greeting":"[^"]*"/, '"greeting":"Heron Lane Bakery. Press 1 for texts."'),
      });
    });
    await call('1');
    expect((await o.state(CALLER)).informational).toBe('none');
  });

  it('does not text back somebody who has opted out of being answered', async () => {
    await o.contact(CALLER, ['informational']);
    await o.text(CALLER, 'STOP');
    const before = o.sentTo(CALLER).length;
    await set({});
    await call();
    expect(o.sentTo(CALLER).length).toBe(before);
  });

  it('does not invite where nothing was set up to invite, and forwards where it was', async () => {
    await o.contact(CALLER, []);
    await set({ way: 'forward', forwardTo: '609-555-0110' });
    await call('1');
    const { thread, messages } = await o.app.inbox.thread(o.business, CALLER);
    expect(messages.map((m) => m.text)).toEqual(['Called; put through to +16095550110.']);
    expect(thread.standing).toBe('by itself');
    expect((await o.state(CALLER)).informational).toBe('none');
    await expectAsync(set({ way: 'forward', forwardTo: o.ours })).toBeRejectedWithError(/itself/);
  });
});
