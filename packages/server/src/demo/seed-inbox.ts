import { idFrom } from '../platform/ids.js';
import { ANSWERS, INCOMING, type DemoBusiness } from './scenario.data.js';
import type { MadeBusiness } from './seed-business.js';
import type { DemoContact } from './seed-contacts.js';
import type { Seeding } from './seed.js';

const HOUR = 3_600_000;

/** Conversations of the last weeks, some unread, and replies that may be a wish to stop. */
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
    await w.run(
      `INSERT INTO message (id, business_id, direction, kind, number_id, e164, contact_number_id, text, state, created_at, final_at) VALUES ($1,$2,'in','reply',$3,$4,$5,$6,'received',$7,$7)`,
      [id, made.id, numberId, c.e164, c.row, words, at],
    );
    s.past.handset.push({ phone: c.e164, peer: ours, direction: 'out', text: words, at });
    let last = { at, text: words };
    if (!unread) {
      const answer = `${b.nameLine}: ${random.pick(ANSWERS)}`;
      const then = at + random.int(4, 50) * 60_000;
      await w.run(
        `INSERT INTO message (id, business_id, direction, kind, purpose, number_id, e164, contact_number_id, text, state, carrier, created_at, sent_at, final_at, cost, sent_by) VALUES ($1,$2,'out','answer','conversational',$3,$4,$5,$6,'delivered',$7,$8,$8,$9,7000,'Tobiah Fenwether')`,
        [idFrom('msg', made.id, 'out', c.e164), made.id, numberId, c.e164, c.row, answer, c.carrier, then, then + 4000],
      );
      s.past.handset.push({ phone: c.e164, peer: ours, direction: 'in', text: answer, at: then + 4000 });
      last = { at: then, text: answer };
    }
    await w.run(
      'INSERT INTO thread (business_id, e164, number_id, last_at, last_text, unread) VALUES ($1,$2,$3,$4,$5,$6)',
      [made.id, c.e164, numberId, last.at, last.text, unread ? 1 : 0],
    );
    await w.run('UPDATE contact_number SET conversation_until = $2 WHERE id = $1', [c.row, at + 24 * HOUR]);
    if (doubtful) {
      await s.app.contacts.setWishInReview(w, made.id, c.e164, true);
      await w.run(
        `INSERT INTO reply_review (id, business_id, e164, message_id, reading, at) VALUES ($1,$2,$3,$4,$5,$6)`,
        [
          idFrom('rev', id),
          made.id,
          c.e164,
          id,
          JSON.stringify({
            matched: i === 2 ? 'not interested' : 'stop sending',
            confidence: i === 2 ? 0.6 : 0.7,
            purposes: i === 2 ? ['conversational', 'informational', 'promotional'] : ['promotional'],
            stopped: false,
          }),
          at,
        ],
      );
    }
  }
}
