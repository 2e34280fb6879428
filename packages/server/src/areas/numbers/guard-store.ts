import type { CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import type { PortOutRow } from './guard.js';
import { numberTable, portOutTable, type PortOutModel } from './model.js';
import { anyNumber, numbersOf, saveNumber } from './number-store.js';
import type { LockRow, NumberRow } from './number-row.js';

/** Sets the lock; whatever a mail was answered to before counts for nothing afterwards. */
export async function setLock(
  w: Writer,
  id: string,
  lock: { state: LockRow['lock_state']; by: string; at: number | null; until: number | null },
): Promise<void> {
  const { state: lockState, by: unlockAskedBy, at: unlockAskedAt, until: unlockedUntil } = lock;
  await saveNumber(w, id, {
    lockState,
    unlockAskedBy,
    unlockAskedAt,
    unlockedUntil,
    unlockMailHash: '',
    unlockAnsweredAt: null,
  });
}

export async function setUnlockMail(w: Writer, id: string, hash: string): Promise<void> {
  await w.of(numberTable).update({ unlockMailHash: hash }, { where: { id } });
}

/** The number whose unlocking a mail with this hash asked about. @param hash not empty. */
export async function byUnlockMail(r: Reader, hash: string): Promise<NumberRow | undefined> {
  const number = hash && (await r.of(numberTable).findOne({ where: { unlockMailHash: hash } }));
  return number ? anyNumber(r, number.id) : undefined;
}

export async function noteUnlockAnswer(w: Writer, id: string, at: number): Promise<void> {
  await saveNumber(w, id, { unlockAnsweredAt: at });
}

export async function openPortOuts(r: Reader, businessId: string): Promise<(PortOutRow & { e164: string })[]> {
  return r.all(
    `SELECT a.*, n.e164 FROM port_out a JOIN number n ON n.id = a.number_id WHERE a.business_id = $1 AND a.state = 'open' ORDER BY a.deadline`,
    [businessId],
  );
}

/** Numbers of a business that somebody asked to unlock, or that stand unlocked; whether they still do is the guard's. */
export async function unlockingOf(r: Reader, businessId: string): Promise<NumberRow[]> {
  return (await numbersOf(r, businessId)).filter((n) => n.state === 'active' && n.lock_state !== 'locked');
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
