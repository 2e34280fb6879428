import { sendWindow } from '../hours/send-window.js';
import type { GateRules, Subject, TextKind } from './facts.js';
import { placeOf } from './posts/hours.js';

const DAY_MS = 86_400_000;
/** A text that answers a person's own act comes with it for so long. */
const WITH_THE_ACT_MS = 3_600_000;
const ASKED_WHEN_LATE: readonly TextKind[] = ['opt-in request', 'opt-in answer'];

/**
 * Until when a text waits that answers what a person did themselves at any hour, but could not leave with it: an hour
 * after their act it is one of ours like any other, and the hours are kept. HELP is answered in any case.
 * @param actAt when they did what it answers, milliseconds.
 * @returns the first permitted moment, a day on where there is none; null where it may leave now.
 */
export function lateAnswerWaits(
  kind: TextKind,
  actAt: number,
  subject: Pick<Subject, 'zones' | 'states'>,
  rules: Pick<GateRules, 'at' | 'hours'>,
): number | null {
  if (!ASKED_WHEN_LATE.includes(kind) || rules.at < actAt + WITH_THE_ACT_MS) return null;
  const window = sendWindow(placeOf(subject), rules.hours, rules.at);
  if (window.open) return null;
  return 'never' in window ? rules.at + DAY_MS : window.opensAt;
}
