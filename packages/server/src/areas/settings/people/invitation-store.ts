import { literal, Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Role } from '../../../platform/http/route.js';
import { invitationTable, passwordResetTable, type InvitationModel, type PasswordResetModel } from './model.js';

export async function addInvitation(
  w: Writer,
  invitation: CreationAttributes<InvitationModel>,
): Promise<InvitationModel> {
  return w.of(invitationTable).create(invitation);
}

export async function invitation(r: Reader, businessId: string, id: string): Promise<InvitationModel | null> {
  return r.of(invitationTable).findOne({ where: { id, businessId } });
}

export async function openInvitationTo(r: Reader, businessId: string, email: string): Promise<InvitationModel | null> {
  return r.of(invitationTable).findOne({ where: { businessId, email, state: 'open' } });
}

export async function invitationByToken(r: Reader, tokenHash: string): Promise<InvitationModel | null> {
  return r.of(invitationTable).findOne({ where: { tokenHash } });
}

/** Those nobody has taken up yet, the last first. */
export async function openInvitations(r: Reader, businessId: string): Promise<InvitationModel[]> {
  return r.of(invitationTable).findAll({ where: { businessId, state: 'open' }, order: [['invitedAt', 'DESC'], 'id'] });
}

/** A new link for an open invitation; the earlier one is good for nothing. */
export async function renewInvitation(
  w: Writer,
  id: string,
  next: { tokenHash: string; expiresAt: number; role: Role; key: string },
): Promise<void> {
  const { key: lastKey, ...rest } = next;
  await w.of(invitationTable).update({ ...rest, lastKey, sent: literal('sent + 1') }, { where: { id } });
}

export async function closeInvitation(w: Writer, id: string, state: 'accepted' | 'withdrawn'): Promise<void> {
  await w.of(invitationTable).update({ state }, { where: { id } });
}

// -- forgotten passwords -------------------------------------------------------------------------------------------

/** Keeps a link, and forgets those that have run out. */
export async function addReset(w: Writer, tokenHash: string, email: string, expiresWall: number): Promise<void> {
  await w.of(passwordResetTable).destroy({ where: { expiresWall: { [Op.lt]: Date.now() } } });
  await w.of(passwordResetTable).create({ tokenHash, email, expiresWall });
}

export async function resetByToken(r: Reader, tokenHash: string): Promise<PasswordResetModel | null> {
  const where = { tokenHash, usedWall: null, expiresWall: { [Op.gt]: Date.now() } };
  return r.of(passwordResetTable).findOne({ where });
}

/** One link used ends all others to the same address. */
export async function useResets(w: Writer, email: string): Promise<void> {
  await w.of(passwordResetTable).update({ usedWall: Date.now() }, { where: { email, usedWall: null } });
}
