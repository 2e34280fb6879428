import type {
  OptInInvitation,
  OptInInvitationEdit,
  Invited,
  previewInvitation,
  sendInvitation,
  Whom,
} from '@long-gate/contracts';
import { z } from 'zod';
import { ActorShape, record, SYSTEM, type Actor } from '../../../platform/audit.js';
import { packCursor, readCursor } from '../../../platform/cursor.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom, newId } from '../../../platform/ids.js';
import type { JobContext, JobOutcome } from '../../../platform/jobs.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, Problem, refused } from '../../../platform/problem.js';
import type { Contacts, Person } from '../../contacts/index.js';
import type { Ledger } from '../ledger/ledger.js';
import { refusedAmong } from '../letters/letter-store.js';
import type { KeptLetter, LettersOnTheirWay } from '../letters/letters-on-their-way.js';
import {
  filledLetter,
  hashOf,
  keepLetter,
  LINK_GOOD_MS,
  newToken,
  reachableBy,
  writeInLots,
} from '../letters/letters.js';
import type { PublicPages } from '../pages/public-pages.js';
import * as store from './invitation-store.js';
import type { OptInInvitationModel, PersonalLinkModel } from './model.js';

type Edit = z.output<typeof OptInInvitationEdit>;
type Letter = Omit<z.output<typeof previewInvitation.body>, 'whom'>;
const DAY_MS = 86_400_000;
/** People among whom those who are new are looked for each day. */
const MOST_STANDING = 200_000;
const Round = z.object({
  e164s: z.array(z.string()),
  invitationId: z.string(),
  pageId: z.string(),
  subject: z.string(),
  text: z.string(),
  againDays: z.number(),
  actor: ActorShape,
});
type Round = z.infer<typeof Round>;
/** Whether somebody may be written to. */
export type Verdict = 'invited' | 'noMore' | 'lately' | 'inAlready' | 'left';
type Sorted = Record<'noEmail' | Exclude<Verdict, 'invited'>, number> & { invited: Person[] };

/** Inviting people by e-mail to say by their own link which texts they want. Nobody is opted in by it. */
export class OptInInvitations {
  constructor(
    private readonly p: Platform,
    private readonly contacts: Contacts,
    private readonly ledger: Ledger,
    private readonly pages: PublicPages,
    letters: LettersOnTheirWay,
  ) {
    p.jobs.handle('invitations', Round, (round, context) => this.turn(round, context));
    p.jobs.handle('invitations.daily', z.unknown(), async (_, { job }) => {
      // One by one, each in a write of its own: a business with many contacts keeps no other waiting.
      for (const invitation of await store.standingInvitations(p.db))
        await this.inviteNew(invitation, job.runAt).catch((error: unknown) => {
          // One that has grown too large, or lost its page, keeps no other from its day.
          if (!(error instanceof Problem)) throw error;
          p.log.warn({ invitation: invitation.id, why: error.message }, 'nobody was invited by itself');
        });
      return { done: false, at: p.clock.now() + DAY_MS };
    });
    p.db.facts.on('contact.erased', (w, { businessId, people }) =>
      store.dropLinksOf(
        w,
        businessId,
        people.map(([e164]) => e164),
      ),
    );
    letters.of('lnk', async (r, id) => {
      const link = await store.linkById(r, id);
      return link && this.kept(link);
    });
  }

  /** Those that invite by themselves are looked at once a day. */
  async begin(): Promise<void> {
    await this.p.db.write((w) =>
      this.p.jobs.add(w, {
        kind: 'invitations.daily',
        businessId: '',
        payload: {},
        key: 'invitations.daily',
        at: this.p.clock.now() + DAY_MS,
      }),
    );
  }

  async list(businessId: string): Promise<OptInInvitation[]> {
    const came = new Map((await store.cameOf(this.p.db, businessId)).map((x) => [x.invitationId, x] as const));
    return (await store.invitationsOf(this.p.db, businessId)).map((x) => this.shown(x, came.get(x.id)));
  }

  private shown(x: OptInInvitationModel, came?: OptInInvitation['came']): OptInInvitation {
    const { id, title, pageId, subject, text, againDays, createdBy, version } = x;
    const { sent = 0, heldBack = 0, failed = 0, opened = 0, answered = 0, joined = 0, left = 0 } = came ?? {};
    return {
      id,
      title,
      pageId,
      subject,
      text,
      againDays,
      createdBy,
      version,
      standing: x.standing ?? null,
      lastSentAt: x.lastSentAt ?? null,
      came: { sent, heldBack, failed, opened, answered, joined, left },
    };
  }

  async add(actor: Actor, businessId: string, e: Edit): Promise<OptInInvitation> {
    const id = newId('inv');
    await this.p.db.write(async (w) => {
      await this.check(w, businessId, e);
      await store.addInvitation(w, { id, businessId, ...e, createdBy: actor.name, createdAt: this.p.clock.now() });
      await this.changed(w, actor, businessId, id, 'invitation kept', undefined, e);
    });
    return this.get(businessId, id);
  }

  async edit(actor: Actor, businessId: string, id: string, seen: number | null, e: Edit): Promise<OptInInvitation> {
    await this.p.db.write(async (w) => {
      const invitation = await this.known(w, businessId, id);
      expectVersion('invitation', invitation, seen);
      await this.check(w, businessId, e);
      const before = { ...invitation.get(), standing: invitation.standing };
      await store.saveInvitation(invitation, e);
      await this.changed(w, actor, businessId, id, 'invitation edited', before, e);
    });
    return this.get(businessId, id);
  }

  /** @throws Problem 404 for another's page, 422 for more people than can be gone through each day. */
  private async check(r: Reader, businessId: string, e: Edit): Promise<void> {
    await this.pages.known(r, businessId, e.pageId);
    if (e.standing) await reachableBy(r, this.contacts, businessId, e.standing, MOST_STANDING);
  }

  private async changed(
    w: Writer,
    actor: Actor,
    businessId: string,
    id: string,
    action: string,
    before: object | undefined,
    after: object,
  ): Promise<void> {
    await record(w, this.p.clock, {
      businessId,
      actor,
      action,
      objectKind: 'opt-in invitation',
      objectId: id,
      ...(before ? { before } : {}),
      after,
    });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'consent' }));
  }

  private async known(r: Reader, businessId: string, id: string): Promise<OptInInvitationModel> {
    const invitation = await store.invitationById(r, businessId, id);
    if (!invitation) throw notFound('invitation');
    return invitation;
  }
  private async get(businessId: string, id: string): Promise<OptInInvitation> {
    const x = await this.known(this.p.db, businessId, id);
    const came = (await store.cameOf(this.p.db, businessId)).find((c) => c.invitationId === id);
    return this.shown(x, came);
  }

  async preview(businessId: string, { whom, ...letter }: z.output<typeof previewInvitation.body>) {
    const { invited, ...counts } = await this.sorted(this.p.db, businessId, letter, whom);
    const [first] = invited;
    return {
      ...counts,
      invited: invited.length,
      sample: first
        ? {
            to: first.email,
            subject: filledLetter(letter.subject, first, ''),
            text: filledLetter(letter.text, first, this.p.mailer.link('/my-texts/…')),
          }
        : null,
    };
  }

  /** @throws Problem 409 where others are to be invited than were seen, 422 where nobody is. */
  async send(
    actor: Actor,
    businessId: string,
    id: string,
    wish: z.output<typeof sendInvitation.body>,
    key: string,
  ): Promise<{ jobId: string; invited: number }> {
    const jobKey = idFrom('ivt', businessId, key);
    const known = await this.p.jobs.idOf(this.p.db, jobKey);
    if (known !== undefined) return { jobId: known, invited: wish.seen };
    const invitation = await this.known(this.p.db, businessId, id);
    const { invited } = await this.sorted(this.p.db, businessId, invitation, wish.whom);
    if (invited.length === 0) throw refused('Nobody is left to be invited: look at why, beside the letter.');
    if (invited.length !== wish.seen)
      throw conflict(`${invited.length} people would be invited now; ${wish.seen} when you looked. Look again.`);
    return { jobId: await this.begun(invitation, actor, invited, jobKey), invited: invited.length };
  }

  private begun(
    invitation: OptInInvitationModel,
    actor: Actor,
    invited: readonly Person[],
    key: string,
  ): Promise<string> {
    const { id, businessId, pageId, subject, text, againDays, title } = invitation;
    const n = invited.length;
    return this.p.db.write(async (w) => {
      const meanwhile = await this.p.jobs.idOf(w, key);
      if (meanwhile !== undefined) return meanwhile;
      await store.noteSent(w, id, this.p.clock.now());
      await this.changed(w, actor, businessId, id, 'people invited', undefined, { people: n, subject });
      const payload: Round = {
        e164s: invited.map((x) => x.e164),
        invitationId: id,
        pageId,
        subject,
        text,
        againDays,
        actor: { id: actor.id, name: actor.name },
      };
      return this.p.jobs.add(w, {
        kind: 'invitations',
        businessId,
        payload,
        title: n === 1 ? `Inviting one person by “${title}”` : `Inviting ${n} people by “${title}”`,
        total: n,
        key,
      });
    });
  }

  /** Whoever is new among those it is for. The same day's turn, carried out again after a crash, invites nobody twice. */
  private async inviteNew(invitation: OptInInvitationModel, day: number): Promise<void> {
    if (!invitation.standing) return;
    const { businessId, standing } = invitation;
    const { invited } = await this.sorted(this.p.db, businessId, invitation, standing, MOST_STANDING);
    if (invited.length > 0)
      await this.begun(invitation, SYSTEM, invited, idFrom('ivt', invitation.id, `daily ${Math.round(day)}`));
  }

  /**
   * Who is invited, each once, and how many are not and why.
   * @throws Problem 422 where the page's number is not in service: whoever came would be asked for no YES.
   */
  private async sorted(
    r: Reader,
    businessId: string,
    letter: Pick<Letter, 'pageId' | 'againDays'>,
    whom: Whom,
    most?: number,
  ): Promise<Sorted> {
    const page = await this.pages.publicById(r, businessId, letter.pageId);
    if (!(await this.pages.canAsk(r, businessId, letter.pageId))) {
      const message = `The number of “${page.title}” that asks for the YES is not in service. Choose another for the page first.`;
      throw refused(message, [{ field: 'pageId', message }]);
    }
    const { people, noEmail } = await reachableBy(r, this.contacts, businessId, whom, most);
    return { noEmail, ...(await this.mayBeInvited(r, businessId, page.purposes, letter.againDays, people)) };
  }

  /**
   * Whether each of these people may be written to, and why not: the first reason that holds counts.
   * @param keeping also who gets all of it already.
   */
  private async verdicts(
    r: Reader,
    businessId: string,
    offered: readonly { purpose: 'informational' | 'promotional' }[],
    againDays: number,
    people: readonly Person[],
    keeping = false,
  ): Promise<Map<Person, Verdict>> {
    const no = await refusedAmong(
      r,
      businessId,
      people.map((x) => hashOf(x.email.toLowerCase())),
    );
    const last = await store.lastInvited(
      r,
      people.map((x) => x.contactId),
    );
    const rows = await this.ledger.statesOfAll(
      r,
      businessId,
      people.map((x) => x.e164),
    );
    const states = new Map(rows.map((x) => [x.e164, x] as const));
    const since = this.p.clock.now() - againDays * DAY_MS;
    return new Map(
      people.map((person) => {
        const state = states.get(person.e164);
        if (no.has(hashOf(person.email.toLowerCase()))) return [person, 'noMore'];
        // An opt-out is theirs alone to lift: they are not asked about it either.
        if (offered.some((x) => ['revoked', 'disputed'].includes(state?.[x.purpose] ?? 'none')))
          return [person, 'left'];
        if (!keeping && offered.every((x) => state?.[x.purpose] === 'granted')) return [person, 'inAlready'];
        return [person, (last.get(person.contactId) ?? -Infinity) > since ? 'lately' : 'invited'];
      }),
    );
  }

  /** Whoever may be invited, and how many may not, by why. */
  private async mayBeInvited(...of: Parameters<OptInInvitations['verdicts']>): Promise<Omit<Sorted, 'noEmail'>> {
    const out = { invited: [] as Person[], noMore: 0, lately: 0, inAlready: 0, left: 0 };
    for (const [person, verdict] of await this.verdicts(...of))
      if (verdict === 'invited') out.invited.push(person);
      else out[verdict]++;
    return out;
  }

  /**
   * Asks people who are in whether they want to stay, by the letter of an invitation, in the caller's write.
   * @param by what asks: the same asks nobody twice.
   * @returns what became of each.
   */
  async askToStay(
    w: Writer,
    businessId: string,
    invitationId: string,
    people: readonly Person[],
    by: string,
  ): Promise<Map<Person, Verdict>> {
    const invitation = await this.known(w, businessId, invitationId);
    const { purposes } = await this.pages.publicById(w, businessId, invitation.pageId);
    const { id, pageId, subject, text, againDays } = invitation;
    const round = { e164s: [], invitationId: id, pageId, subject, text, againDays, actor: SYSTEM };
    const verdicts = await this.verdicts(w, businessId, purposes, againDays, people, true);
    const invited = [...verdicts].filter(([, verdict]) => verdict === 'invited').map(([person]) => person);
    for (const person of invited) await this.invite(w, businessId, round, person, idFrom('lnk', by, person.contactId));
    if (invited.length > 0) await store.noteSent(w, id, this.p.clock.now());
    return verdicts;
  }

  /** Lot by lot; who was invited meanwhile, or left, is passed over. */
  private async turn(round: Round, context: JobContext): Promise<JobOutcome> {
    const { id, businessId } = context.job;
    return writeInLots(this.p, round, context, async (w, part) => {
      const page = await this.pages.publicById(w, businessId, round.pageId);
      const people = (await this.contacts.people(w, businessId, part)).filter((x) => x.email !== '');
      const { invited } = await this.mayBeInvited(w, businessId, page.purposes, round.againDays, people);
      for (const person of invited)
        await this.invite(w, businessId, round, person, idFrom('lnk', id, person.contactId));
    });
  }

  private async invite(w: Writer, businessId: string, round: Round, person: Person, id: string): Promise<void> {
    const token = newToken();
    const now = this.p.clock.now();
    await store.addLink(w, {
      id,
      businessId,
      invitationId: round.invitationId,
      contactId: person.contactId,
      pageId: round.pageId,
      tokenHash: hashOf(token),
      email: person.email,
      e164: person.e164,
      sentBy: round.actor.name,
      sentAt: now,
      expiresAt: now + LINK_GOOD_MS,
      words: await keepLetter(w, businessId, round, now),
      firstName: person.firstName,
      lastName: person.lastName,
    });
    const link = this.p.mailer.link(`/my-texts/${token}`);
    await this.p.mailer.put(w, `invitation:${id}`, {
      to: person.email,
      subject: filledLetter(round.subject, person, ''),
      text: `${filledLetter(round.text, person, link)}\n\nNo more e-mails like this one: ${link}/letters`,
      unsubscribe: `${link}/letters`,
    });
  }

  /** A letter as whoever follows letters knows it. */
  private kept(link: PersonalLinkModel): KeptLetter {
    const { businessId, email, e164 } = link;
    return {
      businessId,
      email,
      e164,
      not: async (r, person) => {
        if (link.withdrawnAt) return 'Its link was taken back before it left.';
        const page = await this.pages.publicById(r, businessId, link.pageId).catch(problemOf);
        if (page instanceof Problem) return 'The page its link leads to is not there any more.';
        const verdicts = await this.verdicts(r, businessId, page.purposes, 0, [person], true);
        return verdicts.get(person) === 'left' ? 'They said meanwhile that they want no texts.' : '';
      },
      // A letter nobody got has a link that nobody has.
      ended: (failed, why) =>
        link.update({ failed, why, ...(failed === 'held back' ? { withdrawnAt: this.p.clock.now() } : {}) }),
    };
  }

  async people(
    businessId: string,
    id: string,
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: Invited[]; next: string | null; total: number }> {
    await this.known(this.p.db, businessId, id);
    const place = cursor ? readCursor(z.tuple([z.number(), z.string()]), cursor) : null;
    const rows = await store.linksAfter(this.p.db, id, place && { sentAt: place[0], id: place[1] }, limit + 1);
    const links = rows.slice(0, limit);
    const names = await this.contacts.names(
      this.p.db,
      businessId,
      links.map((x) => x.e164),
    );
    const last = links.at(-1);
    return {
      items: links.map((x) => ({
        id: x.id,
        contactId: x.contactId,
        name: names.get(x.e164)?.name ?? '',
        email: x.email,
        e164: x.e164,
        newE164: x.newE164 ?? null,
        state: stateOf(x, this.p.clock.now()),
        why: x.why,
        sentBy: x.sentBy,
        sentAt: x.sentAt,
        answeredAt: x.answeredAt ?? null,
      })),
      next: rows.length > limit && last ? packCursor([last.sentAt, last.id]) : null,
      total: await store.countLinks(this.p.db, id),
    };
  }

  async withdraw(actor: Actor, businessId: string, id: string, linkId: string | null): Promise<{ withdrawn: number }> {
    return this.p.db.write(async (w) => {
      await this.known(w, businessId, id);
      const withdrawn = await store.withdrawLinks(w, id, linkId, this.p.clock.now());
      if (withdrawn > 0)
        await this.changed(w, actor, businessId, id, 'links of an invitation taken back', undefined, {
          links: withdrawn,
        });
      return { withdrawn };
    });
  }
}

/** What came of a letter: what its person did outlives the link itself. */
export function stateOf(x: PersonalLinkModel, now: number): Invited['state'] {
  if (x.joinedAt) return 'joined';
  if (x.chose) return x.chose;
  if (x.failed) return x.failed;
  if (x.withdrawnAt) return 'withdrawn';
  if (x.expiresAt <= now) return 'lapsed';
  return x.openedAt ? 'opened' : 'sent';
}

/** What was refused, as an answer; what broke goes on. */
function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  throw error;
}
