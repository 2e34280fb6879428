import type { Business } from '@long-gate/contracts';
import { dayIn, formatAmount, type LegalForm } from '@long-gate/core';
import { record, SYSTEM, type Actor } from '../../platform/audit.js';
import type { Flag, Reader, Writer } from '../../platform/db.js';
import { idFrom, newId } from '../../platform/ids.js';
import type { Role } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { expectVersion, notFound, refused } from '../../platform/problem.js';
import { SinceWrite } from '../../platform/since-write.js';
import {
  addBusiness,
  businessById,
  businessesOf,
  businessIds,
  keepOpenCountries,
  saveBusiness,
} from './business-store.js';
import {
  addEntry,
  addToPart,
  countEntries,
  isBooked,
  isBookedUnder,
  noteEntry,
  openPart,
  type Part,
} from './money-store.js';

export interface BusinessRow {
  id: string;
  legal_name: string;
  name_line: string;
  form: LegalForm;
  street: string;
  city: string;
  state: string;
  postal_code: string;
  contact_name: string;
  contact_email: string;
  website: string;
  time_zone: string;
  allow_fictional: Flag;
  account_state: Business['accountState'];
  texts_off: Flag;
  balance: number;
  transactional_any_hour: Flag;
  tax_status: Business['taxStatus'];
  /** What the provider says of the account while it looks at it. */
  account_note: string;
  /** Comma-joined; kept by the numbers area. */
  open_countries: string;
  /** Below which balance it tops up by itself, and by how much; 0 for never. */
  auto_below: number;
  auto_amount: number;
  /** 1 where administrators need a second factor. */
  second_factor: Flag;
  /** When the contact's e-mail, where decisions are asked by mail, was changed last. */
  contact_email_at: number;
  created_at: number;
  version: number;
}

export function showBusiness(row: BusinessRow, role: Role): Business {
  return {
    id: row.id,
    legalName: row.legal_name,
    nameLine: row.name_line,
    form: row.form,
    street: row.street,
    city: row.city,
    state: row.state,
    postalCode: row.postal_code,
    contactName: row.contact_name,
    contactEmail: row.contact_email,
    website: row.website,
    timeZone: row.time_zone,
    accountState: row.account_state,
    textsOff: Boolean(row.texts_off),
    balance: row.balance,
    transactionalAnyHour: Boolean(row.transactional_any_hour),
    taxStatus: row.tax_status,
    accountNote: row.account_note,
    role,
    factorMissing: false,
    version: row.version,
  };
}

/** Automatic top-ups in any 24 hours, at most. */
const AUTO_A_DAY = 3;

/** Businesses, their account with the provider, and the switch for all their texts. */
export class Businesses {
  /** Whether the legal name may not be changed any more; told by who registers under it. */
  nameIsLocked: (r: Reader, id: string) => Promise<boolean> = () => Promise.resolve(false);

  /** Asked for with nearly everything that is looked at. */
  private readonly rows: SinceWrite<BusinessRow | undefined>;

  constructor(private readonly p: Platform) {
    this.rows = new SinceWrite(p.db);
  }

  async ids(r: Reader): Promise<string[]> {
    return businessIds(r);
  }

  /** The businesses somebody has a part in, the oldest first. */
  async of(userId: string): Promise<BusinessRow[]> {
    return businessesOf(this.p.db, userId);
  }

  async row(r: Reader, id: string): Promise<BusinessRow> {
    const read = (): Promise<BusinessRow | undefined> => businessById(r, id);
    // Inside a write stands what it has written so far.
    const row = await (r === this.p.db ? this.rows.get(id, read) : read());
    if (!row) throw notFound('business');
    return { ...row };
  }

  /** @param draft its names, and whatever else is known of it already. */
  async add(
    w: Writer,
    actor: Actor,
    draft: { legalName: string; nameLine: string; form: LegalForm } & Partial<
      Record<'street' | 'city' | 'state' | 'postalCode' | 'website' | 'contactName' | 'contactEmail', string>
    >,
  ): Promise<string> {
    const id = newId('biz');
    await addBusiness(w, { id, ...draft, createdAt: Math.round(this.p.clock.now()) });
    await record(w, this.p.clock, {
      businessId: id,
      actor,
      action: 'business added',
      objectKind: 'business',
      objectId: id,
      after: draft,
    });
    return id;
  }

  async edit(
    actor: Actor,
    id: string,
    seen: number | null,
    edit: {
      legalName: string;
      nameLine: string;
      contactName: string;
      contactEmail: string;
      website: string;
      street: string;
      city: string;
      state: string;
      postalCode: string;
      transactionalAnyHour: boolean;
      taxStatus: Business['taxStatus'];
      timeZone?: string | undefined;
    },
  ): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, id);
      expectVersion('business', before, seen);
      if (edit.legalName !== before.legal_name && (await this.nameIsLocked(w, id))) {
        throw refused('The legal name is locked: the brand was verified under it.', [
          { field: 'legalName', message: 'Locked since the brand is registered.' },
        ]);
      }
      await saveBusiness(w, id, {
        ...edit,
        contactEmailAt:
          edit.contactEmail === before.contact_email ? before.contact_email_at : Math.round(this.p.clock.now()),
      });
      await record(w, this.p.clock, {
        businessId: id,
        actor,
        action: 'business edited',
        objectKind: 'business',
        objectId: id,
        before: showBusiness(before, 'administrator'),
        after: edit,
      });
      if (edit.timeZone !== undefined && edit.timeZone !== before.time_zone)
        w.tell('business.zone', { businessId: id });
      // Decisions are asked by mail to this address: whoever had it so far learns that it is another's now.
      if (before.contact_email !== '' && edit.contactEmail !== before.contact_email)
        await this.p.mailer.put(w, `status-address:${id}:${before.version}`, {
          to: before.contact_email,
          subject: `${before.legal_name}: the status address was changed`,
          text: `${actor.name} changed the address that Long Gate writes to for ${before.legal_name}; it is not yours any more. If that is wrong, tell the business at once.`,
        });
      w.afterCommit(() => this.p.live.tell({ businessId: id, topic: 'settings' }));
    });
  }

  /** The countries open to a business, as the gate reads them; kept by who opens and closes them. */
  async setOpenCountries(w: Writer, id: string, codes: readonly string[]): Promise<void> {
    await keepOpenCountries(w, id, codes.join(','));
  }

  async switchTexts(actor: Actor, id: string, off: boolean): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, id);
      await saveBusiness(w, id, { textsOff: off });
      await record(w, this.p.clock, {
        businessId: id,
        actor,
        action: off ? 'all texts switched off' : 'texts switched on',
        objectKind: 'business',
        objectId: id,
        before: { textsOff: Boolean(before.texts_off) },
        after: { textsOff: off },
      });
      w.tell('account.changed', { businessId: id });
      w.afterCommit(() => this.p.live.tell({ businessId: id, topic: 'settings' }));
    });
    // Off is said when nothing is in the air any more; a verdict is good for three seconds at most.
    if (off) await this.p.inFlight.settled(3_000);
  }

  /** Tops up once for one key, however often it is asked. */
  async topUp(actor: Actor, id: string, amount: number, key: string): Promise<void> {
    await this.p.db.write(async (w) => {
      const entry = idFrom('mon', id, 'top-up', key);
      if (await isBooked(w, entry)) return;
      await this.move(w, id, amount, 'top-up', 'business', id, entry);
      await record(w, this.p.clock, {
        businessId: id,
        actor,
        action: `topped up ${formatAmount(amount)}`,
        objectKind: 'business',
        objectId: id,
        after: { amount: formatAmount(amount) },
      });
    });
  }

  /**
   * Takes money for something.
   * @returns the part of the charge that it was added to.
   * @throws Problem 422 when the balance does not reach; nothing is taken then.
   */
  async charge(
    w: Writer,
    id: string,
    amount: number,
    what: string,
    objectKind: string,
    objectId: string,
    entryId = newId('mon'),
  ): Promise<Part> {
    await this.afford(w, id, amount);
    const part = await this.move(w, id, -amount, what, objectKind, objectId, entryId);
    await this.topUpByItself(w, id);
    return part;
  }

  /** Something stands on the statement that another has paid. */
  async note(
    w: Writer,
    id: string,
    what: string,
    objectKind: string,
    objectId: string,
    entryId: string,
  ): Promise<void> {
    await noteEntry(w, id, { id: entryId, at: this.p.clock.now(), what, objectKind, objectId });
    w.afterCommit(() => this.p.live.tell({ businessId: id, topic: 'settings' }));
  }

  /** Whether an amount was booked under this entry id. */
  async booked(r: Reader, entryId: string): Promise<boolean> {
    return isBooked(r, entryId);
  }

  /** Whether an amount was booked under this entry id, or one that was made of it. */
  async bookedUnder(r: Reader, entryId: string): Promise<boolean> {
    return isBookedUnder(r, entryId);
  }

  /** @throws Problem 422 where the balance does not reach, also after an automatic top-up. Takes nothing. */
  async afford(w: Writer, id: string, amount: number): Promise<void> {
    let row = await this.row(w, id);
    if (row.balance < amount && (await this.topUpByItself(w, id, amount))) row = await this.row(w, id);
    if (row.balance < amount) {
      throw refused(
        `The balance is ${formatAmount(row.balance)}, this costs ${formatAmount(amount)}: ${formatAmount(amount - row.balance)} is missing. Top up first.`,
        [{ field: 'balance', message: 'Top up first.' }],
      );
    }
  }

  /**
   * Tops up by itself where the balance is below the limit, or does not reach for `wanted`; at most three times in any
   * 24 hours, so that a runaway dispatch cannot empty a bank account. True when it did.
   */
  async topUpByItself(w: Writer, id: string, wanted = 0): Promise<boolean> {
    const row = await this.row(w, id);
    if (row.auto_below === 0 || (row.balance >= row.auto_below && row.balance >= wanted)) return false;
    const recent = await countEntries(w, id, 'automatic top-up', this.p.clock.now() - 86_400_000);
    if (recent >= AUTO_A_DAY) return false;
    await this.move(w, id, row.auto_amount, 'automatic top-up', 'business', id);
    await record(w, this.p.clock, {
      businessId: id,
      actor: SYSTEM,
      action: `topped up ${formatAmount(row.auto_amount)} automatically`,
      objectKind: 'business',
      objectId: id,
      after: { amount: formatAmount(row.auto_amount), below: formatAmount(row.auto_below) },
    });
    return true;
  }

  /** Moves money; what comes in is told, since it may lift holds. */
  async move(
    w: Writer,
    id: string,
    amount: number,
    what: string,
    objectKind: string,
    objectId: string,
    entryId = newId('mon'),
  ): Promise<Part> {
    const part = await this.book(w, id, amount, what, objectKind, objectId, entryId);
    if (amount > 0) w.tell('money.added', { businessId: id });
    return part;
  }

  /**
   * Books an amount; further amounts under the same entry id are added to it (the texts of one dispatch on one day, less
   * those the network did not take after all). Where the business's day is over, or money came in since, a further part
   * begins: what a statement has said stays as it is.
   */
  async book(
    w: Writer,
    id: string,
    amount: number,
    what: string,
    objectKind: string,
    objectId: string,
    entryId: string,
  ): Promise<Part> {
    const at = this.p.clock.now();
    const { time_zone: zone } = await this.row(w, id);
    const open = await openPart(w, id, entryId);
    w.afterCommit(() => this.p.live.tell({ businessId: id, topic: 'settings' }));
    if (open && dayIn(open.at, zone) === dayIn(at, zone)) return addToPart(w, id, open, at, amount);
    const part = (await isBooked(w, entryId)) ? newId('mon') : entryId;
    return addEntry(w, id, { id: part, partOf: entryId, at, amount, what, objectKind, objectId });
  }
}
