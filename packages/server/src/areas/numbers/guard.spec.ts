import { Office } from '../../testing/office.js';

const DAY_MS = 86_400_000;

describe('numbers guarded against leaving', () => {
  let o: Office;
  let other: { id: string; name: string };
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());

  const guard = (actor = o.admin as { id: string; name: string }) => o.app.guard.get(actor, o.business, o.number);
  const change = (wish: 'ask to unlock' | 'say yes' | 'lock', actor = o.admin as { id: string; name: string }) =>
    o.app.guard.change(actor, o.business, o.number, wish);
  const ask = (key = 'out-1') =>
    o.hear({ kind: 'port-out.asked', key, e164: o.ours, carrier: 'Nimbrel Mobile', deadline: o.now + 2 * DAY_MS });
  const state = async (): Promise<string> => (await o.app.numbers.get(o.app.platform.db, o.business, o.number)).state;
  async function second(): Promise<void> {
    other = await o.person('Odette', 'administrator');
  }

  it('is locked by default, and unlocks only by a second person’s yes, for a week', async () => {
    await second();
    expect((await guard()).lock).toBe('locked');
    await change('ask to unlock');
    expect([(await guard()).mayConfirm, (await guard()).whyNot]).toEqual([
      false,
      'Another administrator has to say yes; you asked for it yourself.',
    ]);
    await expectAsync(change('say yes')).toBeRejectedWithError(/Another administrator/);
    expect((await guard(other)).mayConfirm).toBeTrue();
    await change('say yes', other);
    expect((await guard()).lock).toBe('unlocked');
    await o.later(7 * DAY_MS + 1000);
    expect((await guard()).lock).toBe('locked');
  });

  it('is guarded also while its release can be taken back', async () => {
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    await ask();
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    await o.app.releases.takeBack(o.admin, o.business, o.number);
    expect(await state()).toBe('active');
  });

  it('is gone where the refusal came too late for the network', async () => {
    await ask();
    await o.app.guard.refuse(o.admin, o.business, o.number, 'out-1');
    for (let i = 0; i < 2; i++) await o.hear({ kind: 'port-out.left', key: 'out-1' });
    const gone = await o.app.numbers.get(o.app.platform.db, o.business, o.number);
    expect([gone.state, gone.ended]).toEqual(['released', 'ported away']);
    const lost = (await o.app.today.get(o.business)).matters.filter((m) => m.title.includes('is lost: ported away'));
    expect(lost.length).toBe(1);
  });

  it('is gone for good where it is taken away after it was released: nobody takes it back, or gives it back', async () => {
    await second();
    await change('ask to unlock');
    await change('say yes', other);
    await ask();
    await o.app.releases.release(o.admin, o.business, o.number, '0142');
    await o.hear({ kind: 'port-out.left', key: 'out-1' });
    const gone = await o.app.numbers.get(o.app.platform.db, o.business, o.number);
    expect([gone.ended, gone.releaseFinalAt]).toEqual(['ported away', null]);
    await expectAsync(o.app.releases.takeBack(o.admin, o.business, o.number)).toBeRejectedWithError(/is ported away/);
    await o.later(8 * DAY_MS);
    expect(o.outside.givenBack).toEqual([]);
  });

  /** The only administrator asks, waits a day, and the business agrees by mail. */
  async function unlockAlone(): Promise<void> {
    await change('ask to unlock');
    await o.app.guard.answerMail(tokenOf(await o.linkMailedTo('office@heron.example')), true);
    await o.later(DAY_MS + 1000);
    await change('say yes');
  }
  const tokenOf = (link: string): string => link.replace('/unlock/', '');

  it('makes an only administrator wait a day and for the answer to the mail', async () => {
    await change('ask to unlock');
    await expectAsync(change('say yes')).toBeRejectedWithError(/a day’s wait and the answer to the mail/);
    await o.later(DAY_MS + 1000);
    await expectAsync(change('say yes')).toBeRejectedWithError(/it takes the answer to the mail/);
    const token = tokenOf(await o.linkMailedTo('office@heron.example'));
    expect(await o.app.guard.seeMail(token)).toEqual({
      business: 'Heron Lane Bakery LLC',
      number: '+1 201-555-0142',
      askedBy: 'Wren Holloway',
    });
    await o.app.guard.answerMail(token, true);
    await expectAsync(o.app.guard.answerMail(token, true)).toBeRejectedWith(jasmine.objectContaining({ status: 404 }));
    await change('say yes');
    expect((await guard()).lock).toBe('unlocked');
    await change('lock');
    expect((await guard()).lock).toBe('locked');
  });

  it('does not take the mail’s answer without the day, and stays locked where the business says no', async () => {
    await change('ask to unlock');
    await o.app.guard.answerMail(tokenOf(await o.linkMailedTo('office@heron.example')), true);
    await expectAsync(change('say yes')).toBeRejectedWithError(/it takes a day’s wait\./);
    await change('lock');
    await change('ask to unlock');
    expect((await guard()).answered)
      .withContext('an earlier answer counts for nothing')
      .toBeFalse();
    await o.app.guard.answerMail(tokenOf(await o.linkMailedTo('office@heron.example')), false);
    expect((await guard()).lock).toBe('locked');
    await o.later(DAY_MS + 1000);
    await expectAsync(change('say yes')).toBeRejectedWithError(/Nobody has asked/);
  });

  it('asks the business at an address that has stood for a day, and tells the earlier one that it was changed', async () => {
    const edit = (contactEmail: string) => o.editBusiness({ contactEmail });
    await edit('wren.elsewhere@heron.example');
    await o.settle();
    expect(o.outside.mails.map((m) => m.to)).toEqual(['office@heron.example']);
    await expectAsync(change('ask to unlock')).toBeRejectedWithError(/less than a day ago/);
    await o.later(DAY_MS + 1000);
    await change('ask to unlock');
    await edit('');
    await change('lock');
    await expectAsync(change('ask to unlock')).toBeRejectedWithError(/contact e-mail is asked/);
  });

  it('takes a second yes only of one who has been an administrator for a day', async () => {
    await second();
    const fresh = await o.person('Linnet', 'coordinator');
    await change('ask to unlock');
    await expectAsync(change('say yes', fresh)).toBeRejectedWithError(/Only an administrator/);
    await o.app.people.changeRole(o.admin, o.business, fresh.id, 'administrator');
    expect((await guard(fresh)).mayConfirm).toBeFalse();
    await expectAsync(change('say yes', fresh)).toBeRejectedWithError(/administrator for a day/);
    await o.later(DAY_MS - 60_000);
    await expectAsync(change('say yes', fresh)).toBeRejectedWithError(/administrator for a day/);
    // Taking the role away and giving it back begins the day anew.
    await o.app.people.changeRole(o.admin, o.business, fresh.id, 'viewer');
    await o.app.people.changeRole(o.admin, o.business, fresh.id, 'administrator');
    await o.later(120_000);
    await expectAsync(change('say yes', fresh)).toBeRejectedWithError(/administrator for a day/);
    await o.later(DAY_MS);
    await change('say yes', fresh);
    expect((await guard()).lock).toBe('unlocked');
  });

  it('raises an alarm with a deadline, and refuses by itself what is locked', async () => {
    await ask();
    const { matters } = await o.app.today.get(o.business);
    const alarm = matters.find((m) => m.title.includes('Nimbrel Mobile wants to take'));
    expect([alarm?.weight, alarm?.due]).toEqual(['stop', (await guard()).attempts[0]?.deadline ?? 0]);
    await o.app.platform.db.write((w) => w.run(`UPDATE job SET state = 'done' WHERE kind <> 'port-out.deadline'`));
    expect((await o.app.platform.engine.next())?.what).toBe('the deadline of a wish to take a number away');
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    expect(await state()).toBe('active');
  });

  it('lets an unlocked number go at the deadline, unless somebody refuses before', async () => {
    await unlockAlone();
    await ask('out-1');
    await o.app.guard.refuse(o.admin, o.business, o.number, 'out-1');
    await o.app.guard.refuse(o.admin, o.business, o.number, 'out-1');
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    await ask('out-2');
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused', 'out-2 let through']);
    await o.hear({ kind: 'port-out.left', key: 'out-2' });
    expect(await state()).toBe('released');
  });

  it('goes by the lock as it stands at the deadline: locking after the carrier asked holds the number', async () => {
    await unlockAlone();
    await ask('out-1');
    expect((await guard()).attempts[0]?.locked).toBeFalse();
    await change('lock');
    expect((await guard()).attempts[0]?.locked)
      .withContext('the lock of now')
      .toBeTrue();
    await o.later(2 * DAY_MS);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    expect(await state()).toBe('active');
  });

  it('can be locked until the last moment, and after it says that the number is on its way out', async () => {
    await unlockAlone();
    await ask('out-1');
    await o.later(2 * DAY_MS - 30_000);
    expect(o.outside.portOutAnswers).withContext('nothing is let through before the deadline').toEqual([]);
    await change('lock');
    await o.later(30_000);
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused']);
    await unlockAlone();
    await ask('out-2');
    await o.later(2 * DAY_MS);
    await expectAsync(o.app.guard.refuse(o.admin, o.business, o.number, 'out-2')).toBeRejectedWithError(
      /deadline has passed/,
    );
    await change('lock');
    expect(o.outside.portOutAnswers).toEqual(['out-1 refused', 'out-2 let through']);
  });

  const matter = async (words: string) =>
    (await o.app.today.get(o.business)).matters.find((m) => m.title.includes(words));

  it('stands on the second person’s Today with its deadline: a wish to unlock, and a number that is unlocked', async () => {
    await second();
    await change('ask to unlock');
    expect((await matter('asks to unlock +1 201-555-0142'))?.due ?? 0).toBeCloseTo(o.now + 7 * DAY_MS, -4);
    await change('say yes', other);
    expect(await matter('asks to unlock')).toBeUndefined();
    expect((await matter('is unlocked'))?.due ?? 0).toBeCloseTo(o.now + 7 * DAY_MS, -4);
    await change('lock');
    expect(await matter('unlock')).toBeUndefined();
  });

  it('lets a wish lapse that nobody answers in a week', async () => {
    await second();
    await change('ask to unlock');
    await o.later(7 * DAY_MS);
    expect((await guard()).lock).toBe('locked');
    expect(await matter('asks to unlock')).toBeUndefined();
    await expectAsync(change('say yes', other)).toBeRejectedWithError(/Nobody has asked/);
  });

  it('says for good of a number that left that it did, and lets nothing be sent from it', async () => {
    await o.app.numbers.setDefault(o.admin, o.business, 'informational', o.number);
    await unlockAlone();
    await ask('out-1');
    await o.later(2 * DAY_MS);
    await o.hear({ kind: 'port-out.left', key: 'out-1' });
    expect((await matter('is lost: ported away'))?.weight).toBe('stop');
    await o.later(60 * DAY_MS);
    expect(await matter('is lost')).toBeUndefined();
    const gone = await o.app.numbers.get(o.app.platform.db, o.business, o.number);
    expect([gone.ended, gone.nextStep.action, gone.defaultFor]).toEqual(['ported away', 'bring', []]);
    expect(gone.nextStep.why).toContain('ported away to Nimbrel Mobile');
    expect([gone.clearance, gone.deciding?.result]).toEqual(['number-ended', 'stop']);
  });

  it('guards only what can be ported away: no short code', async () => {
    await o.app.platform.db.write((w) => w.run(`UPDATE number SET kind = 'short code', e164 = '04211'`));
    await expectAsync(change('ask to unlock')).toBeRejectedWithError(/cannot be ported away/);
    await expectAsync(o.app.guard.pin(o.admin, o.business, o.number)).toBeRejectedWithError(/has no PIN/);
  });

  it('keeps the release PIN sealed, the same at every look, and each look on the record', async () => {
    const pin = await o.app.guard.pin(o.admin, o.business, o.number);
    expect(await o.app.guard.pin(o.admin, o.business, o.number)).toBe(pin);
    const rows = JSON.stringify(await o.app.platform.db.all('SELECT release_pin FROM number'));
    expect(rows).not.toContain(pin);
    const looks = await o.app.platform.db.one<{ n: number }>(
      `SELECT count(*) AS n FROM audit WHERE action = 'release PIN looked at'`,
    );
    expect(looks?.n).toBe(2);
  });
});
