import { randomUUID } from 'node:crypto';
import type { DispatchView } from '@long-gate/contracts';
import { dayIn, type Purpose } from '@long-gate/core';
import type { FailureClass } from '@long-gate/gateways';
import { Problem } from '../../platform/problem.js';
import { wordAtTheTill } from '../keyword.js';
import { Office } from '../office.js';
import { BOTH_KINDS, heronPage } from '../opt-in-page.js';
import { Bystander } from './bystander.js';

export const ZONE = 'America/New_York';
export const ADA = '+12125550101';
/** Ada's other number, which she may come to have. */
export const WORK = '+12125550104';
export const BRAM = '+12125550102';
export const CLEO = '+12125550103';
/** Who stands on the list, and agreed to nothing. */
export const DORA = '+12125550105';
export const PHONES = [ADA, WORK, BRAM, CLEO, DORA] as const;
export type Phone = (typeof PHONES)[number];
/** Where letters reach whoever had a number at first. */
const EMAIL: Record<string, string> = {
  [ADA]: 'ada@mail.example',
  [BRAM]: 'bram@mail.example',
  [CLEO]: 'cleo@mail.example',
  [DORA]: 'dora@mail.example',
};
const WHOEVER = { filter: null, listId: null, e164s: null };
export const BOTH = ['informational', 'promotional'] as const satisfies Purpose[];

/** A business with two numbers, and a few people to whom anything may happen; a bystander looks on. */
export class Street {
  readonly bystander = new Bystander();
  /** The business's other number. */
  readonly second = { id: 'num_other', e164: '+12015550143' };
  /** Of which texts the carrier has said what became of them. */
  private readonly final = new Set<string>();
  private serial = 0;
  private letterId = '';
  private readonly letter = {
    pageId: '',
    subject: 'Texts from the bakery?',
    text: 'Hello [firstName|there], say here what you want: [link]',
    againDays: 1,
    standing: null,
  };
  private constructor(readonly o: Office) {}

  static async open(): Promise<Street> {
    const s = new Street(await Office.open());
    const { o } = s;
    o.outside.afterSend = () => s.watch();
    await o.app.platform.db.write((w) =>
      w.run(
        `INSERT INTO number (id, business_id, e164, state, campaign_id, tie_state, ordered_at, active_at) VALUES ($1,$2,$3,'active',$4,'attached',0,0)`,
        [s.second.id, o.business, s.second.e164, o.campaign],
      ),
    );
    const page = await o.app.pages.add(o.admin, o.business, heronPage(o.number, { purposes: BOTH_KINDS }));
    const { version } = await o.app.textLinks.read(o.business);
    const links = { domain: 'texts.heron.example', pageId: page.id };
    await o.app.textLinks.save(o.admin, o.business, version, links);
    await o.app.keywords.add(o.admin, o.business, wordAtTheTill(o.number));
    s.letter.pageId = page.id;
    s.letterId = (await o.app.optInInvitations.add(o.admin, o.business, { title: 'By letter', ...s.letter })).id;
    for (const [e164, firstName] of [
      [ADA, 'Ada'],
      [BRAM, 'Bram'],
      [CLEO, 'Cleo'],
      [DORA, 'Dora'],
    ] as const) {
      const id = await o.contact(e164, e164 === DORA ? [] : [...BOTH], { firstName });
      const { version: seen } = await o.app.edits.detail(o.app.platform.db, o.business, id);
      const edit = { firstName, lastName: '', email: EMAIL[e164] ?? '', stateCode: '' };
      await o.app.edits.edit(o.admin, o.business, id, seen, edit);
      if (e164 !== DORA) s.bystander.saysYes(e164, BOTH);
    }
    await o.settle();
    await s.notice();
    return s;
  }

  /** The other numbers of whoever has one, as the business knows them. */
  private async beside(e164: string): Promise<string[]> {
    const { app, business } = this.o;
    return (await app.contacts.numbersBeside(app.platform.db, business, [e164])).get(e164) ?? [];
  }

  /** The bystander hears where people live and which numbers are one person's. */
  async notice(): Promise<void> {
    const { o, bystander } = this;
    for (const e164 of PHONES) {
      const id = await this.contactOf(e164);
      const home = id && (await o.app.edits.detail(o.app.platform.db, o.business, id)).stateCode;
      bystander.homes.set(e164, home ?? '');
      const before = bystander.besides.get(e164) ?? [];
      const beside = await this.beside(e164);
      bystander.besides.set(e164, beside);
      if (beside.some((x) => !before.includes(x))) bystander.areOne([e164, ...beside]);
    }
  }

  async saysNo(e164: string, kinds: readonly Purpose[]): Promise<void> {
    this.bystander.saysNo(e164, kinds, await this.beside(e164), this.o.now);
  }

  /** They are not, and never were. */
  async areNotOne(numbers: readonly string[]): Promise<void> {
    for (const e164 of numbers) this.bystander.of(e164).elsewhere.clear();
    for (const e164 of numbers) this.bystander.areOne([e164, ...(await this.beside(e164))]);
  }

  /** Whether their last no to a kind was today, where the business is. */
  saidNoToday(e164: string, kind: Purpose): boolean {
    const at = this.bystander.of(e164).noAt[kind];
    return at !== undefined && dayIn(at, ZONE) === today(this.o);
  }

  /** Of what they wrote somebody has to read it, where the application says so. */
  async notRead(e164: string): Promise<void> {
    const { items } = await this.o.app.reviews.list(this.o.business);
    if (items.some((x) => x.e164 === e164)) this.bystander.of(e164).inDoubt = true;
  }

  /** Their contact says from now on that they live in a state. */
  async moves(e164: string, stateCode: string): Promise<void> {
    const { app, admin, business } = this.o;
    const id = await this.known(e164);
    const { firstName, lastName, email, version } = await app.edits.detail(app.platform.db, business, id);
    await app.edits.edit(admin, business, id, version, { firstName, lastName, email, stateCode });
    await this.notice();
  }

  /** Somebody writes to one of our numbers. */
  async text(from: string, text: string, to = this.o.ours): Promise<void> {
    this.bystander.writes(from, this.o.now);
    await this.o.hear({ kind: 'text.inbound', key: `in-${this.o.outside.told.length}`, from, to, text });
  }

  /** Looks at the texts that were just taken. */
  private watch(): void {
    const { bystander, o } = this;
    for (const { to, text } of o.outside.sent.slice(bystander.out.length)) bystander.look({ to, text, at: o.now });
  }

  next(word: string): string {
    return `${word} ${++this.serial}: the rye loaf is back.`;
  }

  async contactOf(e164: string): Promise<string | undefined> {
    const { db } = this.o.app.platform;
    return (await this.o.app.contacts.names(db, this.o.business, [e164])).get(e164)?.contactId;
  }

  /** The contact of a number, of which something is to be done. @throws Problem where it has none. */
  async known(e164: string): Promise<string> {
    const id = await this.contactOf(e164);
    if (id === undefined) throw new Problem(404, 'not-found', 'Nobody has it.');
    return id;
  }

  async versionOf(id: string): Promise<number> {
    return (await this.o.app.edits.detail(this.o.app.platform.db, this.o.business, id)).version;
  }

  /** What the carrier says of the last text to somebody of which it said nothing yet. @returns whether there is one. */
  async receipt(e164: string, fault: { failure: FailureClass; code: string; reason: string } | null): Promise<boolean> {
    const text = this.o.outside.sent.findLast((t) => t.to === e164 && !this.final.has(t.key));
    if (!text) return false;
    this.final.add(text.key);
    const about = { key: text.key, carrier: 'Tessary Wireless' };
    await this.o.hear(fault ? { kind: 'text.failed', ...about, ...fault } : { kind: 'text.delivered', ...about });
    return true;
  }

  async send(word: 'NOTICE' | 'OFFER', from = this.o.number, more = ''): Promise<void> {
    const { o, bystander } = this;
    const d = await this.draft(word, from, more);
    const { counts } = await o.app.preview.preview(o.business, await o.draft(d));
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.settle();
    const states = (await o.app.drafts.get(o.business, d.id)).counts;
    const kept = (states['held'] ?? 0) + (states['stopped'] ?? 0);
    const all = Object.values(states).reduce((a, b) => a + b, 0);
    // What was judged at one moment stands where the preview of that moment put it.
    if (all !== counts.audience || kept !== counts.hold + counts.stop)
      bystander.wrongs.push(
        `${d.title}: ${JSON.stringify(states)}, where ${counts.pass} of ${counts.audience} were to pass`,
      );
  }

  async draft(word: 'NOTICE' | 'OFFER', numberId = this.o.number, more = ''): Promise<DispatchView> {
    const { o } = this;
    const purpose = word === 'NOTICE' ? 'informational' : 'promotional';
    const wish = { title: `${word} ${this.serial + 1}`, text: this.next(word) + more, purpose, numberId } as const;
    return o.app.drafts.add(o.admin, o.business, await o.draft(wish));
  }

  /** Sends what stands on a page of somebody's own. @returns whether it was taken. */
  private async fill(path: string, fields: readonly [string, string][]): Promise<boolean> {
    const door = await this.o.door();
    try {
      const at = door.url + path;
      const words = /name="words" value="(\w+)"/.exec(await (await fetch(at)).text())?.[1] ?? '';
      const answer = await fetch(at, {
        method: 'POST',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: new URLSearchParams([['words', words], ...fields]),
      });
      return answer.status === 200;
    } finally {
      await door.close();
    }
  }

  /** What somebody makes of the page behind the link in the last text that carried one to them. */
  async ownPage(e164: string, wish: 'choose' | 'leave', purposes: readonly Purpose[]): Promise<void> {
    const link = /https:\/\/texts\.heron\.example(\/t\/[A-Za-z0-9]+)/;
    const last = this.bystander.out.findLast((x) => x.to === e164 && link.test(x.text));
    if (!last) return;
    this.bystander.wishes(e164, purposes, this.o.now);
    const ticked = purposes.map((p): [string, string] => ['purposes', p]);
    if (!(await this.fill(link.exec(last.text)?.[1] ?? '', [['wish', wish], ...ticked]))) return;
    const got = this.bystander.gets(e164);
    const out = wish === 'leave' ? (['conversational', ...BOTH] as const) : BOTH.filter((p) => !purposes.includes(p));
    if (out.length > 0) await this.saysNo(e164, out);
    const wanted = purposes.filter((p) => !got.includes(p));
    // A link that was texted to a handset within a day is as good as its YES; to others a text asks for it.
    if (wanted.length > 0 && last.at > this.o.now - 24 * 3_600_000) this.bystander.saysYes(e164, wanted);
  }

  /** Whoever has an address and is not in is asked by letter. */
  async inviteAll(): Promise<void> {
    const { app, admin, business } = this.o;
    const { invited } = await app.optInInvitations.preview(business, { whom: WHOEVER, ...this.letter });
    const wish = { whom: WHOEVER, seen: invited };
    await app.optInInvitations.send(admin, business, this.letterId, wish, randomUUID());
    await this.o.settle();
  }

  /** Wants both kinds, on the page behind the last letter to whoever has a number: to it, or to another that they give. */
  async answersLetter(e164: string, another: string | null): Promise<void> {
    const to = EMAIL[e164];
    const mail = this.o.outside.mails.findLast((m) => m.to === to)?.raw ?? '';
    const path = /\/my-texts\/[\w-]+/.exec(mail.replace(/=\r\n/g, '').replace(/=3D/g, '='))?.[0];
    if (path === undefined) return;
    this.bystander.wishes(another ?? e164, BOTH, this.o.now);
    const ticked = BOTH.map((p): [string, string] => ['purposes', p]);
    const wish: Record<string, string> = another === null ? { wish: 'choose' } : { wish: 'number', phone: another };
    await this.fill(path, [...Object.entries(wish), ...ticked]);
    await this.o.settle();
  }
}

export const today = (o: Office): string => dayIn(o.now, ZONE);
