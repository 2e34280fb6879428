import type { NumberView } from '@long-gate/contracts';
import { throughputOf, type Clearance, type MessageFacts, type Throughput } from '@long-gate/core';
import { record, type Actor } from '../../platform/audit.js';
import type { Flag, Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { expectVersion, notFound, refused } from '../../platform/problem.js';
import type { Stood } from '../../platform/stood-store.js';
import type { Registration } from '../registration/index.js';
import type { Businesses, People } from '../settings/index.js';
import {
  clearanceOf,
  gateAccount,
  showNumber,
  throughputOfNumber,
  type NumberRow,
  type StandingNumber,
} from './number-row.js';
import * as store from './number-store.js';

/** What the gate and the composer read of a sending number. */
export interface Sender {
  id: string;
  e164: string;
  accountState: MessageFacts['accountState'];
  textsOff: boolean;
  clearance: Clearance;
  campaignId: string | null;
  /** What that campaign is called here; empty for none. */
  campaignName: string;
  /** Where a sender ID may be used; null for numbers, which may wherever the country is open. */
  countries: string[] | null;
  /** What a one-way sender adds to each text. */
  signature: string;
  /** A carrier paces the campaign it is in; else the number by itself (toll-free, short code, sender ID). */
  pacedByCampaign: boolean;
  campaign: {
    useCase: string;
    subUses: string[];
    hasLinks: boolean;
    optOutMessage: string;
    helpMessage: string;
    optInMessage: string;
  } | null;
  throughput: Throughput;
}

/** A toll-free number is verified for a use; nothing else is declared of it. */
const verifiedFor = ({ useCase }: { useCase: string }): NonNullable<Sender['campaign']> => ({
  useCase,
  subUses: [],
  hasLinks: true,
  optOutMessage: '',
  helpMessage: '',
  optInMessage: '',
});

/** A business without a number to speak from. */
const nobody = (b: { account_state: string; texts_off: Flag }): Sender => ({
  id: '',
  e164: '',
  accountState: gateAccount(b.account_state),
  textsOff: Boolean(b.texts_off),
  clearance: 'no-number',
  campaignId: null,
  campaignName: '',
  countries: null,
  signature: '',
  pacedByCampaign: false,
  campaign: null,
  throughput: throughputOf('private company', null, ''),
});

const senderOf = (row: StandingNumber): Sender => ({
  id: row.id,
  e164: row.e164,
  accountState: gateAccount(row.account_state),
  textsOff: Boolean(row.texts_off),
  clearance: clearanceOf(row),
  campaignId: row.campaign_id,
  campaignName: row.campaign?.name ?? '',
  countries: row.kind === 'sender ID' ? row.countries.split(',').filter((c) => c !== '') : null,
  signature: row.kind === 'sender ID' ? row.signature : '',
  pacedByCampaign: row.kind === 'local',
  campaign: row.campaign?.body ?? (row.verification ? verifiedFor(row.verification) : null),
  throughput: throughputOfNumber(row),
});

/** Why a number cannot be the default for a purpose; empty where it can serve it. */
function whyNoDefault(row: StandingNumber, purpose: string): string {
  if (row.state !== 'active') return 'Only an active number can be a default.';
  if (purpose === 'conversational' && row.kind === 'sender ID')
    return 'Nobody can answer a sender ID: it cannot be the default for conversations.';
  if (clearanceOf(row) !== 'cleared')
    return 'It is not cleared to send yet: a default has to be registered and confirmed.';
  return '';
}

/** What comes in to a number that is no longer ours is heard so long. */
const HEARD_AFTER_MS = 90 * 86_400_000;

/** The inventory of sending numbers. How they come, what they cost and where they are tied has a file each. */
export class Numbers {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly registration: Registration,
    private readonly people: People,
  ) {}

  async list(r: Reader, businessId: string): Promise<NumberView[]> {
    const rows = await this.standing(r, businessId, await store.numbersOf(r, businessId));
    return rows.map((row) => showNumber(row, this.p.clock.now()));
  }

  /** Those whose label holds these words, in small letters, or whose number these digits. */
  async find(
    r: Reader,
    businessId: string,
    words: string,
    digits: string,
    limit: number,
  ): Promise<{ id: string; e164: string; kind: string; label: string }[]> {
    return (await this.list(r, businessId))
      .filter(
        (n) =>
          (digits !== '' && n.e164.includes(digits)) ||
          n.label.toLowerCase().includes(words) ||
          (n.kind === 'sender ID' && n.e164.toLowerCase().includes(words)),
      )
      .slice(0, limit);
  }

  /** All numbers of a business, whatever became of them. */
  async ids(r: Reader, businessId: string): Promise<string[]> {
    return (await store.numbersOf(r, businessId)).map((n) => n.id);
  }

  async get(r: Reader, businessId: string, id: string): Promise<NumberView> {
    return showNumber(await this.row(r, businessId, id), this.p.clock.now());
  }

  async row(r: Reader, businessId: string, id: string): Promise<StandingNumber> {
    const row = await this.known(r, businessId, id);
    if (!row) throw notFound('number');
    return row;
  }

  private async known(r: Reader, businessId: string, id: string): Promise<StandingNumber | undefined> {
    const row = await store.numberById(r, businessId, id);
    return row && (await this.standing(r, businessId, [row]))[0];
  }

  /** Numbers of a business with how it stands with provider and registrar, which decides whether they may send. */
  private async standing(r: Reader, businessId: string, rows: readonly NumberRow[]): Promise<StandingNumber[]> {
    const { account_state, texts_off } = await this.businesses.row(r, businessId);
    const { brand, campaigns, tollFree } = await this.registration.standing(r, businessId);
    const buyers = [...new Set(rows.map((row) => row.ordered_by))].filter((id) => id !== '');
    const names = new Map(await Promise.all(buyers.map(async (id) => [id, await this.people.nameOf(r, id)] as const)));
    return rows.map((row) => ({
      ...row,
      ordered_by_name: names.get(row.ordered_by) ?? '',
      account_state,
      texts_off,
      brand,
      campaign: (row.campaign_id && campaigns.get(row.campaign_id)) || null,
      verification: (row.kind === 'toll-free' && tollFree.get(row.id)) || null,
    }));
  }

  /** The numbers tied to a campaign. */
  async inCampaign(r: Reader, campaignId: string): ReturnType<typeof store.numbersIn> {
    return store.numbersIn(r, campaignId);
  }

  /** The address of a number, whoever's it is; empty where there is none such. */
  async addressOf(r: Reader, id: string): Promise<string> {
    return (await store.anyNumber(r, id))?.e164 ?? '';
  }

  /** Whether people can write to it: an active number of this business, no sender ID. */
  async canBeAnswered(r: Reader, businessId: string, id: string): Promise<boolean> {
    return store.isActiveNumber(r, businessId, id);
  }

  async edit(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: { label: string; description: string; cardName?: string },
  ): Promise<NumberView> {
    await this.p.db.write(async (w) => {
      const before = await this.row(w, businessId, id);
      expectVersion('number', before, seen);
      await store.saveNumber(w, id, edit);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'number edited',
        objectKind: 'number',
        objectId: id,
        before: { label: before.label, description: before.description, cardName: before.card_name },
        after: edit,
      });
      this.changed(w, businessId, id);
    });
    return this.get(this.p.db, businessId, id);
  }

  /** The sender as the gate reads it; `no-number` where none is chosen. */
  async sender(r: Reader, businessId: string, id: string | null): Promise<Sender> {
    const row = id === null ? undefined : await this.known(r, businessId, id);
    return row ? senderOf(row) : nobody(await this.businesses.row(r, businessId));
  }

  /**
   * The same as it stood at a moment. What a number is (its kind, its address) never changes; one that was not ours yet
   * was not active.
   */
  async senderAt(r: Reader, businessId: string, id: string | null, then: Stood): Promise<Sender> {
    const stood = (fact: string): string => then.value('business', businessId, fact) ?? '';
    const account = { account_state: stood('account_state'), texts_off: stood('texts_off') === '1' ? 1 : 0 };
    const row = id === null ? undefined : await store.numberById(r, businessId, id);
    if (!row) return nobody(account);
    const of = (fact: string): string | null => then.value('number', row.id, fact) ?? null;
    const { brand, campaigns, tollFree } = await this.registration.standingAt(r, businessId, then);
    const campaignId = of('campaign_id');
    return senderOf({
      ...row,
      ...account,
      state: (of('state') ?? 'ordered') as NumberRow['state'],
      campaign_id: campaignId,
      tie_state: (of('tie_state') ?? '') as NumberRow['tie_state'],
      countries: of('countries') ?? '',
      signature: of('signature') ?? '',
      before_release: of('before_release'),
      ordered_by_name: '',
      brand,
      campaign: (campaignId !== null && campaigns.get(campaignId)) || null,
      verification: (row.kind === 'toll-free' && tollFree.get(row.id)) || null,
    });
  }

  /** Our number with this address, whoever's it is. */
  async byAddress(r: Reader, e164: string): Promise<{ id: string; business_id: string } | undefined> {
    return store.byAddress(r, e164);
  }

  /**
   * Whose number this is or was within 90 days, for what comes in to it: a wish to stop sent to a number that was given
   * back, moved or left is still a wish to stop. A number somebody has now comes first.
   */
  async heardAt(r: Reader, e164: string): Promise<{ id: string; business_id: string; ours: boolean } | undefined> {
    const row = await store.heardAt(r, e164, this.p.clock.now(), HEARD_AFTER_MS);
    return row ? { ...row, ours: row.ours === 1 } : undefined;
  }

  /** An active number of the business to speak from when none is given: a cleared one first. */
  async anySender(r: Reader, businessId: string): Promise<string | null> {
    return (await store.speaking(r, businessId))?.id ?? null;
  }

  /** Tells the open pages, once the change is on disk. */
  changed(w: Writer, businessId: string, id: string): void {
    w.tell('number.changed', { businessId });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id }));
  }

  /** Noted when a text leaves from it. */
  async noteUsed(w: Writer, id: string): Promise<void> {
    await store.noteUse(w, id, this.p.clock.now());
  }

  /** The default of the business for a purpose; a member of staff's own mobile can be none. */
  async setDefault(actor: Actor, businessId: string, purpose: string, id: string | null): Promise<void> {
    await this.p.db.write(async (w) => {
      const before = await store.defaultFor(w, businessId, purpose);
      if (id !== null) {
        const row = await this.row(w, businessId, id);
        const why = whyNoDefault(row, purpose);
        if (why) throw refused(why);
        const own = await this.people.withMobile(w, row.e164);
        if (own) throw refused(`This is ${own}’s own mobile; nobody’s private number can be a default.`);
      }
      await store.setDefault(w, businessId, purpose, id);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: id === null ? `no default for ${purpose} texts any more` : `default for ${purpose} texts`,
        objectKind: 'number',
        objectId: id ?? before ?? '',
        before: { default: before },
        after: { default: id },
      });
      this.changed(w, businessId, id ?? '');
    });
  }
}
