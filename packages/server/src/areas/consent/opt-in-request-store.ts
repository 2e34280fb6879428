import { CONFIRM_WITHIN_MS, type Programme } from '@long-gate/core';
import { Op } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { textById } from '../dispatch/index.js';
import { optInRequestTable } from './model.js';

const DAY_MS = 86_400_000;

/** Which text asked a person for which YES. */
export async function noteRequest(
  w: Writer,
  r: { messageId: string; businessId: string; e164: string; programmes: readonly Programme[]; at: number },
): Promise<void> {
  const { messageId, businessId, e164, at } = r;
  const request = { messageId, businessId, e164, programmes: [...r.programmes], askedAt: at };
  await w.of(optInRequestTable).bulkCreate([request], { ignoreDuplicates: true });
}

/** A text that has not left is to ask for fewer kinds than it was made for. */
export async function narrowRequest(w: Writer, messageId: string, programmes: readonly Programme[]): Promise<void> {
  await w.of(optInRequestTable).update({ programmes: [...programmes] }, { where: { messageId } });
}

/**
 * What a number was asked a YES for since a moment, the last first. A question that was called back before it left asked
 * nobody anything.
 */
export async function askedSince(r: Reader, businessId: string, e164: string, since: number): Promise<Programme[]> {
  const where = { businessId, e164, askedAt: { [Op.gt]: since } };
  const requests = await r.of(optInRequestTable).findAll({ where, order: [['askedAt', 'DESC']] });
  const texts = await Promise.all(requests.map(({ messageId }) => textById(r, businessId, messageId)));
  return requests.flatMap(({ programmes }, i) => {
    const state = texts[i]?.state;
    return state === 'cancelled' || state === 'stopped' ? [] : programmes;
  });
}

/** What a number was asked within a day: there is one confirming text a number and day, whatever is filled in. */
export async function askedToday(r: Reader, businessId: string, e164: string, now: number): Promise<Programme[]> {
  return askedSince(r, businessId, e164, now - DAY_MS);
}

/** What a text asked a YES for, where its 72 hours are not over; empty where it asked for none. */
export async function programmesAsked(r: Reader, messageId: string, now: number): Promise<Programme[]> {
  const where = { messageId, askedAt: { [Op.gt]: now - CONFIRM_WITHIN_MS } };
  return (await r.of(optInRequestTable).findOne({ where }))?.programmes ?? [];
}

/** What these numbers were asked; a YES that comes later is an answer to nothing. */
export async function dropRequests(w: Writer, businessId: string, e164s: readonly string[]): Promise<void> {
  await w.of(optInRequestTable).destroy({ where: { businessId, e164: [...e164s] } });
}
