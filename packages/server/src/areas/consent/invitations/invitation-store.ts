import { literal, Op, type CreationAttributes } from 'sequelize';
import { jsonRows, type Reader, type Writer } from '../../../platform/db.js';
import { optInInvitationTable, personalLinkTable, type OptInInvitationModel, type PersonalLinkModel } from './model.js';

export async function invitationsOf(r: Reader, businessId: string): Promise<OptInInvitationModel[]> {
  return r.of(optInInvitationTable).findAll({ where: { businessId }, order: [['createdAt', 'DESC'], 'id'] });
}
export async function invitationById(r: Reader, businessId: string, id: string): Promise<OptInInvitationModel | null> {
  return r.of(optInInvitationTable).findOne({ where: { businessId, id } });
}
/** Those that invite by themselves. */
export async function standingInvitations(r: Reader): Promise<OptInInvitationModel[]> {
  return r.of(optInInvitationTable).findAll({ where: { standing: { [Op.ne]: null } }, order: ['createdAt', 'id'] });
}
export async function addInvitation(w: Writer, of: CreationAttributes<OptInInvitationModel>): Promise<void> {
  await w.of(optInInvitationTable).create(of);
}
export async function saveInvitation(
  invitation: OptInInvitationModel,
  change: Partial<CreationAttributes<OptInInvitationModel>>,
): Promise<void> {
  await invitation.update({ ...change, version: literal('version + 1') });
}
export async function noteSent(w: Writer, id: string, at: number): Promise<void> {
  await w.of(optInInvitationTable).update({ lastSentAt: at }, { where: { id } });
}

export async function addLink(w: Writer, link: CreationAttributes<PersonalLinkModel>): Promise<void> {
  await w.of(personalLinkTable).create(link);
}
export async function linkByHash(r: Reader, tokenHash: string): Promise<PersonalLinkModel | null> {
  return r.of(personalLinkTable).findOne({ where: { tokenHash } });
}
export async function linkById(r: Reader, id: string): Promise<PersonalLinkModel | null> {
  return r.of(personalLinkTable).findOne({ where: { id } });
}

/** When each of these contacts was invited last, by a letter that left; who never was is left out. */
export async function lastInvited(r: Reader, contactIds: readonly string[]): Promise<Map<string, number>> {
  const rows = await r.all<{ contactId: string; at: number }>(
    `SELECT l.contact_id AS "contactId", max(l.sent_at) AS at FROM jsonb_each($1) j CROSS JOIN personal_link l ON l.contact_id = j.value AND l.failed <> 'held back' GROUP BY 1`,
    [jsonRows(contactIds)],
  );
  return new Map(rows.map((x) => [x.contactId, x.at]));
}

/** What came of each of these invitations. */
export async function cameOf(
  r: Reader,
  businessId: string,
): Promise<
  {
    invitationId: string;
    sent: number;
    heldBack: number;
    failed: number;
    opened: number;
    answered: number;
    joined: number;
    left: number;
  }[]
> {
  return r.all(
    `SELECT invitation_id AS "invitationId", sum(CASE WHEN failed <> 'held back' THEN 1 ELSE 0 END) AS sent, sum(CASE WHEN failed = 'held back' THEN 1 ELSE 0 END) AS "heldBack",
     sum(CASE WHEN failed IN ('came back', 'complained') THEN 1 ELSE 0 END) AS failed, count(opened_at) AS opened,
     count(answered_at) AS answered, count(joined_at) AS joined, sum(CASE WHEN chose = 'left' THEN 1 ELSE 0 END) AS "left"
     FROM personal_link WHERE business_id = $1 GROUP BY 1`,
    [businessId],
  );
}

/** Who was invited, the last first, from a place on. */
export async function linksAfter(
  r: Reader,
  invitationId: string,
  after: { sentAt: number; id: string } | null,
  limit: number,
): Promise<PersonalLinkModel[]> {
  const beyond = after && {
    [Op.or]: [{ sentAt: { [Op.lt]: after.sentAt } }, { sentAt: after.sentAt, id: { [Op.lt]: after.id } }],
  };
  return r.of(personalLinkTable).findAll({
    where: { invitationId, ...(beyond ?? {}) },
    order: [
      ['sentAt', 'DESC'],
      ['id', 'DESC'],
    ],
    limit,
  });
}
export async function countLinks(r: Reader, invitationId: string): Promise<number> {
  return r.of(personalLinkTable).count({ where: { invitationId } });
}

/** Links whose person waits for the YES of one of these numbers; which they are is asked as a set, as with requests. */
export async function linksAwaiting(
  r: Reader,
  businessId: string,
  e164s: readonly string[],
): Promise<PersonalLinkModel[]> {
  const among = (number: string): string =>
    `SELECT l.id FROM jsonb_each($2) j CROSS JOIN personal_link l ON l.business_id = $1 AND ${number} AND l.chose = 'awaits YES' AND l.joined_at IS NULL`;
  const found = await r.all<{ id: string }>(
    `${among('l.new_e164 = j.value')} UNION ALL ${among('l.e164 = j.value AND l.new_e164 IS NULL')}`,
    [businessId, jsonRows(e164s)],
  );
  return found.length === 0 ? [] : r.of(personalLinkTable).findAll({ where: { id: found.map((x) => x.id) } });
}

/** When the owners of these numbers last said on their page that they keep what they get. */
export async function lastKept(r: Reader, businessId: string, e164s: readonly string[]): Promise<Map<string, number>> {
  const rows = await r.all<{ e164: string; at: number }>(
    `SELECT l.e164, max(l.answered_at) AS at FROM jsonb_each($2) j CROSS JOIN personal_link l ON l.business_id = $1 AND l.e164 = j.value AND l.chose = 'kept' GROUP BY 1`,
    [businessId, jsonRows(e164s)],
  );
  return new Map(rows.map((x) => [x.e164, x.at] as const));
}

/** Links that were not answered are withdrawn. @returns how many. */
export async function withdrawLinks(
  w: Writer,
  invitationId: string,
  linkId: string | null,
  at: number,
): Promise<number> {
  const [n] = await w
    .of(personalLinkTable)
    .update(
      { withdrawnAt: at },
      { where: { invitationId, answeredAt: null, withdrawnAt: null, ...(linkId === null ? {} : { id: linkId }) } },
    );
  return n;
}

/**
 * Every link that was sent to the owners of these numbers; where a number and the one given for it are both among them,
 * twice. Of a number that was given, once its handset said YES: before, it may be anybody's.
 */
export async function linksTo(r: Reader, businessId: string, e164s: readonly string[]): Promise<PersonalLinkModel[]> {
  const numbers = [...e164s];
  // One question for each: asked together, all links of the business are walked.
  const links = r.of(personalLinkTable);
  const sent = await links.findAll({ where: { businessId, e164: numbers } });
  const given = await links.findAll({ where: { businessId, newE164: numbers, joinedAt: { [Op.ne]: null } } });
  return [...sent, ...given];
}

/** The links of people who were erased go. */
export async function dropLinksOf(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  for (const column of ['e164', 'newE164'] as const)
    await w.of(personalLinkTable).destroy({ where: { businessId, [column]: [...e164s] } });
}
