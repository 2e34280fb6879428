import { addBusinessDays, addDays, answerDays, DOCUMENT_DAYS, isSimplePort } from '@long-gate/core';
import type { Platform } from '../../../platform/platform.js';
import { dayStart, numbersOf, portDay, unsealed, type Port } from './port-row.js';
import { portsUnderWay } from './port-store.js';
import { reasonsOf, testsLeft } from './port-view.js';

const DAY_MS = 86_400_000;
/** Tests that were not done stay on Today so long. */
const TESTS_SHOWN_MS = 60 * DAY_MS;

/** Something of the port desk that waits to be done. */
export interface PortMatter {
  port: Port;
  what: 'draft' | 'rejected' | 'late' | 'foc near' | 'unprepared' | 'tests';
  due: number | null;
  /** What there is to say of it besides. */
  why: string;
}

/** What Today shows of the port desk. */
export async function portMatters(p: Platform, businessId: string): Promise<PortMatter[]> {
  const now = p.clock.now();
  const rows = await portsUnderWay(p.db, businessId, now - TESTS_SHOWN_MS);
  return rows.flatMap((row) => mattersOf(unsealed(p.vault, row), now));
}

function mattersOf(port: Port, now: number): PortMatter[] {
  const { row } = port;
  switch (row.state) {
    case 'draft': {
      const ends = draftEnds(port);
      return ends ? [{ port, what: 'draft', due: dayStart(ends.day), why: ends.why }] : [];
    }
    case 'rejected':
      return [{ port, what: 'rejected', due: null, why: reasonsOf(row) }];
    case 'submitted': {
      if (row.submittedAt === null) return [];
      const day = addBusinessDays(portDay(row.submittedAt), answerDays(isSimplePort(numbersOf(port))));
      return portDay(now) > day ? [{ port, what: 'late', due: dayStart(day), why: '' }] : [];
    }
    case 'accepted':
    case 'cutting over': {
      const near = row.focAt !== null && row.focAt - now < 3 * DAY_MS;
      const missing = port.numbers.some((n) => n.campaignId === null);
      return [
        ...(near ? [{ port, what: 'foc near' as const, due: row.focAt, why: '' }] : []),
        ...(missing ? [{ port, what: 'unprepared' as const, due: row.focAt, why: '' }] : []),
      ];
    }
    case 'done':
      return testsLeft(row).length > 0 ? [{ port, what: 'tests', due: null, why: testsLeft(row).join(' ') }] : [];
    default:
      return [];
  }
}

/** The first day on which something of a draft is not good any more; null where nothing of it has a day. */
function draftEnds(port: Port): { day: string; why: string } | null {
  const { facts, letter, row } = port;
  const ends = [
    { day: facts.pinExpires, why: 'The PIN is good until then.' },
    { day: facts.oldServiceEnds, why: 'The old service was asked to end then.' },
    {
      day: letter ? addDays(letter.signedOn, DOCUMENT_DAYS) : '',
      why: `The letter is then ${DOCUMENT_DAYS} days old and has to be signed again.`,
    },
    { day: row.billDated ? addDays(row.billDated, DOCUMENT_DAYS) : '', why: 'The bill is too old after that day.' },
  ].filter((e) => e.day !== '');
  return ends.sort((a, b) => a.day.localeCompare(b.day))[0] ?? null;
}
