import { until } from '../running.js';
import { Desk } from './desk.js';
import { Screen } from './screen.js';

const OURS = '+12015550117';
const WRITTEN = '+1 201-555-0117';

describe('a number that somebody wants to take, and fees that are not paid', () => {
  let desk: Desk;
  let s: Screen;
  beforeAll(async () => {
    desk = await Desk.open();
    s = desk.screen;
  });
  afterAll(() => desk.close());

  const numberOf = async (name: string, e164: string): Promise<{ id: string; state: string }> => {
    const { items } = await desk.person.ok<{ items: { id: string; e164: string; state: string }[] }>(
      'GET',
      `/businesses/${desk.business(name)}/numbers`,
    );
    const number = items.find((n) => n.e164 === e164);
    if (!number) throw new Error(`no number ${e164}`);
    return number;
  };
  const docket = async (): Promise<void> =>
    desk.at('Saltmarsh Ferries', `numbers?open=${(await numberOf('Saltmarsh Ferries', OURS)).id}`);

  /** The link to agree by, in the mail to the business. */
  async function unlockLink(): Promise<string> {
    let link = '';
    await until(async () => {
      const mails = (await (await fetch(`${desk.running.outside}/mail/messages`)).json()) as { text: string }[];
      link = mails.map((m) => /\/unlock\/\S+/.exec(m.text)?.[0] ?? '').find((x) => x !== '') ?? '';
      return link !== '';
    });
    return desk.running.url + link;
  }

  it('is unlocked by a wish, the answer to a mail and a second yes after a day, each on Today with its day', async () => {
    await docket();
    await s.press('Unlock…');
    await s.see('Nothing changes before another administrator');
    await s.press('Ask for it');
    await s.see('Unlocking asked for by Maren Oakhurst');
    await desk.at('Saltmarsh Ferries', 'today');
    await s.see(`asks to unlock ${WRITTEN}`);
    await s.see('unanswered, it stays locked');
    const context = await desk.browser.createBrowserContext();
    const business = await Screen.open(context, await unlockLink(), 390);
    await business.see(`May ${WRITTEN} be unlocked?`);
    await business.press('Agree to unlock it');
    await business.see('You agreed');
    await context.close();
    await desk.person.jump('day');
    await desk.person.jump('hour');
    await docket();
    await s.see('The business agreed by mail.');
    await s.press('Say yes, unlock it');
    await s.press('Unlock it');
    await s.see('Unlocked until');
    await desk.at('Saltmarsh Ferries', 'today');
    await s.see(`${WRITTEN} is unlocked`);
  });

  it('stays where somebody locks it after another carrier has asked for it', async () => {
    const asked = async (): Promise<boolean> =>
      (
        await desk.person.ok<{ matters: { title: string }[] }>(
          'GET',
          `/businesses/${desk.business('Saltmarsh Ferries')}/today`,
        )
      ).matters.some((m) => m.title.includes('wants to take'));
    for (let i = 0; i < 30 && !(await asked()); i++) await desk.person.jump('hour');
    await desk.at('Saltmarsh Ferries', 'today');
    await s.see(`Cobalt Ridge Cellular wants to take ${WRITTEN} away`);
    await s.see('It is unlocked: refuse it or lock it before the deadline, or the number leaves.');
    await docket();
    await s.see('or it leaves. Deadline');
    await s.press('Lock it');
    await s.see('at the deadline it is refused by itself');
    await desk.person.jump('day', 3);
    await docket();
    await s.see('Cobalt Ridge Cellular asked for it');
    await s.see(': refused.');
    expect((await numberOf('Saltmarsh Ferries', OURS)).state).toBe('active');
  });

  it('says how long a balance lasts with the fees to come, and what is lost when once they are unpaid', async () => {
    await desk.at('Orrin Kiln', 'today');
    await s.see('The balance is 8.');
    await desk.at('Orrin Kiln', 'settings/money');
    await s.see('days left');
    const unpaid = async (): Promise<boolean> =>
      (
        await desk.person.ok<{ matters: { title: string }[] }>(
          'GET',
          `/businesses/${desk.business('Orrin Kiln')}/today`,
        )
      ).matters.some((m) => m.title.includes('unpaid'));
    for (let i = 0; i < 100 && !(await unpaid()); i++) await desk.person.jump('day');
    await desk.at('Orrin Kiln', 'today');
    await s.see('is unpaid');
    await s.see('tried again every hour');
    await s.press('unpaid');
    await s.fill('amount', '20');
    await s.press('Top up…');
    await s.tap('[data-yes]');
    await s.see('+20.00');
    await desk.person.jump('hour', 2);
    await desk.at('Orrin Kiln', 'today');
    await s.see('The balance is 19.');
    expect(await s.sees('is unpaid')).toBeFalse();
  });

  it('never showed an error in the browser', () => {
    expect(s.errors).toEqual([]);
  });
});
