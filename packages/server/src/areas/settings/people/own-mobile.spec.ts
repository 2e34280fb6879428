import { GatewayRefused } from '@long-gate/gateways';
import { Office } from '../../../testing/office.js';

const MINE = '+12015550191';
const OTHER = '+12015550192';

describe('a person’s own mobile', () => {
  let o: Office;
  beforeEach(async () => (o = await Office.open()));
  afterEach(() => o.close());
  const balance = async (): Promise<number> => (await o.app.businesses.row(o.app.platform.db, o.business)).balance;
  const set = (mobile: string, wish: string) => o.app.ownMobile.set(o.admin, mobile, o.business, '192.0.2.7', wish);
  const mine = () => o.app.ownMobile.of(o.app.platform.db, o.admin.id);

  it('waits for no code that the network does not take, keeps the one before, and gets back what it cost', async () => {
    let said = '';
    const send = spyOn(o.outside.network, 'sendCode').and.callFake((_key, _to, text) => {
      said = text;
      return Promise.resolve();
    });
    await set(MINE, 'wish-1');
    await o.settle();
    await o.app.ownMobile.confirm(o.admin, /\d{6}/.exec(said)?.[0] ?? '');
    const before = await balance();
    send.and.rejectWith(new GatewayRefused('No mobile.', 'landline'));
    await set(OTHER, 'wish-2');
    expect(await balance()).toBeLessThan(before);
    expect(await mine()).toEqual({ mobile: MINE, pending: OTHER });
    await o.settle();
    expect(await balance()).toBe(before);
    expect(await mine()).toEqual({ mobile: MINE, pending: '' });
    await expectAsync(o.app.ownMobile.confirm(o.admin, '000000')).toBeRejectedWithError(/a new one comes/);
    const trail = await o.app.platform.db.all<{ actor_id: string; after: string; object_id: string }>(
      `SELECT actor_id, after, object_id FROM audit WHERE action = 'code to own mobile not sent'`,
    );
    expect(trail.map((t) => [t.actor_id, t.object_id, t.after.includes('No mobile.')])).toEqual([
      ['system', o.admin.id, true],
    ]);
  });

  it('still waits for the code asked for since', async () => {
    const before = await balance();
    const { mobile } = await mine();
    let asked = 0;
    spyOn(o.outside.network, 'sendCode').and.callFake(() =>
      ++asked === 1 ? Promise.reject(new GatewayRefused('No mobile.', 'landline')) : Promise.resolve(),
    );
    await set(OTHER, 'wish-1');
    const paid = before - (await balance());
    await set(MINE, 'wish-2');
    await o.settle();
    expect(await mine()).toEqual({ mobile, pending: MINE });
    expect(await balance()).toBe(before - paid);
  });
});
