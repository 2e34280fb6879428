import { Op, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { scheduleTable, type ScheduleModel } from './model.js';

export async function scheduleOf(r: Reader, dispatchId: string): Promise<ScheduleModel | null> {
  return r.of(scheduleTable).findByPk(dispatchId);
}

/** All that are to leave, those that were held included, the first first. */
export async function schedulesOf(r: Reader, businessId: string): Promise<ScheduleModel[]> {
  return r.of(scheduleTable).findAll({ where: { businessId }, order: ['at', 'dispatchId'] });
}

/** Those that are to leave from one moment to another. */
export async function schedulesBetween(
  r: Reader,
  businessId: string,
  from: number,
  to: number,
): Promise<ScheduleModel[]> {
  return r.of(scheduleTable).findAll({ where: { businessId, at: { [Op.gte]: from, [Op.lt]: to } }, order: ['at'] });
}

export async function addSchedule(w: Writer, schedule: CreationAttributes<ScheduleModel>): Promise<void> {
  await w.of(scheduleTable).create(schedule);
}

export async function dropSchedule(w: Writer, dispatchId: string): Promise<void> {
  await w.of(scheduleTable).destroy({ where: { dispatchId } });
}
