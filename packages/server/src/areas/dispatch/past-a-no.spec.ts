import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import type { DispatchView } from '@long-gate/contracts';
import { PURPOSES } from '@long-gate/core';
import { GatewayDown, GatewayNotTaken, type FailureClass } from '@long-gate/gateways';
import { Problem } from '../../platform/problem.js';
import { Office } from '../../testing/office.js';
import { heronPage } from '../../testing/opt-in-page.js';

const ZONE = 'America/New_York';
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const ADA = '+12125550101';
/** Ada's other number, which she may come to have. */
const WORK = '+12125550104';
const BRAM = '+12125550102';
const CLEO = '+12125550103';
const PHONES = [ADA, WORK, BRAM, CLEO] as const;
type Phone = (typeof PHONES)[number];

/** A text that was handed to the network. */
interface Out {
  to: string;
  text: string;
  at: number;
}

/**
 * A business and a few people to whom anything may happen, and beside it what a bystander would write down: who said no
 * last, and what reached whom when. The bystander knows nothing of ledgers, states or gates.
 */
class Street {
  o!: Office;
  readonly out: Out[] = [];
  /** When, by a number, its owner said no last, and yes: how many had been said before. */
  private readonly no = new Map<string, number>();
  private readonly yes = new Map<string, number>();
  private said = 0;
  /** Numbers of which another of the same person’s said no, since they said yes themselves. */
  private readonly elsewhere = new Set<string>();
  /** Whose carrier said that they refuse. */
  private readonly refused = new Set<string>();
  /** Whom a list of ours names. */
  readonly listed = new Set<string>();
  /** Who wrote what may be a wish to stop, and nobody has read it. */
  readonly inDoubt = new Set<string>();
  /** What a bystander saw that may not be. */
  readonly wrongs: string[] = [];
  /** Of which texts the carrier has said what became of them. */
  private readonly final = new Set<string>();
  private serial = 0;
  /** The business wants no texts to leave. */
  off = false;

  static async open(): Promise<Street> {
    const s = new Street();
    s.o = await Office.open();
    s.o.outside.afterSend = () => s.watch();
    await s.o.app.pages.add(
      s.o.admin,
      s.o.business,
      heronPage(s.o.number, {
        purposes: [
          { purpose: 'informational', label: 'Text me order updates', frequency: 'up to four a week' },
          { purpose: 'promotional', label: 'Text me offers of bread', frequency: 'weekly' },
        ],
      }),
    );
    for (const [e164, firstName] of [
      [ADA, 'Ada'],
      [BRAM, 'Bram'],
      [CLEO, 'Cleo'],
    ] as const)
      await s.o.contact(e164, ['informational', 'promotional'], { firstName });
    await s.o.settle();
    return s;
  }

  /** The other numbers of whoever has one, as the business knows them. */
  private async beside(e164: string): Promise<string[]> {
    const { app, business } = this.o;
    return (await app.contacts.numbersBeside(app.platform.db, business, [e164])).get(e164) ?? [];
  }

  async saysNo(e164: string): Promise<void> {
    for (const other of await this.beside(e164)) this.elsewhere.add(other);
    this.no.set(e164, ++this.said);
  }

  saysYes(e164: string): void {
    this.yes.set(e164, ++this.said);
    for (const not of [this.elsewhere, this.refused, this.inDoubt]) not.delete(e164);
  }

  refuses(e164: string): void {
    this.refused.add(e164);
  }

  hasSaidNo(e164: string): boolean {
    return (this.no.get(e164) ?? 0) > (this.yes.get(e164) ?? 0);
  }

  /** A number and others are one person’s from now on. */
  async areOne(e164: string): Promise<void> {
    const all = [e164, ...(await this.beside(e164))];
    for (const x of all.filter((n) => this.hasSaidNo(n)))
      for (const other of all)
        if (other !== x && (this.no.get(x) ?? 0) > (this.yes.get(other) ?? 0)) this.elsewhere.add(other);
  }

  /** They are not, and never were. */
  async areNotOne(numbers: readonly string[]): Promise<void> {
    for (const e164 of numbers) this.elsewhere.delete(e164);
    for (const e164 of numbers) await this.areOne(e164);
  }

  /** Looks at the texts that were just taken. */
  private watch(): void {
    for (const { to, text } of this.o.outside.sent.slice(this.out.length)) this.look({ to, text, at: this.o.now });
  }

  private look(now: Out): void {
    const [, word = '', n = ''] = /\b(NOTICE|OFFER|ANSWER) (\d+)/.exec(now.text) ?? [];
    const said = (what: string): unknown => this.wrongs.push(`“${now.text}” to ${now.to} ${what}`);
    if (word !== '') {
      if (this.off) said('while texts are switched off');
      if (this.listed.has(now.to)) said('who is on a list of ours');
      if (this.hasSaidNo(now.to)) said('after their no');
      if (this.elsewhere.has(now.to) && word !== 'ANSWER') said('after their no by another number');
      if (this.refused.has(now.to)) said('which its owner refused at the carrier');
      if (this.out.some((x) => x.to === now.to && x.text.includes(`${word} ${n}`))) said('a second time');
    }
    if (word === 'NOTICE' || word === 'OFFER') {
      const { hour } = DateTime.fromMillis(now.at, { zone: ZONE });
      if (hour < 8 || hour >= 21) said(`at ${hour} o’clock`);
    }
    if (word === 'OFFER') {
      if (this.inDoubt.has(now.to)) said('whose wish nobody has read');
      const day = this.out.filter((x) => x.to === now.to && x.text.includes('OFFER') && x.at > now.at - 24 * HOUR);
      if (day.length >= 3) said('as the fourth offer in 24 hours');
    }
    this.out.push(now);
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

  async send(word: 'NOTICE' | 'OFFER'): Promise<void> {
    const { o } = this;
    const d = await this.draft(word);
    const { counts } = await o.app.preview.preview(o.business, await o.draft(d));
    await o.app.sending.send(o.admin, o.business, d.id, d.version);
    await o.settle();
    const states = (await o.app.drafts.get(o.business, d.id)).counts;
    const kept = (states['held'] ?? 0) + (states['stopped'] ?? 0);
    const all = Object.values(states).reduce((a, b) => a + b, 0);
    // What was judged at one moment stands where the preview of that moment put it.
    if (all !== counts.audience || kept !== counts.hold + counts.stop)
      this.wrongs.push(
        `${d.title}: ${JSON.stringify(states)}, where ${counts.pass} of ${counts.audience} were to pass`,
      );
  }

  async draft(word: 'NOTICE' | 'OFFER'): Promise<DispatchView> {
    const { o } = this;
    const purpose = word === 'NOTICE' ? 'informational' : 'promotional';
    const wish = await o.draft({ title: `${word} ${this.serial + 1}`, text: this.next(word), purpose });
    return o.app.drafts.add(o.admin, o.business, wish);
  }
}

const bytes = (text: string): string => Buffer.from(text).toString('base64');
const today = (o: Office): string => DateTime.fromMillis(o.now, { zone: ZONE }).toISODate() ?? '';

/** What a person, a colleague, the network or time may do; each to whom it is done. */
const ACTS: Record<string, (s: Street, e164: Phone) => Promise<unknown>> = {
  'says STOP': async (s, e164) => {
    await s.saysNo(e164);
    await s.o.text(e164, 'STOP');
  },
  'says START': async (s, e164) => {
    s.saysYes(e164);
    await s.o.text(e164, 'START');
  },
  'fills in the page and says YES': async (s, e164) => {
    await s.o.app.publicPages.optIn(
      'heron',
      {
        phone: e164,
        firstName: 'Ada',
        purposes: ['informational', 'promotional'],
        words: (await s.o.app.publicPages.publicPage('heron')).words,
      },
      { ip: '192.0.2.9', agent: 'somebody' },
    );
    await s.o.settle();
    s.saysYes(e164);
    await s.o.text(e164, 'YES');
  },
  'asks something': (s, e164) => s.o.text(e164, 'When do you open on Sundays?'),
  'says what may be a wish': async (s, e164) => {
    await s.o.text(e164, 'you people text a lot');
    if ((await s.o.app.reviews.list(s.o.business)).items.some((x) => x.e164 === e164)) s.inDoubt.add(e164);
  },
  'leaves by the page': async (s, e164) => {
    await s.o.app.publicPages.optOut('heron', e164, { ip: '192.0.2.9', agent: 'somebody' });
    await s.saysNo(e164);
  },
  'says no to a colleague': async (s, e164) => {
    await s.o.app.replies.recordWish(s.o.admin, s.o.business, {
      e164,
      purposes: [...PURPOSES],
      how: 'phone call',
      words: 'She asked to be left alone.',
    });
    await s.saysNo(e164);
  },
  'stands on a list of those who opted out': async (s, e164) => {
    await s.o.app.optOutLists.bring(
      s.o.admin,
      s.o.business,
      {
        origin: 'earlier provider',
        source: 'their export',
        datedOn: today(s.o),
        name: 'gone.csv',
        base64: bytes(e164),
      },
      randomUUID(),
    );
    await s.saysNo(e164);
    await s.o.settle();
  },
  'is answered': (s, e164) => s.o.app.inbox.answer(s.o.admin, s.o.business, e164, s.next('ANSWER'), randomUUID()),
  'is deleted': async (s, e164) => {
    const id = await s.known(e164);
    await s.o.app.removals.delete(s.o.admin, s.o.business, { ids: [id], filter: null, seen: 1 }, randomUUID());
  },
  'is erased': async (s, e164) => s.o.app.removals.erase(s.o.admin, s.o.business, await s.known(e164), 'By letter.'),
  'comes with a list that claims consent': async (s, e164) => {
    const { o } = s;
    const intake = await o.app.intakes.begin(o.admin, o.business, {
      fileName: 'list.csv',
      total: 1,
      listName: 'Regulars',
      consentClaim: 'All of them agreed at the counter.',
    });
    const named = { firstName: 'Ada', lastName: 'Eide', email: '', stateCode: '' };
    await o.app.intakes.take(o.business, intake.id, [{ row: 1, phone: e164, ...named, keep: true }]);
    await o.app.intakes.store(o.admin, o.business, intake.id);
  },
  'is merged into Ada': async (s, e164) => {
    const [kept, gone] = [await s.known(ADA), await s.known(e164)];
    const [keptVersion, goneVersion] = [await s.versionOf(kept), await s.versionOf(gone)];
    await s.o.app.merges.merge(s.o.admin, s.o.business, kept, { with: gone, keptVersion, goneVersion });
    await s.areOne(ADA);
  },
  'is parted again': async (s, e164) => {
    const { o } = s;
    const id = await s.known(e164);
    const merge = await o.app.platform.db.one<{ id: string }>(
      'SELECT id FROM contact_merge WHERE kept_id = $1 AND undone_at IS NULL ORDER BY merged_at DESC LIMIT 1',
      [id],
    );
    await o.app.merges.undo(o.admin, o.business, merge?.id ?? '');
    await s.areNotOne(PHONES);
  },
  'is a number of Ada’s': async (s, e164) => {
    await s.o.app.edits.addNumber(s.o.admin, s.o.business, await s.known(ADA), { number: e164, label: '' });
    await s.areOne(e164);
  },
  'is the preferred number': async (s, e164) =>
    s.o.app.edits.preferNumber(s.o.admin, s.o.business, await s.known(e164), e164),
  'is taken off its contact': async (s, e164) =>
    s.o.app.edits.dropNumber(s.o.admin, s.o.business, await s.known(e164), e164),
  'is put on a list of ours': async (s, e164) => {
    const { app, admin, business } = s.o;
    const wish = { name: 'Our own list', kind: 'own' as const, source: 'the office', datedOn: today(s.o) };
    const list = await app.suppression.add(admin, business, wish, randomUUID());
    await app.suppression.take(business, list.id, { edition: 1, part: 0, lines: [e164] });
    await app.suppression.finish(admin, business, list.id, { edition: 1, parts: 1 });
    s.listed.add(e164);
  },
  'is said to be a landline': async (s, e164) => {
    await s.o.app.platform.db.write((w) =>
      s.o.app.contacts.storeLookup(w, s.o.business, [
        { e164, lineType: 'landline', carrier: 'Old Copper', carrierKind: 'A', reachable: true, askedAt: s.o.now },
      ]),
    );
  },
  'leaves again with the list that came last': async (s) => {
    const [last] = (await s.o.app.intakes.list(s.o.business)).filter((i) => i.state === 'stored' && i.undo === null);
    if (last) await s.o.app.intakes.undo(s.o.admin, s.o.business, last.id);
  },
  'is looked up': async (s, e164) => {
    await s.o.app.platform.db.write((w) =>
      s.o.app.contacts.storeLookup(w, s.o.business, [
        { e164, lineType: 'mobile', carrier: 'Tessary Wireless', carrierKind: 'A', reachable: true, askedAt: s.o.now },
      ]),
    );
  },
  'refuses at the carrier': async (s, e164) => {
    if (await s.receipt(e164, { failure: 'refused-by-owner', code: '21', reason: 'Refused by its owner.' }))
      s.refuses(e164);
  },
  'is out of reach': (s, e164) => s.receipt(e164, { failure: 'passing-fault', code: '10', reason: 'Switched off.' }),
  'has it delivered': (s, e164) => s.receipt(e164, null),
  'says no while texts leave': async (s, e164) => {
    const { outside } = s.o;
    // It reaches the network at the moment the text does.
    outside.beforeSend = async (text) => {
      if (text.to === e164 && !s.hasSaidNo(e164)) {
        outside.beforeSend = null;
        await s.saysNo(e164);
        outside.told.push({
          kind: 'text.inbound',
          key: `meanwhile-${outside.told.length}`,
          from: e164,
          to: s.o.ours,
          text: 'STOP',
          seq: outside.told.length + 1,
          at: s.o.now,
        });
      }
    };
    const d = await s.draft('NOTICE');
    await s.o.app.sending.send(s.o.admin, s.o.business, d.id, d.version);
    await s.o.settle();
    outside.beforeSend = null;
  },
};

/** What concerns nobody by name. */
const EVENTS: Record<string, (s: Street) => Promise<unknown>> = {
  'a notice goes out': (s) => s.send('NOTICE'),
  'an offer goes out': (s) => s.send('OFFER'),
  'four offers go out at once': async (s) => {
    const { o } = s;
    const drafts = [];
    for (let i = 0; i < 4; i++) drafts.push(await s.draft('OFFER'));
    for (const d of drafts) await o.app.sending.send(o.admin, o.business, d.id, d.version);
  },
  'a notice is to go out in two hours': async (s) => {
    const { o } = s;
    const d = await s.draft('NOTICE');
    const local = DateTime.fromMillis(o.now + 2 * HOUR, { zone: ZONE }).toFormat("yyyy-MM-dd'T'HH:mm");
    const { counts } = await o.app.preview.preview(o.business, await o.draft(d));
    const confirmed = { reach: counts.pass + counts.hold, cost: 50_000 };
    await o.app.scheduling.schedule(o.admin, o.business, d.id, d.version, { zone: 'business', local }, confirmed);
  },
  'what is under way is cancelled': async (s) => {
    const { o } = s;
    const under = (await o.app.drafts.page(o.business, { limit: 100 })).items.find((d) => d.state === 'sending');
    if (under) await o.app.sending.cancel(o.admin, o.business, under.id);
  },
  'texts are switched off for an hour': async (s) => {
    await s.o.app.businesses.switchTexts(s.o.admin, s.o.business, true);
    s.off = true;
    await s.o.later(HOUR);
    s.off = false;
    await s.o.app.businesses.switchTexts(s.o.admin, s.o.business, false);
  },
  'our number is in no campaign for an hour': async (s) => {
    await s.o.app.ties.tie(s.o.admin, s.o.business, s.o.number, null);
    await s.o.later(HOUR);
    await s.o.app.platform.db.write((w) =>
      w.run(`UPDATE number SET campaign_id = $1, tie_state = 'attached' WHERE id = $2`, [s.o.campaign, s.o.number]),
    );
  },
  'our lists are taken away': async (s) => {
    const { app, admin, business } = s.o;
    for (const list of await app.suppression.list(business))
      await app.suppression.drop(admin, business, list.id, list.version);
    s.listed.clear();
  },
  'staff read what was written as no wish': async (s) => {
    for (const x of (await s.o.app.reviews.list(s.o.business)).items)
      await s.o.app.replies.decide(s.o.admin, s.o.business, x.id, 'no wish');
    s.inDoubt.clear();
  },
  'a minute goes by': (s) => s.o.later(MINUTE),
  'an hour goes by': (s) => s.o.later(HOUR),
  'nine hours go by': (s) => s.o.later(9 * HOUR),
  'four days go by': (s) => s.o.later(96 * HOUR),
  'the network answers once that it is down': (s) => {
    s.o.outside.nextSend = new GatewayDown('no answer');
    return Promise.resolve();
  },
  'the network does not take one': (s) => {
    s.o.outside.nextSend = new GatewayNotTaken('Not now.', 'unread');
    return Promise.resolve();
  },
  'answers are lost': (s) => Promise.resolve(void (s.o.outside.lostLots = 1)),
  'the application ends and begins anew': (s) => s.o.again(),
  'the ledger is folded anew': (s) => s.o.app.ledger.rebuild(s.o.business, true),
};

/** After these a moment that is past cannot be told in full: people who are gone, texts that seemed to be in the air. */
const FORGETFUL = new Set([
  'is deleted',
  'is erased',
  'is taken off its contact',
  'leaves again with the list that came last',
  'says no while texts leave',
  'the network answers once that it is down',
  'the network does not take one',
  'answers are lost',
  'our number is in no campaign for an hour',
]);

/** Each text that was judged: as of that moment it stands at the same post for the same reason. */
async function saysTheSame({ o, wrongs }: Street): Promise<void> {
  for (const e164 of PHONES)
    for (const { id } of (await o.app.asOf.ask(o.business, { e164 })).texts) {
      const { asked } = await o.app.asOf.ask(o.business, { e164, numberId: o.number, text: id });
      if (!asked?.kept) continue;
      // What a no calls back at once is asked for nothing else.
      if (asked.kept.reason === 'opted-out' && asked.then.result === 'stop') continue;
      if (asked.then.post !== asked.kept.post || asked.then.reason !== asked.kept.reason)
        wrongs.push(`as of then “${asked.text.words}” to ${e164} is ${asked.then.why}, and was ${asked.kept.why}`);
    }
}

type Step = readonly [act: string, whom: Phone | ''];
const nameOf = ([act, whom]: Step): string => (whom === '' ? act : `${whom} ${act}`);
const steps = fc.array(
  fc.oneof(
    { weight: 3, arbitrary: fc.tuple(fc.constantFrom(...Object.keys(ACTS)), fc.constantFrom(...PHONES)) },
    { weight: 2, arbitrary: fc.tuple(fc.constantFrom(...Object.keys(EVENTS)), fc.constant('' as const)) },
  ),
  { minLength: 6, maxLength: 25 },
);
/** So many streets at every change; more by LONG_GATE_STREETS. */
const STREETS = Number(process.env['LONG_GATE_STREETS'] ?? '10');

describe('whatever happens in whatever order', () => {
  it('nothing leaves past a no, twice, at night or too often, and all that is kept adds up', async () => {
    await fc.assert(
      fc.asyncProperty(steps, async (all) => {
        const s = await Street.open();
        try {
          for (const step of [...all, ['a notice goes out', ''], ['an offer goes out', '']] as const satisfies Step[]) {
            const [act, whom] = step;
            const done = whom === '' ? EVENTS[act]?.(s) : ACTS[act]?.(s, whom);
            await done?.catch((error: unknown) => {
              // What is refused in words was not done.
              if (!(error instanceof Problem)) throw error;
            });
            await s.o.settle();
            if (s.wrongs.length > 0) break;
          }
          if (!all.some(([act]) => FORGETFUL.has(act))) await saysTheSame(s);
          const { app, business } = s.o;
          for await (const { what, differing } of app.platform.keptCounts.check(app.platform.db, false))
            if (differing > 0) s.wrongs.push(`${what}: ${differing} differ from the rows`);
          const { ok, differing } = await app.ledger.rebuild(business, false);
          if (!ok) s.wrongs.push(`${differing} states differ from the ledger`);
          if (s.wrongs.length > 0) throw new Error(`${s.wrongs.join('; ')} — after: ${all.map(nameOf).join('; ')}`);
        } finally {
          await s.o.close();
        }
      }),
      { numRuns: STREETS },
    );
  });
});
