import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { OutsideEvent } from '@long-gate/gateways';
import type { z } from 'zod';
import { buildApp, type App } from '../app.js';
import type { DispatchDraft } from '../areas/dispatch/index.js';
import { campaignTable } from '../areas/registration/model.js';
import { hashPassword } from '../areas/settings/index.js';
import { readConfig } from '../config.js';
import type { Writer } from '../platform/db.js';
import type { Person, Role } from '../platform/http/route.js';
import { emptyDatabase, onServer } from './database.js';
import { Door } from './door.js';
import { FakeOutside } from './fake-outside.js';

type WithoutSeq<T> = T extends unknown ? Omit<T, 'seq' | 'at'> : never;

/** What a local number costs at the fake exchange. */
export const OFFER = {
  kind: 'local' as 'local' | 'toll-free' | 'short code',
  setup: 1_000_000,
  monthly: 1_300_000,
  capabilities: ['send', 'receive'],
};

/** Noon on a Tuesday in New York, in permitted hours everywhere that specs use. */
export const NOON = Date.UTC(2030, 2, 12, 16, 0);

/** An application on a database of its own, with a fake outside and one open business that may send. */
export class Office {
  readonly outside = new FakeOutside();
  app!: App;
  business = '';
  number = '';
  campaign = '';
  admin!: Person;
  readonly ours = '+12015550142';
  private running = false;
  /** The data folder. */
  dir = '';
  private database?: Awaited<ReturnType<typeof emptyDatabase>>;

  /** The application on an empty database: no business, nobody. */
  static async bare(env: NodeJS.ProcessEnv = {}): Promise<Office> {
    const o = new Office();
    o.dir = await mkdtemp(path.join(tmpdir(), 'office-'));
    o.database = await emptyDatabase(o.dir);
    await o.start(env);
    return o;
  }

  static async open(env: NodeJS.ProcessEnv = {}): Promise<Office> {
    const o = await Office.bare(env);
    await o.app.platform.clock.moveTo(NOON);
    o.outside.now = () => o.now;
    const { db } = o.app.platform;
    const actor = { id: 'usr_admin', name: 'Wren Holloway' };
    o.business = await db.write((w) =>
      o.app.businesses.add(w, actor, {
        legalName: 'Heron Lane Bakery LLC',
        nameLine: 'Heron Lane',
        form: 'private company',
      }),
    );
    o.admin = { ...actor, email: 'wren@heron.example', roles: { [o.business]: 'administrator' } };
    await db.write(async (w) => {
      await w.run(`UPDATE business SET account_state = 'open', contact_email = 'office@heron.example' WHERE id = $1`, [
        o.business,
      ]);
      await w.run(
        `INSERT INTO "user" (id, email, name, password, mobile, created_at) VALUES ($1,'wren@heron.example',$2,'',$3,0)`,
        [actor.id, actor.name, '+12015550190'],
      );
      await o.member(w, actor.id, 'administrator');
    });
    await o.app.businesses.topUp(o.admin, o.business, 50_000_000, 'first');
    o.campaign = (await o.app.registration.campaigns.add(o.admin, o.business, 'News', 'marketing')).id;
    o.number = 'num_spec';
    await db.write(async (w) => {
      const campaign = await w.of(campaignTable).findByPk(o.campaign, { rejectOnEmpty: true });
      await campaign.update({
        state: 'registered',
        body: {
          ...campaign.body,
          hasLinks: true,
          optOutMessage: 'Heron Lane: you are out and will get no more texts from us.',
          helpMessage: 'Heron Lane: write to office@heron.example.',
        },
      });
      await w.run(
        `INSERT INTO number (id, business_id, e164, state, campaign_id, tie_state, ordered_at, active_at) VALUES ($1,$2,$3,'active',$4,'attached',0,0)`,
        [o.number, o.business, o.ours, o.campaign],
      );
    });
    return o;
  }

  /** Where its data is, for a command that is to work on it. */
  get env(): NodeJS.ProcessEnv {
    return { LONG_GATE_DATA: this.dir, ...(onServer ? { LONG_GATE_DATABASE: this.database?.place } : {}) };
  }

  private async start(env: NodeJS.ProcessEnv): Promise<void> {
    const config = readConfig({ LONG_GATE_LOG: 'silent', ...this.env, ...env }, '');
    this.app = await buildApp({ ...config, demo: false, durable: false }, this.outside);
    this.running = true;
  }

  /** Ends the application and starts it again on the same folder, or on another that holds a copy. */
  async again(env: NodeJS.ProcessEnv = {}, dir = this.dir): Promise<void> {
    await this.end();
    this.dir = dir;
    await this.start(env);
  }

  /** Gives somebody a role, as it would stand after a while. */
  async member(w: Writer, userId: string, role: Role, businessId = this.business): Promise<void> {
    await w.run(
      `INSERT INTO membership (user_id, business_id, role, administrator_since) VALUES ($1,$2,$3,CASE WHEN $3 = 'administrator' THEN 0 END)`,
      [userId, businessId, role],
    );
  }

  /** A person with a password (`<name> and more`) and a role, who came in long ago. */
  async person(name: string, role: Role | null, businessId = this.business): Promise<Person> {
    const email = `${name.toLowerCase()}@heron.example`;
    const passwordHash = await hashPassword(`${name} and more`);
    const id = await this.app.platform.db.write(async (w) => {
      const made = await this.app.people.add(w, { name, email, passwordHash });
      if (role) await this.member(w, made, role, businessId);
      return made;
    });
    return { id, name, email, roles: role ? { [businessId]: role } : {} };
  }

  /** The link in the last mail to an address, without the place where the application is reached. */
  async linkMailedTo(email: string): Promise<string> {
    await this.settle();
    const mail = this.outside.mails.filter((m) => m.to === email).at(-1);
    const text = (mail?.raw ?? '').replace(/=\r\n/g, '').replace(/=3D/g, '=');
    return /http:\/\/localhost:\d+(\/\S+)/.exec(text)?.[1] ?? '';
  }

  /** The application over HTTP. */
  async door(): Promise<Door> {
    return Door.open(this.app);
  }

  get now(): number {
    return this.app.platform.clock.now();
  }

  /** The outside tells something, and everything due is worked off. */
  async hear(event: WithoutSeq<z.input<typeof OutsideEvent>>): Promise<void> {
    this.outside.told.push({ ...event, seq: this.outside.told.length + 1, at: this.now } as OutsideEvent);
    await this.app.platform.engine.drain();
  }

  /** A contact texts our number. */
  async text(from: string, text: string): Promise<void> {
    await this.hear({ kind: 'text.inbound', key: `in-${this.outside.told.length}`, from, to: this.ours, text });
  }

  async settle(): Promise<void> {
    await this.app.platform.engine.drain();
  }

  /** What is counted as it changes, and is other than a count of the rows says now: what, and by how many. */
  async miscounted(): Promise<Record<string, number>> {
    const { db, keptCounts } = this.app.platform;
    const wrong: Record<string, number> = {};
    for await (const { what, differing } of keptCounts.check(db, false)) if (differing > 0) wrong[what] = differing;
    return wrong;
  }

  /** Changes facts of the business; the others stay as they are. */
  async editBusiness(over: Partial<Parameters<App['businesses']['edit']>[3]>): Promise<void> {
    const b = await this.app.businesses.row(this.app.platform.db, this.business);
    await this.app.businesses.edit(this.admin, this.business, null, {
      legalName: b.legal_name,
      nameLine: b.name_line,
      contactName: b.contact_name,
      contactEmail: b.contact_email,
      website: b.website,
      street: b.street,
      city: b.city,
      state: b.state,
      postalCode: b.postal_code,
      transactionalAnyHour: Boolean(b.transactional_any_hour),
      taxStatus: b.tax_status,
      ...over,
    });
  }

  /** A draft as the composer would hand it in: an informational text from our number to the regulars. */
  async draft(over: Partial<DispatchDraft> = {}): Promise<DispatchDraft> {
    return {
      title: 'News',
      text: 'The rye loaf is back.',
      purpose: 'informational',
      transactional: false,
      stopLine: true,
      numberId: this.number,
      audience: { include: [await this.listId()], exclude: [] },
      override: '',
      category: '',
      effort: '',
      ...over,
    };
  }

  /** Puts numbers aside and orders them; the exchange has just these. */
  async buy(e164s: readonly string[], key: string, offer = OFFER) {
    this.outside.exchange.search = () =>
      Promise.resolve({ total: e164s.length, offers: e164s.map((e164) => ({ ...offer, e164 })) });
    for (const e164 of e164s) await this.app.basket.put(this.admin, this.business, e164, offer.kind);
    return this.app.basket.order(this.admin, this.business, key);
  }

  /** Moves the clock and works off what has fallen due. */
  async later(ms: number): Promise<void> {
    const { engine } = this.app.platform;
    engine.jump(this.now + ms);
    await engine.settled();
  }

  /** What our numbers sent to this phone. */
  sentTo(e164: string): string[] {
    return this.outside.sent.filter((t) => t.to === e164).map((t) => t.text);
  }

  /** A looked-up mobile contact on a list, who agreed to the given purposes. */
  async contact(
    e164: string,
    purposes: ('informational' | 'promotional')[],
    over: { firstName?: string; list?: string } = {},
  ): Promise<string> {
    const { db } = this.app.platform;
    return db.write(async (w) => {
      const c = await this.app.contacts.ensure(w, this.admin, this.business, e164, {
        firstName: over.firstName ?? 'Ada',
      });
      await this.app.contacts.storeLookup(w, this.business, [
        { e164, lineType: 'mobile', carrier: 'Tessary Wireless', carrierKind: 'A', reachable: true, askedAt: this.now },
      ]);
      if (purposes.length > 0)
        await this.app.ledger.append(w, this.business, [
          {
            e164,
            purposes,
            kind: 'granted',
            how: 'web page',
            disclosure: 'Text me news.',
            disclosureVersion: 'heron, version 1',
            happenedAt: this.now - 1000,
          },
        ]);
      const list = await this.app.lists.ensure(w, this.admin, this.business, over.list ?? 'Regulars', 'list');
      await this.app.lists.join(w, list, c.contactId);
      return c.contactId;
    });
  }

  /** A list with one number comes in, of which whoever brings it says that all agreed. */
  async claimed(e164: string, listName = 'Regulars'): Promise<void> {
    const { intakes } = this.app;
    const intake = await intakes.begin(this.admin, this.business, {
      fileName: 'list.csv',
      total: 1,
      listName,
      consentClaim: 'All of them agreed at the counter.',
    });
    const named = { firstName: 'Ada', lastName: 'Eide', email: '', stateCode: '' };
    await intakes.take(this.business, intake.id, [{ row: 1, phone: e164, ...named, keep: true }]);
    await intakes.store(this.admin, this.business, intake.id);
  }

  async listId(name = 'Regulars'): Promise<string> {
    return (await this.app.lists.all(this.app.platform.db, this.business)).find((l) => l.name === name)?.id ?? '';
  }

  async state(e164: string): Promise<Record<'conversational' | 'informational' | 'promotional', string>> {
    const s = await this.app.ledger.statesOf(this.app.platform.db, this.business, e164);
    return {
      conversational: s.conversational.state,
      informational: s.informational.state,
      promotional: s.promotional.state,
    };
  }

  /** Ends the application; the folder stays. */
  async end(): Promise<void> {
    if (!this.running) return;
    this.running = false;
    await this.app.close();
  }

  async close(): Promise<void> {
    await this.end();
    await this.database?.drop();
    await rm(this.dir, { recursive: true, force: true });
  }
}
