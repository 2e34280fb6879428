import type { Reader, Writer } from '../../../platform/db.js';
import type { Role } from '../../../platform/http/route.js';

export interface InvitationRow {
  id: string;
  business_id: string;
  email: string;
  role: Role;
  invited_by: string;
  invited_at: number;
  expires_at: number;
  state: 'open' | 'accepted' | 'withdrawn';
  /** How often it was sent. */
  sent: number;
  /** The idempotency key of the wish that sent it last. */
  last_key: string;
}

export async function addInvitation(w: Writer, i: InvitationRow & { token_hash: string }): Promise<void> {
  await w.run(
    'INSERT INTO invitation (id, token_hash, business_id, email, role, invited_by, invited_at, expires_at, last_key) VALUES ($1,$2,$3,$4,$5,$6,$7,$8,$9)',
    [i.id, i.token_hash, i.business_id, i.email, i.role, i.invited_by, i.invited_at, i.expires_at, i.last_key],
  );
}

export async function invitation(r: Reader, businessId: string, id: string): Promise<InvitationRow | undefined> {
  return r.one<InvitationRow>('SELECT * FROM invitation WHERE id = $1 AND business_id = $2', [id, businessId]);
}

export async function openInvitationTo(
  r: Reader,
  businessId: string,
  email: string,
): Promise<InvitationRow | undefined> {
  return r.one<InvitationRow>(`SELECT * FROM invitation WHERE business_id = $1 AND email = $2 AND state = 'open'`, [
    businessId,
    email,
  ]);
}

export async function invitationByToken(r: Reader, tokenHash: string): Promise<InvitationRow | undefined> {
  return r.one<InvitationRow>('SELECT * FROM invitation WHERE token_hash = $1', [tokenHash]);
}

export async function openInvitations(r: Reader, businessId: string): Promise<InvitationRow[]> {
  return r.all<InvitationRow>(
    `SELECT * FROM invitation WHERE business_id = $1 AND state = 'open' ORDER BY invited_at DESC, id`,
    [businessId],
  );
}

/** A new link for an open invitation; the earlier one is good for nothing. */
export async function renewInvitation(
  w: Writer,
  id: string,
  next: { tokenHash: string; expiresAt: number; role: Role; key: string },
): Promise<void> {
  await w.run(
    'UPDATE invitation SET token_hash = $2, expires_at = $3, role = $4, last_key = $5, sent = sent + 1 WHERE id = $1',
    [id, next.tokenHash, next.expiresAt, next.role, next.key],
  );
}

export async function closeInvitation(w: Writer, id: string, state: 'accepted' | 'withdrawn'): Promise<void> {
  await w.run('UPDATE invitation SET state = $2 WHERE id = $1', [id, state]);
}

// -- forgotten passwords -------------------------------------------------------------------------------------------

export interface ResetRow {
  email: string;
  expires_wall: number;
  used_wall: number | null;
}

export async function addReset(w: Writer, tokenHash: string, email: string, expiresWall: number): Promise<void> {
  await w.run('DELETE FROM password_reset WHERE expires_wall < $1', [Date.now()]);
  await w.run('INSERT INTO password_reset (token_hash, email, expires_wall) VALUES ($1,$2,$3)', [
    tokenHash,
    email,
    expiresWall,
  ]);
}

export async function resetByToken(r: Reader, tokenHash: string): Promise<ResetRow | undefined> {
  return r.one<ResetRow>(
    'SELECT * FROM password_reset WHERE token_hash = $1 AND used_wall IS NULL AND expires_wall > $2',
    [tokenHash, Date.now()],
  );
}

/** One link used ends all others to the same address. */
export async function useResets(w: Writer, email: string): Promise<void> {
  await w.run('UPDATE password_reset SET used_wall = $2 WHERE email = $1 AND used_wall IS NULL', [email, Date.now()]);
}
