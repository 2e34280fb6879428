import { ANSWER_WITHIN_MS, DEFAULT_PRICES } from '@long-gate/core';
import { replyReviewTable } from '../areas/consent/model.js';
import { contactNumberTable } from '../areas/contacts/model.js';
import { messageTable } from '../areas/dispatch/model.js';
import { threadTable } from '../areas/inbox/model.js';
import { SYSTEM } from '../platform/audit.js';
import { idFrom } from '../platform/ids.js';
import { ANSWERS, INCOMING, PEOPLE, type DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import type { DemoContact } from './seed-contacts.js';
import type { Seeding } from './seed.js';

const HOUR = 3_600_000;
/** So many of those who left by a word have their conversation, and so far back. */
const LEAVERS = 12;
const SHOWN_MS = 60 * 24 * HOUR;

/** Conversations of the last weeks, some waiting, some carried out by themselves, and replies that may be a wish to stop. */
export async function seedInbox(
  s: Seeding,
  b: DemoBusiness,
  made: MadeBusiness,
  contacts: DemoContact[],
): Promise<void> {
  const { w, random, start } = s;
  const talkers = contacts
    .filter(
      (c) =>
        c.lookedUp &&
        c.lineType === 'mobile' &&
        (c.revokedAt === null || c.backAt !== null) &&
        c.firstName !== '' &&
        c.granted.informational !== undefined,
    )
    .slice(0, b.key === 'saltmarsh' ? 26 : b.key === 'northbank' ? 7 : 3);
  const numberId = made.numbers.get(b.key === 'saltmarsh' ? '+15515550188' : (b.numbers[0]?.e164 ?? '')) ?? '';
  const ours = b.key === 'saltmarsh' ? '+15515550188' : (b.numbers[0]?.e164 ?? '');
  for (const c of leavers(contacts, start)) await seedLeaving(s, b, { id: made.id, numberId, ours }, c);
  for (const [i, c] of talkers.entries()) {
    const at = Math.round(start - (0.4 + i * random.between(6, 16)) * HOUR);
    const doubtful = b.key === 'saltmarsh' && (i === 2 || i === 5);
    const words = doubtful
      ? i === 2
        ? 'not interested any more'
        : 'please stop sending me offers'
      : random.pick(INCOMING);
    const unread = i < 4 || doubtful;
    const id = idFrom('msg', made.id, 'in', c.e164);
    const between = { businessId: made.id, numberId, e164: c.e164, contactNumberId: c.row };
    await w.of(messageTable).create({
      ...between,
      id,
      direction: 'in',
      kind: 'reply',
      text: words,
      state: 'received',
      createdAt: at,
      finalAt: at,
    });
    s.past.handset.push({ phone: c.e164, peer: ours, direction: 'out', text: words, at });
    let last = { at, text: words };
    if (!unread) {
      const answer = `${b.nameLine}: ${random.pick(ANSWERS)}`;
      const then = at + random.int(4, 50) * 60_000;
      await w.of(messageTable).create({
        ...between,
        id: idFrom('msg', made.id, 'out', c.e164),
        direction: 'out',
        kind: 'answer',
        purpose: 'conversational',
        text: answer,
        state: 'delivered',
        carrier: c.carrier,
        createdAt: then,
        sentAt: then,
        finalAt: then + 4000,
        cost: DEFAULT_PRICES.segment,
        sentBy: PEOPLE[1].name,
      });
      s.past.handset.push({ phone: c.e164, peer: ours, direction: 'in', text: answer, at: then + 4000 });
      last = { at: then, text: answer };
    }
    await w.of(threadTable).create({
      businessId: made.id,
      e164: c.e164,
      numberId,
      lastAt: last.at,
      lastText: last.text,
      unread: unread ? 1 : 0,
      waitsUntil: unread ? at + ANSWER_WITHIN_MS : null,
    });
    await w.of(contactNumberTable).update({ conversationUntil: at + ANSWER_WITHIN_MS }, { where: { id: c.row } });
    if (doubtful) {
      await s.app.contacts.setWishInReview(w, made.id, c.e164, true);
      await w.of(replyReviewTable).create({
        id: idFrom('rev', id),
        businessId: made.id,
        e164: c.e164,
        messageId: id,
        reading: {
          matched: i === 2 ? 'not interested' : 'stop sending',
          confidence: i === 2 ? 0.6 : 0.7,
          purposes: i === 2 ? ['conversational', 'informational', 'promotional'] : ['promotional'],
          stopped: false,
        },
        at,
      });
    }
  }
}

/** Those who left by a word of theirs in the last weeks, the last first. */
function leavers(contacts: readonly DemoContact[], start: number): DemoContact[] {
  return contacts
    .filter(
      (c) =>
        c.lookedUp &&
        c.lineType === 'mobile' &&
        c.leftWith !== '' &&
        c.backAt === null &&
        (c.revokedAt ?? 0) > start - SHOWN_MS,
    )
    .sort((a, b) => (b.revokedAt ?? 0) - (a.revokedAt ?? 0))
    .slice(0, LEAVERS);
}

/** A conversation that nobody of the staff had to read: the word of leaving, and the one confirmation. */
async function seedLeaving(
  { w, past }: Seeding,
  b: DemoBusiness,
  { id, numberId, ours }: { id: string; numberId: string; ours: string },
  c: DemoContact,
): Promise<void> {
  const at = c.revokedAt ?? 0;
  const answeredAt = at + 2000;
  const answer = `${b.nameLine}: you are out and will get no more texts from us.`;
  const between = { businessId: id, numberId, e164: c.e164, contactNumberId: c.row };
  await w.of(messageTable).bulkCreate([
    {
      ...between,
      id: idFrom('msg', id, 'left', c.e164),
      direction: 'in',
      kind: 'reply',
      text: c.leftWith,
      state: 'received',
      createdAt: at,
      finalAt: at,
    },
    {
      ...between,
      id: idFrom('msg', id, 'out', c.e164),
      direction: 'out',
      kind: 'opt-out confirmation',
      purpose: 'informational',
      text: answer,
      state: 'delivered',
      carrier: c.carrier,
      createdAt: answeredAt,
      sentAt: answeredAt,
      finalAt: answeredAt + 4000,
      cost: DEFAULT_PRICES.segment,
      sentBy: SYSTEM.name,
    },
  ]);
  past.handset.push({ phone: c.e164, peer: ours, direction: 'out', text: c.leftWith, at });
  past.handset.push({ phone: c.e164, peer: ours, direction: 'in', text: answer, at: answeredAt + 4000 });
  await w.of(threadTable).create({
    businessId: id,
    e164: c.e164,
    numberId,
    lastAt: at,
    lastText: c.leftWith,
    handled: 'opt-out',
  });
}
