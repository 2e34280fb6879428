import { randomUUID } from 'node:crypto';
import { GatewayDown } from '@long-gate/gateways';
import { PURPOSES, type Purpose } from '@long-gate/core';
import { ADA, BOTH, PHONES, WORK, today, type Phone, type Street } from './street.js';

const bytes = (text: string): string => Buffer.from(text).toString('base64');
const CAME_FROM = { ip: '192.0.2.9', agent: 'somebody' };
type Act = (s: Street, e164: Phone) => Promise<unknown>;

/** Somebody does what is answered by a text that asks for their YES. */
const isAsked = async (
  s: Street,
  e164: Phone,
  purposes: readonly Purpose[],
  doing: () => Promise<unknown>,
): Promise<void> => {
  const { outside } = s.o;
  const unsure = outside.nextSend instanceof GatewayDown || (outside.nextSend !== null && outside.lostLots > 0);
  s.bystander.wishes(e164, purposes, s.o.now);
  await doing();
  await s.o.settle();
  if (unsure && outside.nextSend === null) s.bystander.of(e164).inTheAir = purposes;
};
const fillIn = async (s: Street, e164: Phone, purposes: ('informational' | 'promotional')[]): Promise<void> => {
  const { words } = await s.o.app.publicPages.publicPage('heron');
  const form = { phone: e164, firstName: 'Ada', purposes, words };
  return isAsked(s, e164, purposes, () => s.o.app.publicPages.optIn('heron', form, CAME_FROM));
};
const joinByTheSign: Act = (s, e164) => isAsked(s, e164, ['promotional'], () => s.text(e164, 'RYE'));
/** It counts where the last text to reach them asked for it, and for what it asked. */
const yes: Act = async (s, e164) => {
  const kinds = s.bystander.asked(e164, s.o.now);
  if (kinds.length > 0) s.bystander.saysYes(e164, kinds);
  await s.text(e164, 'YES');
};
const toldAColleague = async (s: Street, e164: Phone, purposes: readonly Purpose[]): Promise<unknown> => {
  await s.o.app.replies.recordWish(s.o.admin, s.o.business, {
    e164,
    purposes: [...purposes],
    how: 'phone call',
    words: 'She asked to be left alone.',
  });
  return s.saysNo(e164, purposes);
};

/** What people do themselves. */
const THEIRS: Record<string, Act> = {
  'says STOP': async (s, e164) => {
    await s.saysNo(e164, PURPOSES);
    await s.text(e164, 'STOP');
  },
  'says STOP to our other number': async (s, e164) => {
    await s.saysNo(e164, PURPOSES);
    await s.text(e164, 'STOP', s.second.e164);
  },
  'says START': async (s, e164) => {
    s.bystander.saysYes(e164, s.bystander.of(e164).left);
    await s.text(e164, 'START');
  },
  'says YES': yes,
  'fills in the page': (s, e164) => fillIn(s, e164, [...BOTH]),
  'fills in the page for notices': (s, e164) => fillIn(s, e164, ['informational']),
  'fills in the page and says YES': async (s, e164) => {
    await fillIn(s, e164, [...BOTH]);
    await yes(s, e164);
  },
  'texts the word on the sign': joinByTheSign,
  'texts the word on the sign and says YES': async (s, e164) => {
    await joinByTheSign(s, e164);
    await yes(s, e164);
  },
  'wants both kinds, on their own page': (s, e164) => s.ownPage(e164, 'choose', BOTH),
  'wants notices alone, on their own page': (s, e164) => s.ownPage(e164, 'choose', ['informational']),
  'wants nothing more, on their own page': (s, e164) => s.ownPage(e164, 'leave', []),
  'wants both kinds, on the page of their letter': (s, e164) => s.answersLetter(e164, null),
  'is at Ada’s other number now, they say on the page of their letter': (s, e164) => s.answersLetter(e164, WORK),
  'asks for help': (s, e164) => s.text(e164, 'HELP'),
  'asks something': (s, e164) => s.text(e164, 'When do you open on Sundays?'),
  'says what may be a wish': async (s, e164) => {
    await s.text(e164, 'you people text a lot');
    await s.notRead(e164);
  },
  'wants no offers, in words of their own': async (s, e164) => {
    await s.text(e164, 'no more offers please, just tell me when my order is ready');
    await s.notRead(e164);
  },
  'leaves by the page': async (s, e164) => {
    await s.o.app.publicPages.optOut('heron', e164, CAME_FROM);
    await s.saysNo(e164, PURPOSES);
  },
  'says no while texts leave': async (s, e164) => {
    const { outside } = s.o;
    // It reaches the network at the moment the text does.
    outside.beforeSend = async (text) => {
      if (text.to === e164 && !PURPOSES.every((k) => s.bystander.hasSaidNo(e164, k))) {
        outside.beforeSend = null;
        await s.saysNo(e164, PURPOSES);
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

/** What colleagues file, and do with contacts. */
const OF_STAFF: Record<string, Act> = {
  'says no to a colleague': (s, e164) => toldAColleague(s, e164, PURPOSES),
  'wants no offers, they tell a colleague': (s, e164) => toldAColleague(s, e164, ['promotional']),
  'has signed a paper form': async (s, e164) => {
    const { app, admin, business } = s.o;
    const form = {
      whom: { listId: null, filter: null, e164s: [e164], behind: null, claimedBy: null },
      purposes: [...BOTH],
      signedOn: today(s.o),
      disclosure:
        'Text me offers and news, about four a month. I agree that Heron Lane Bakery LLC may send me automated promotional texts at this number. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end. Privacy and terms: heron.example.',
      name: 'form.pdf',
      bytes: Buffer.from('%PDF-1.4 a form that was signed'),
    };
    await app.forms.file(admin, business, form, randomUUID());
    // Of a day on which they also said no, the no counts.
    const signed = BOTH.filter((kind) => !s.saidNoToday(e164, kind));
    s.bystander.saysYes(e164, signed, false);
    await s.o.settle();
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
    await s.saysNo(e164, PURPOSES);
    await s.o.settle();
  },
  'is answered': (s, e164) => s.o.app.inbox.answer(s.o.admin, s.o.business, e164, s.next('ANSWER'), randomUUID()),
  'is deleted': async (s, e164) => {
    const id = await s.known(e164);
    await s.o.app.removals.delete(s.o.admin, s.o.business, { ids: [id], filter: null, seen: 1 }, randomUUID());
  },
  'is erased': async (s, e164) => s.o.app.removals.erase(s.o.admin, s.o.business, await s.known(e164), 'By letter.'),
  'comes with a list that claims consent': (s, e164) => s.o.claimed(e164),
  'is merged into Ada': async (s, e164) => {
    const [kept, gone] = [await s.known(ADA), await s.known(e164)];
    const [keptVersion, goneVersion] = [await s.versionOf(kept), await s.versionOf(gone)];
    await s.o.app.merges.merge(s.o.admin, s.o.business, kept, { with: gone, keptVersion, goneVersion });
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
  'is a number of Ada’s': async (s, e164) =>
    s.o.app.edits.addNumber(s.o.admin, s.o.business, await s.known(ADA), { number: e164, label: '' }),
  'is the preferred number': async (s, e164) =>
    s.o.app.edits.preferNumber(s.o.admin, s.o.business, await s.known(e164), e164),
  'is taken off its contact': async (s, e164) =>
    s.o.app.edits.dropNumber(s.o.admin, s.o.business, await s.known(e164), e164),
  'moves to California': (s, e164) => s.moves(e164, 'CA'),
  'moves to Florida': (s, e164) => s.moves(e164, 'FL'),
  'is put on a list of ours': async (s, e164) => {
    const { app, admin, business } = s.o;
    const wish = { name: 'Our own list', kind: 'own' as const, source: 'the office', datedOn: today(s.o) };
    const list = await app.suppression.add(admin, business, wish, randomUUID());
    await app.suppression.take(business, list.id, { edition: 1, part: 0, lines: [e164] });
    await app.suppression.finish(admin, business, list.id, { edition: 1, parts: 1 });
    s.bystander.listed.add(e164);
  },
};

const lookup = async (s: Street, e164: Phone, is: { lineType: 'landline' | 'mobile'; carrier: string }) =>
  s.o.app.platform.db.write((w) =>
    s.o.app.contacts.storeLookup(w, s.o.business, [
      { e164, ...is, carrierKind: 'A', reachable: true, askedAt: s.o.now },
    ]),
  );
/** Whether a number has changed hands is asked, which is only done of those who agreed to something. */
const askWhose = async (s: Street, e164: Phone, answer: 'yes' | 'no' | 'no data'): Promise<void> => {
  const { outside, app, admin, business } = s.o;
  const before = outside.reassignedAsked.length;
  outside.reassigned.set(e164, answer);
  const whom = { listId: null, filter: null, e164s: [e164], behind: null, again: true };
  await app.reassigned.start(admin, business, whom, randomUUID());
  await s.o.settle();
  if (outside.reassignedAsked.length === before) return;
  if (answer === 'yes') s.bystander.changesHands(e164);
  else s.bystander.of(e164).whose = answer === 'no' ? 'theirs' : 'unknown';
};

/** What carriers and registers say. */
const OF_CARRIERS: Record<string, Act> = {
  'is said to be a landline': (s, e164) => lookup(s, e164, { lineType: 'landline', carrier: 'Old Copper' }),
  'is looked up': (s, e164) => lookup(s, e164, { lineType: 'mobile', carrier: 'Tessary Wireless' }),
  'turns out to be somebody else’s': (s, e164) => askWhose(s, e164, 'yes'),
  'turns out to be theirs still': (s, e164) => askWhose(s, e164, 'no'),
  'is nobody’s that is known': (s, e164) => askWhose(s, e164, 'no data'),
  'refuses at the carrier': async (s, e164) => {
    if (await s.receipt(e164, { failure: 'refused-by-owner', code: '21', reason: 'Refused by its owner.' }))
      s.bystander.of(e164).refused = true;
  },
  'is out of reach': (s, e164) => s.receipt(e164, { failure: 'passing-fault', code: '10', reason: 'Switched off.' }),
  'has it delivered': (s, e164) => s.receipt(e164, null),
};

/** What may be done by or to one of them. */
export const ACTS: Readonly<Record<string, Act>> = { ...THEIRS, ...OF_STAFF, ...OF_CARRIERS };
