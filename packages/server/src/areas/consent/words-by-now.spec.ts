import { GatewayBusy, GatewayDown } from '@long-gate/gateways';
import { Office } from '../../testing/office.js';
import { BOTH_KINDS, heronPage } from '../../testing/opt-in-page.js';

const ADA = '+12125550110';
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

describe('what is said by nobody in person, and could not leave when it was said', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    await o.app.pages.add(o.admin, o.business, heronPage(o.number, { purposes: BOTH_KINDS }));
  });
  afterEach(() => o.close());

  const busy = (): void => void (o.outside.always = () => new GatewayBusy('Later.', 30_000));
  const free = async (): Promise<string[]> => {
    o.outside.always = null;
    await o.later(3 * MINUTE);
    return o.sentTo(ADA);
  };
  async function fillIn(...purposes: ('informational' | 'promotional')[]): Promise<void> {
    const { words } = await o.app.publicPages.publicPage('heron');
    const form = {
      phone: ADA,
      firstName: 'Ada',
      purposes: purposes.length > 0 ? purposes : ['informational' as const],
      words,
    };
    await o.app.publicPages.optIn('heron', form, { ip: '192.0.2.9', agent: 'somebody' });
    await o.settle();
  }

  it('asks for a YES later, where it is still wanted', async () => {
    busy();
    await fillIn();
    expect(await free()).toEqual([jasmine.stringContaining('reply YES to get notices')]);
    await o.text(ADA, 'YES');
    expect((await o.state(ADA)).informational).toBe('granted');
  });

  it('asks nobody for a YES who has said STOP since', async () => {
    busy();
    await fillIn();
    await o.text(ADA, 'STOP');
    expect(await free()).toEqual(['Heron Lane: you are out and will get no more texts from us.']);
  });

  it('asks anew on the same day, where the question never left', async () => {
    busy();
    await fillIn();
    await o.text(ADA, 'STOP');
    await free();
    await fillIn();
    expect(o.sentTo(ADA).slice(1)).toEqual([jasmine.stringContaining('reply YES to get notices')]);
    await o.text(ADA, 'YES');
    expect((await o.state(ADA)).informational).toBe('granted');
  });

  it('asks nobody who has said STOP while nobody knew whether the question had left', async () => {
    o.outside.nextSend = new GatewayDown('no answer');
    await fillIn();
    await o.text(ADA, 'STOP');
    expect(await free()).toEqual(['Heron Lane: you are out and will get no more texts from us.']);
  });

  it('tells nobody that they are out who has come back since', async () => {
    await o.contact(ADA, ['informational']);
    busy();
    for (const said of ['STOP', 'START']) await o.text(ADA, said);
    expect(await free()).toEqual([jasmine.stringContaining('you are back in for notices')]);
    expect((await o.state(ADA)).informational).toBe('granted');
  });

  it('tells nobody that they are in who has left since', async () => {
    await fillIn();
    busy();
    for (const said of ['YES', 'STOP']) await o.text(ADA, said);
    const [asked, ...after] = await free();
    expect(asked).toContain('reply YES');
    expect(after).toEqual(['Heron Lane: you are out and will get no more texts from us.']);
  });

  it('asks for what is left of a question of which one kind was refused while it waited', async () => {
    busy();
    await fillIn('informational', 'promotional');
    await o.app.replies.recordWish(o.admin, o.business, {
      e164: ADA,
      purposes: ['promotional'],
      how: 'phone call',
      words: 'No offers, please.',
    });
    expect(await free()).toEqual([
      'Heron Lane: reply YES to get notices (up to four a week) by text. Msg & data rates may apply. HELP for help, STOP to end. Terms: https://heron.example/terms',
    ]);
    await o.text(ADA, 'YES');
    const { informational, promotional } = await o.state(ADA);
    expect([informational, promotional]).toEqual(['granted', 'revoked']);
  });

  it('asks nobody for a YES at night who filled in the page by day', async () => {
    busy();
    await fillIn();
    await o.later(10 * HOUR);
    expect(await free()).toEqual([]);
    await o.later(9 * HOUR);
    expect(o.sentTo(ADA)).toEqual([]);
    await o.later(HOUR);
    expect(o.sentTo(ADA)).toEqual([jasmine.stringContaining('reply YES to get notices')]);
    await o.text(ADA, 'YES');
    expect((await o.state(ADA)).informational).toBe('granted');
  });

  it('asks at night whoever fills in the page at night', async () => {
    await o.later(10 * HOUR);
    busy();
    await fillIn();
    await o.later(50 * MINUTE);
    expect(await free()).toEqual([jasmine.stringContaining('reply YES to get notices')]);
  });

  it('answers HELP also to somebody who has left since', async () => {
    await o.contact(ADA, ['informational']);
    busy();
    for (const said of ['HELP', 'STOP']) await o.text(ADA, said);
    expect((await free()).sort()).toEqual([
      'Heron Lane: write to office@heron.example.',
      'Heron Lane: you are out and will get no more texts from us.',
    ]);
  });
});
