import { GatewayBusy, GatewayDown, GatewayRefused } from '@long-gate/gateways';
import type { Door, Visitor } from '../../testing/door.js';
import { Office } from '../../testing/office.js';

describe('what a request says wrongly', () => {
  let o: Office;
  let door: Door;
  let staff: Visitor;
  beforeEach(async () => {
    o = await Office.open();
    door = await o.door();
    staff = await door.visitor(o.admin.id);
  });
  afterEach(async () => {
    await door.close();
    await o.close();
  });

  it('is said in words for people, and by its path for programs', async () => {
    const at = `/businesses/${o.business}/registration/brand`;
    const dossier = (await staff.ask('GET', `/businesses/${o.business}/registration`)).body as {
      brand?: { version: number; body: Record<string, unknown> };
    };
    const { version, body } = dossier.brand ?? { version: 0, body: {} };
    const place = { what: 'depot', street: '2 Slip Road', city: 'Aldersund', state: 'NJ', postalCode: '0'.repeat(99) };
    const wrong = { ...body, regions: ['NJ', 'Jersey'], moreAddresses: [place] };
    const answer = await staff.ask('PUT', at, { body: wrong }, { 'if-match': `"${version}"` });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain('regions 2: Write each state by its two letters, such as NJ.');
    expect(answer.body.detail).toMatch(/more addresses 1, postal code: Longer than \d+ characters\./);
    expect(answer.body.detail).not.toContain('body.');
    expect((answer.body['fields'] as { field: string }[]).map((f) => f.field)).toEqual(
      jasmine.arrayWithExactContents(['body.regions.1', 'body.moreAddresses.0.postalCode']),
    );
  });

  it('is told apart from what a service outside says, and from its silence', async () => {
    const { exchange } = o.outside;
    const search = `/businesses/${o.business}/exchange?where=212`;
    for (const [error, status, words] of [
      [new GatewayDown('no answer'), 503, /does not answer\. Try again in a while/],
      [new GatewayBusy('Later.', 1_500), 503, /is busy\. Try again in 2 seconds\./],
      [new GatewayRefused('No such area code.', 'refused'), 422, /refused this: No such area code\./],
    ] as const) {
      exchange.search = () => Promise.reject(error);
      const answer = await staff.ask('GET', search);
      expect([answer.status, answer.body.detail]).toEqual([status, jasmine.stringMatching(words)]);
    }
  });

  it('is said where it is no number that is to be kept aside', async () => {
    const answer = await staff.ask('POST', `/businesses/${o.business}/basket`, { e164: 'STOP', kind: 'local' });
    expect([answer.status, answer.body.detail]).toEqual([422, jasmine.stringContaining('such as +12125550110')]);
  });

  it('is said in words for people also where the contract has none of its own', async () => {
    const contacts = `/businesses/${o.business}/contacts?q=${'a'.repeat(81)}`;
    expect((await staff.ask('GET', contacts)).body.detail).toBe('search: At most 80 characters.');
    const limit = `/businesses/${o.business}/contacts?limit=many`;
    expect((await staff.ask('GET', limit)).body.detail).toBe('limit: Give a number.');
  });
});
