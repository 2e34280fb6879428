import { Office } from '../../testing/office.js';

describe('opening the account', () => {
  let o: Office;
  beforeEach(async () => {
    o = await Office.open();
    await o.app.platform.db.write((w) =>
      w.run(
        `UPDATE business SET account_state = 'provisional', street = '9 Mill Street', city = 'Quillmere', state = 'NJ', postal_code = '07030', contact_name = 'Wren Holloway', contact_email = 'office@heron.example'`,
      ),
    );
  });
  afterEach(() => o.close());

  const row = () => o.app.businesses.row(o.app.platform.db, o.business);
  const open = (keep = false): Promise<void> => o.app.account.open(o.admin, o.business, keep);
  const told = (sql: string): Promise<void> => o.app.platform.db.write((w) => w.run(sql));

  it('asks for tax status and a first top-up, each in words', async () => {
    await expectAsync(open()).toBeRejectedWith(
      jasmine.objectContaining({ fields: [{ field: 'taxStatus', message: 'This is missing.' }] }),
    );
    await told(`UPDATE business SET tax_status = 'taxable', balance = 0`);
    await expectAsync(open()).toBeRejectedWithError(/top up a first time/);
  });

  it('offers the post’s spelling, takes one’s own where it is kept on purpose, and refuses what is no address', async () => {
    await told(`UPDATE business SET tax_status = 'taxable'`);
    o.outside.addresses.check = (a) => Promise.resolve({ verdict: 'better', better: { ...a, street: '9 Mill Road' } });
    await expectAsync(open()).toBeRejectedWithError(/9 Mill Road/);
    o.outside.addresses.check = (a) => Promise.resolve({ verdict: 'unknown', better: a });
    await expectAsync(open(true)).toBeRejectedWithError(/no such address/);
    o.outside.addresses.check = (a) => Promise.resolve({ verdict: 'better', better: a });
    await open(true);
    expect((await row()).account_state).toBe('in review');
  });

  it('says that it is held for review wherever that matters, until it is open', async () => {
    await told(`UPDATE business SET tax_status = 'exempt'`);
    await open();
    await open();
    const keys = await o.app.platform.db.all<{ key: string }>(`SELECT key FROM outbox WHERE kind = 'account.open'`);
    expect(keys.length).toBe(1);
    const key = keys[0]?.key ?? '';
    await o.hear({ kind: 'account.held', key, reason: 'Held for review: some hours.' });
    expect([(await row()).account_state, (await row()).account_note]).toEqual([
      'in review',
      'Held for review: some hours.',
    ]);
    const { matters } = await o.app.today.get(o.business);
    expect(matters.some((m) => m.detail === 'Held for review: some hours.')).toBeTrue();
    await expectAsync(o.buy(['+15515550101'], 'k')).toBeRejectedWithError(/still looks at the account/);
    await o.hear({ kind: 'account.opened', key });
    expect([(await row()).account_state, (await row()).account_note]).toEqual(['open', '']);
  });
});
