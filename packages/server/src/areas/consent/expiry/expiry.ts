import { EXPIRY_LIMITS, expiryOf, formatPhone, lastContact, type Contacted, type ContactKind } from '@long-gate/core';
import type { Expiring, ExpiryPolicyView, ExpiryPreview, ExpiryRead } from '@long-gate/contracts';
import { DateTime } from 'luxon';
import { z } from 'zod';
import { record, type Actor } from '../../../platform/audit.js';
import { lotsOf } from '../../../platform/bulk.js';
import { csvPart } from '../../../platform/csv.js';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import { DAY_MS } from '../../../platform/limits.js';
import { Lot } from '../../../platform/lot.js';
import type { Platform } from '../../../platform/platform.js';
import { expectVersion, refused } from '../../../platform/problem.js';
import { agreedOf, lastNumberId, type AgreedNumber, type AgreedScope, type Contacts } from '../../contacts/index.js';
import { lastReached } from '../../dispatch/index.js';
import type { Businesses } from '../../settings/index.js';
import { invitationsOf, lastKept } from '../invitations/invitation-store.js';
import type { OptInInvitations, Verdict } from '../invitations/invitations.js';
import type { Ledger } from '../ledger/ledger.js';
import { hasMailbox } from '../letters/letters.js';
import { lastKeptByText } from '../text-links/text-link-store.js';
import * as store from './expiry-store.js';
import { Outlook } from './outlook.js';

const FILE_HEADS = ['name', 'phone', 'last contact', 'by', 'ends', 'asked', 'why not'];
const FILE_LOT = 1000;
const AS_SHIPPED: ExpiryPolicyView = {
  on: false,
  months: EXPIRY_LIMITS.months.usual,
  counts: 'either way',
  purposes: ['informational', 'promotional'],
  askDays: EXPIRY_LIMITS.askDays.usual,
  invitationId: '',
};
/** Ids walked at once. */
const STRETCH = 4000;
const DAILY = 'consent.expiry.daily';
/** A turn through a business's numbers: by which version of the policy, since when, and how far it is. */
const Turn = z.object({
  version: z.number(),
  turnAt: z.number(),
  after: z.number().default(0),
  inForce: z.number().default(0),
  months: z.record(z.string(), z.number()).default({}),
  asked: z.number().default(0),
  ended: z.number().default(0),
});
type Turn = z.infer<typeof Turn>;

/** Why somebody was not asked, in words. */
const NOT_ASKED: Record<Exclude<Verdict, 'invited' | 'inAlready'>, string> = {
  noMore: 'their address came back, or wants no more letters',
  lately: 'invited lately',
  left: 'they left one of the kinds its page offers',
};

interface Ending {
  number: AgreedNumber;
  last: { at: number; how: ContactKind };
  standing: ReturnType<typeof expiryOf>['standing'];
  endsAt: number;
  listed: store.Listed | undefined;
}

/** Consent that nobody stood by for so many months ends by itself, and its people are asked again in time. */
export class Expiry {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly invitations: OptInInvitations,
  ) {
    p.jobs.handle('consent.expiry', Turn, (turn, context) => this.turn(turn, context), undefined, 'long');
    p.jobs.handle(DAILY, z.unknown(), () => this.daily(), 'whose consent ends is looked at, as each day');
    p.db.facts.on('contact.erased', (w, { businessId, people }) =>
      store.dropExpiring(
        w,
        businessId,
        people.map(([e164]) => e164),
      ),
    );
  }

  /** Once a day, where a business's consent ends by itself. */
  async begin(): Promise<void> {
    const at = this.p.clock.now() + DAY_MS;
    await this.p.db.write((w) => this.p.jobs.add(w, { kind: DAILY, businessId: '', payload: {}, key: DAILY, at }));
  }

  private async policy(
    r: Reader,
    businessId: string,
  ): Promise<ExpiryPolicyView & Pick<ExpiryRead, 'version' | 'lookedAt' | 'outlook'>> {
    const row = await store.policyRow(r, businessId);
    if (!row) return { ...AS_SHIPPED, version: 0, lookedAt: null, outlook: null };
    const { active: on, months, counts, askDays, invitationId, version } = row;
    return {
      on,
      months,
      counts,
      purposes: row.purposes,
      askDays,
      invitationId,
      version,
      lookedAt: row.lookedAt ?? null,
      outlook: row.outlook ?? null,
    };
  }

  async read(businessId: string): Promise<ExpiryRead> {
    const r = this.p.db;
    const letters = await invitationsOf(r, businessId);
    return {
      ...(await this.policy(r, businessId)),
      ending: await store.countExpiring(r, businessId),
      asked: await store.countExpiring(r, businessId, 'yes'),
      notAsked: await store.countExpiring(r, businessId, 'no'),
      letters: letters.map(({ id, title }) => ({ id, title })),
    };
  }

  /** @throws Problem 412 where it was changed meanwhile, 422 for a letter that is not the business's. */
  async save(actor: Actor, businessId: string, seen: number | null, policy: ExpiryPolicyView): Promise<ExpiryRead> {
    await this.p.db.write(async (w) => {
      const before = await this.policy(w, businessId);
      expectVersion('policy', before, seen);
      if (policy.invitationId !== '' && !(await invitationsOf(w, businessId)).some((x) => x.id === policy.invitationId))
        throw refused('This letter is not kept here any more. Choose another.', [
          { field: 'invitationId', message: 'Choose another letter.' },
        ]);
      const row = await store.policyRow(w, businessId);
      const version = before.version + 1;
      const { on: active, ...rest } = policy;
      if (row) await row.update({ ...rest, active, version, lookedAt: null, outlook: null });
      else await store.addPolicy(w, { businessId, ...rest, active, version });
      const { version: _, lookedAt: __, outlook: ___, ...was } = before;
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'end of consent without contact changed',
        objectKind: 'business',
        objectId: businessId,
        before: was,
        after: policy,
      });
      const turnAt = Math.round(this.p.clock.now());
      if (policy.on)
        await this.add(w, businessId, { version, turnAt }, 'Finding out who was last in contact, and when');
      else await store.dropUnseen(w, businessId, Number.MAX_SAFE_INTEGER);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return this.read(businessId);
  }

  private async add(
    w: Writer,
    businessId: string,
    turn: Pick<Turn, 'version' | 'turnAt'>,
    title?: string,
  ): Promise<void> {
    await this.p.jobs.add(w, {
      kind: 'consent.expiry',
      businessId,
      payload: turn,
      key: `consent.expiry:${businessId}:${turn.version}:${turn.turnAt}`,
      ...(title ? { title } : {}),
    });
  }

  private async daily(): Promise<JobOutcome> {
    const now = Math.round(this.p.clock.now());
    for (const businessId of await store.endingBusinesses(this.p.db))
      await this.p.db.write(async (w) => {
        if ((await this.p.jobs.underWay(w, businessId, 'consent.expiry')).length > 0) return;
        const { on, version } = await this.policy(w, businessId);
        if (on) await this.add(w, businessId, { version, turnAt: now });
      });
    return { done: false, at: now + DAY_MS };
  }

  /** What a policy would come to, month by month; nothing is changed by it. */
  async preview(businessId: string, policy: ExpiryPolicyView): Promise<ExpiryPreview> {
    const r = this.p.db;
    const now = this.p.clock.now();
    const outlook = new Outlook((await this.businesses.row(r, businessId)).time_zone, now);
    let ending = 0;
    const last = await lastNumberId(r);
    for (let after = 0; after < last; after += STRETCH) {
      const found = await this.standings(r, businessId, policy, { after, upTo: after + STRETCH }, now);
      outlook.add(found);
      ending += found.filter((x) => x.standing !== 'in contact').length;
    }
    return policy.on
      ? { inForce: outlook.inForce, ending, months: outlook.byMonth() }
      : { inForce: outlook.inForce, ending: 0, months: [] };
  }

  async people(
    businessId: string,
    asked: 'yes' | 'no' | undefined,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: Expiring[]; next: string | null; total: number }> {
    const place = cursor ? readCursor(z.tuple([z.number(), z.string()]), cursor) : null;
    const after = place && { endsAt: place[0], e164: place[1] };
    const rows = await store.expiringAfter(this.p.db, businessId, asked, after, limit + 1);
    const shown = rows.slice(0, limit);
    const names = await this.contacts.names(
      this.p.db,
      businessId,
      shown.map((x) => x.e164),
    );
    const last = shown.at(-1);
    return {
      items: shown.map(({ contactId, e164, lastAt, lastHow, endsAt, askedAt, why }) => ({
        contactId,
        name: names.get(e164)?.name ?? '',
        e164,
        lastAt,
        lastHow,
        endsAt,
        askedAt: askedAt ?? null,
        why,
      })),
      next: rows.length > limit && last ? packCursor([last.endsAt, last.e164]) : null,
      total: await store.countExpiring(this.p.db, businessId, asked),
    };
  }

  /** The same as CSV with a heading row, some at a time; days are those of the business. */
  async *file(businessId: string, asked: 'yes' | 'no' | undefined): AsyncGenerator<string> {
    const zone = (await this.businesses.row(this.p.db, businessId)).time_zone;
    const day = (at: number | null): string =>
      at === null ? '' : (DateTime.fromMillis(at, { zone }).toISODate() ?? '');
    yield csvPart([FILE_HEADS], true);
    for (let cursor: string | undefined = ''; cursor !== undefined;) {
      const page: Awaited<ReturnType<Expiry['people']>> = await this.people(businessId, asked, cursor, FILE_LOT);
      if (page.items.length > 0)
        yield csvPart(
          page.items.map((x) => [
            x.name,
            formatPhone(x.e164),
            day(x.lastAt),
            x.lastHow,
            day(x.endsAt),
            day(x.askedAt),
            x.why,
          ]),
        );
      cursor = page.next ?? undefined;
    }
  }

  /** Where the people of these numbers stand, of those with consent in force the policy is about. */
  private async standings(
    r: Reader,
    businessId: string,
    policy: ExpiryPolicyView,
    scope: AgreedScope,
    now: number,
  ): Promise<Ending[]> {
    const numbers = (await agreedOf(r, businessId, scope)).filter((x) => policy.purposes.some((kind) => x[kind]));
    const e164s = numbers.map((x) => x.e164);
    const [listed, kept, keptByText, reached] = [
      await store.listedAmong(r, businessId, e164s),
      await lastKept(r, businessId, e164s),
      await lastKeptByText(r, businessId, e164s),
      policy.counts === 'either way' ? await lastReached(r, businessId, e164s) : new Map<string, number>(),
    ];
    return numbers.map((number) => {
      const { e164 } = number;
      const seen: Contacted = {
        agreed: number.agreedAt,
        'wrote or called': number.heardAt,
        kept: Math.max(kept.get(e164) ?? 0, keptByText.get(e164) ?? 0) || null,
        'a text reached them': reached.get(e164) ?? null,
      };
      const last = lastContact(seen, policy.counts) ?? { at: number.agreedAt, how: 'agreed' as const };
      const known = listed.get(e164);
      return { number, last, listed: known, ...expiryOf(last.at, policy, known?.listedAt ?? null, now) };
    });
  }

  /**
   * Goes through a business's numbers, stretch by stretch: lists whose consent ends within the days for asking, asks them
   * once, and ends what is over. What is changed is looked at again in the write that changes it.
   */
  private async turn(begun: Turn, context: JobContext): Promise<JobOutcome> {
    const { job } = context;
    const { businessId } = job;
    const last = await lastNumberId(this.p.db);
    const policy = await this.policy(this.p.db, businessId);
    const lot = new Lot(500);
    const { time_zone } = await this.businesses.row(this.p.db, businessId);
    const outlook = new Outlook(time_zone, begun.turnAt, begun);
    let turn = begun;
    while (turn.after < last) {
      const upTo = turn.after + STRETCH;
      const now = this.p.clock.now();
      const found = await this.standings(this.p.db, businessId, policy, { after: turn.after, upTo }, now);
      const concerned = found.filter((x) => x.standing !== 'in contact' || x.listed).map((x) => x.number.e164);
      for (const part of lotsOf(concerned, lot.size)) {
        const next = await lot.write(
          this.p.db,
          async (w) => {
            const current = await this.policy(w, businessId);
            if (!current.on || current.version !== turn.version || !(await this.p.jobs.isRunning(w, job.id)))
              return null;
            const did = await this.lookAt(w, businessId, current, part, turn, job.id);
            const kept = { ...turn, asked: turn.asked + did.asked, ended: turn.ended + did.ended };
            await this.p.jobs.keep(w, job, kept, Math.min(turn.after, last));
            return kept;
          },
          part.length,
        );
        if (next === null) return { done: true, result: 'another policy is in force' };
        turn = next;
      }
      outlook.add(found);
      turn = { ...turn, after: upTo, inForce: outlook.inForce, months: outlook.months };
      if (!(await context.progress(Math.min(upTo, last), last))) return { done: false };
    }
    await this.p.db.write(async (w) => {
      if ((await this.policy(w, businessId)).version !== turn.version) return;
      await store.dropUnseen(w, businessId, turn.turnAt);
      await store.noteLooked(w, businessId, turn.turnAt, { inForce: outlook.inForce, months: outlook.byMonth() });
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
    });
    return { done: true, result: told(turn) };
  }

  /** Lists, asks and ends among a few numbers. */
  private async lookAt(
    w: Writer,
    businessId: string,
    policy: ExpiryPolicyView,
    e164s: readonly string[],
    turn: Turn,
    jobId: string,
  ): Promise<{ asked: number; ended: number }> {
    const now = Math.round(this.p.clock.now());
    const found = await this.standings(w, businessId, policy, { e164s }, now);
    const over = found.filter((x) => x.standing === 'over');
    const ending = found.filter((x) => x.standing === 'ending');
    await this.ledger.append(
      w,
      businessId,
      over.map(({ number, last, listed }) => ({
        e164: number.e164,
        purposes: policy.purposes.filter((kind) => number[kind]),
        kind: 'expired' as const,
        how: 'clock' as const,
        happenedAt: now,
        recordedBy: 'system',
        evidence: {
          policy: `${policy.months} months, ${policy.counts}`,
          lastContact: new Date(last.at).toISOString(),
          lastContactBy: last.how,
          listed: new Date(listed?.listedAt ?? now).toISOString(),
          asked: listed?.askedAt ? new Date(listed.askedAt).toISOString() : `no: ${listed?.why ?? ''}`,
        },
      })),
    );
    const endingNumbers = new Set(ending.map((x) => x.number.e164));
    await store.dropExpiring(
      w,
      businessId,
      e164s.filter((x) => !endingNumbers.has(x)),
    );
    const asked = await this.ask(
      w,
      businessId,
      policy,
      ending.filter((x) => !x.listed?.askedAt).map((x) => x.number.e164),
      jobId,
    );
    const saidOf = (x: Ending): { askedAt: number | null; why: string } => {
      if (x.listed?.askedAt) return { askedAt: x.listed.askedAt, why: '' };
      const why = asked.get(x.number.e164) ?? '';
      return { askedAt: why === '' ? now : null, why };
    };
    await store.listExpiring(
      w,
      ending.map((x) => ({
        businessId,
        e164: x.number.e164,
        contactId: x.number.contactId,
        lastAt: x.last.at,
        lastHow: x.last.how,
        endsAt: x.endsAt,
        listedAt: x.listed?.listedAt ?? now,
        seenAt: turn.turnAt,
        ...saidOf(x),
      })),
    );
    return { asked: [...asked.values()].filter((why) => why === '').length, ended: over.length };
  }

  /** Asks these people by letter. @returns of each number why it was not; empty where it was. */
  private async ask(
    w: Writer,
    businessId: string,
    policy: ExpiryPolicyView,
    e164s: readonly string[],
    jobId: string,
  ): Promise<Map<string, string>> {
    const why = new Map(
      e164s.map((x) => [x, policy.invitationId === '' ? 'no letter is chosen' : 'no e-mail is known']),
    );
    if (policy.invitationId === '' || e164s.length === 0) return why;
    // One letter to a person, also to one of whom several numbers end.
    const people = (await this.contacts.people(w, businessId, e164s)).filter((x) => hasMailbox(x.email));
    const once = [...new Map(people.map((x) => [x.contactId, x] as const)).values()];
    const verdicts = await this.invitations.askToStay(w, businessId, policy.invitationId, once, jobId);
    const byContact = new Map([...verdicts].map(([person, verdict]) => [person.contactId, verdict] as const));
    for (const person of people) {
      const verdict = byContact.get(person.contactId);
      why.set(person.e164, verdict && verdict in NOT_ASKED ? NOT_ASKED[verdict as keyof typeof NOT_ASKED] : '');
    }
    return why;
  }
}

function told({ asked, ended }: Turn): string {
  const said = [
    asked > 0 ? `${asked.toLocaleString('en-US')} asked whether they want to stay` : '',
    ended > 0 ? `the consent of ${ended.toLocaleString('en-US')} ended` : '',
  ].filter((x) => x !== '');
  return said.length > 0 ? said.join(', ') : 'nobody’s consent ends soon that was not asked before';
}
