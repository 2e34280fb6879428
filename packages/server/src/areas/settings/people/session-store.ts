import { Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../../platform/db.js';
import { sessionTable, type SessionModel } from './model.js';

/** Those that have not run out; wall time. */
const open = () => ({ expiresWall: { [Op.gt]: Date.now() } });

/** Opens a session, and forgets those that have run out. */
export async function addSession(w: Writer, session: CreationAttributes<SessionModel>): Promise<void> {
  await w.of(sessionTable).destroy({ where: { expiresWall: { [Op.lt]: Date.now() } } });
  await w.of(sessionTable).create(session);
}

export async function sessionByToken(r: Reader, tokenHash: string): Promise<SessionModel | null> {
  return r.of(sessionTable).findOne({ where: { tokenHash, ...open() } });
}

/** A person's open sessions, the last used first. */
export async function sessionsOf(r: Reader, userId: string): Promise<SessionModel[]> {
  return r.of(sessionTable).findAll({ where: { userId, ...open() }, order: [['seenWall', 'DESC']] });
}

export async function seeSession(w: Writer, id: string, at: number): Promise<void> {
  await w.of(sessionTable).update({ seenWall: at }, { where: { id } });
}

export async function endSessionByToken(w: Writer, tokenHash: string): Promise<void> {
  await w.of(sessionTable).destroy({ where: { tokenHash } });
}

/** Ends one session of a person, or all but one (`except`); returns how many ended. */
export async function endSessions(
  w: Writer,
  userId: string,
  which: { id: string } | { except: string },
): Promise<number> {
  const id = 'id' in which ? which.id : { [Op.ne]: which.except };
  return w.of(sessionTable).destroy({ where: { userId, id } });
}
