import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import type { PortOutRow } from './guard.js';
import { numberTable, portOutTable, type PortOutModel } from './model.js';
import type { LockRow, NumberRow } from './number-row.js';

/** Sets the lock; whatever a mail was answered to before counts for nothing afterwards. */
export async function setLock(
  w: Writer,
  id: string,
  lock: { state: LockRow['lock_state']; by: string; at: number | null; until: number | null },
): Promise<void> {
  await w.run(
    `UPDATE number SET lock_state = $2, unlock_asked_by = $3, unlock_asked_at = $4, unlocked_until = $5, unlock_mail_hash = '', unlock_answered_at = NULL, version = version + 1 WHERE id = $1`,
    [id, lock.state, lock.by, lock.at, lock.until],
  );
}

export async function setUnlockMail(w: Writer, id: string, hash: string): Promise<void> {
  await w.run('UPDATE number SET unlock_mail_hash = $2 WHERE id = $1', [id, hash]);
}

export async function byUnlockMail(r: Reader, hash: string): Promise<NumberRow | undefined> {
  return r.one<NumberRow>(`SELECT * FROM number WHERE unlock_mail_hash = $1 AND $1 <> ''`, [hash]);
}

export async function noteUnlockAnswer(w: Writer, id: string, at: number): Promise<void> {
  await w.run('UPDATE number SET unlock_answered_at = $2, version = version + 1 WHERE id = $1', [id, at]);
}

export async function openPortOuts(r: Reader, businessId: string): Promise<(PortOutRow & { e164: string })[]> {
  return r.all(
    `SELECT a.*, n.e164 FROM port_out a JOIN number n ON n.id = a.number_id WHERE a.business_id = $1 AND a.state = 'open' ORDER BY a.deadline`,
    [businessId],
  );
}

export async function setReleasePin(w: Writer, id: string, sealed: string): Promise<void> {
  await w.of(numberTable).update({ releasePin: sealed }, { where: { id } });
}

// -- attempts to take a number away ----------------------------------------------------------------------------------

/** All attempts on a number, the last first. */
export async function attemptsOn(r: Reader, numberId: string): Promise<PortOutModel[]> {
  return r.of(portOutTable).findAll({ where: { numberId }, order: [['at', 'DESC']] });
}

export async function attemptBy(r: Reader, key: string): Promise<PortOutModel | null> {
  return r.of(portOutTable).findByPk(key);
}

export async function addAttempt(w: Writer, attempt: CreationAttributes<PortOutModel>): Promise<void> {
  await w.of(portOutTable).create(attempt);
}
