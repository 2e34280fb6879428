import type { Address, Business } from '@long-gate/contracts';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import { businessById, saveBusiness } from './business-store.js';
import type { Businesses, BusinessRow } from './businesses.js';

/** The account with the provider: what opening it asks for, and the provider's review. */
export class Account {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
  ) {
    p.outbox.carry('account.open', z.object({ legalName: z.string() }), {
      deliver: (key, b) => p.gateways.registrar.openAccount(key, b.legalName),
      refused: async (w, key, _b, error) => this.setState(w, key.split(':')[0] ?? '', 'provisional', error.message),
    });
    p.feed.on('account.opened', (w, e) => this.setState(w, e.key.split(':')[0] ?? '', 'open', ''));
    p.feed.on('account.held', (w, e) => this.setState(w, e.key.split(':')[0] ?? '', 'in review', e.reason));
  }

  /** Asks whether there is such an address, and how the post spells it. */
  async checkAddress(businessId: string): Promise<{ verdict: 'good' | 'better' | 'unknown'; better: Address }> {
    const b = await this.businesses.row(this.p.db, businessId);
    return this.p.gateways.addresses.check({
      street: b.street,
      city: b.city,
      state: b.state,
      postalCode: b.postal_code,
    });
  }

  /**
   * Asks the provider to open the account: address, contact, tax status and a first top-up have to be there.
   * @param keepAddress the spelling as it is was kept on purpose.
   */
  async open(actor: Actor, id: string, keepAddress: boolean): Promise<void> {
    const before = await this.businesses.row(this.p.db, id);
    if (before.account_state !== 'provisional') return;
    this.requireFacts(before);
    const { verdict, better } = await this.checkAddress(id);
    if (verdict === 'unknown')
      throw refused('The post knows no such address. A street with its house number is needed, no post box.', [
        { field: 'street', message: 'Not known to the post.' },
      ]);
    if (verdict === 'better' && !keepAddress)
      throw refused(`The post spells it “${better.street}, ${better.city}, ${better.state} ${better.postalCode}”.`, [
        { field: 'street', message: `The post spells it “${better.street}”.` },
      ]);
    await this.p.db.write(async (w) => {
      const row = await this.businesses.row(w, id);
      if (row.account_state !== 'provisional') return;
      this.requireFacts(row);
      const before = await this.p.outbox.count(w, 'account.open', id);
      await saveBusiness(w, id, { accountState: 'in review', accountNote: '' });
      await this.p.outbox.put(w, 'account.open', `${id}:${before + 1}`, { legalName: row.legal_name });
      await record(w, this.p.clock, {
        businessId: id,
        actor,
        action: 'account opening asked for',
        objectKind: 'business',
        objectId: id,
        before: { accountState: 'provisional' },
        after: { accountState: 'in review', taxStatus: row.tax_status },
      });
      w.afterCommit(() => this.p.live.tell({ businessId: id, topic: 'settings' }));
    });
  }

  private requireFacts(row: BusinessRow): void {
    const missing = (
      [
        ['street', row.street],
        ['city', row.city],
        ['state', row.state],
        ['postalCode', row.postal_code],
        ['contactName', row.contact_name],
        ['contactEmail', row.contact_email],
        ['taxStatus', row.tax_status],
      ] as const
    ).filter(([, v]) => v === '');
    if (missing.length > 0)
      throw refused(
        'The provider asks for the address, a contact and the tax status first.',
        missing.map(([field]) => ({ field, message: 'This is missing.' })),
      );
    if (row.balance === 0)
      throw refused('The account is prepaid: top up a first time, then open it.', [
        { field: 'balance', message: 'Top up first.' },
      ]);
  }

  private async setState(w: Writer, id: string, state: Business['accountState'], note: string): Promise<void> {
    const before = await businessById(w, id);
    if (!before) return;
    await saveBusiness(w, id, { accountState: state, accountNote: note });
    await record(w, this.p.clock, {
      businessId: id,
      actor: SYSTEM,
      action: note && state === 'in review' ? 'account held for review' : `account ${state}`,
      objectKind: 'business',
      objectId: id,
      before: { accountState: before.account_state },
      after: { accountState: state, note },
    });
    w.tell('account.changed', { businessId: id });
    w.afterCommit(() => this.p.live.tell({ businessId: id, topic: 'settings' }));
  }
}
