import { addBusinessDays, businessDaysBetween, type IsoDay } from './business-days.js';
import type { PortState } from './port-states.js';

/** The days on which things happened; empty where they have not. */
export interface PortDays {
  state: PortState;
  simple: boolean;
  begun: IsoDay;
  submitted: IsoDay;
  answered: IsoDay;
  foc: IsoDay;
  completed: IsoDay;
}

export interface TimelineStep {
  step: 'prepared' | 'submitted' | 'answered' | 'changing over' | 'landed';
  /** `expected` is what is waited for, by its day; `now` is what happens today. */
  state: 'done' | 'now' | 'expected' | 'late' | 'ahead' | 'failed';
  /** The day it happened, or is expected at the latest. */
  day: IsoDay;
  note: string;
}

/** Business days within which the losing carrier must answer. source: 47 CFR 52.35: one for simple ports, four for others. */
export function answerDays(simple: boolean): number {
  return simple ? 1 : 4;
}

/** What practice takes from submission to landing, in business days; labelled as practice, not as a rule. */
export const PRACTICE_DAYS = { simple: { from: 1, to: 3 }, other: { from: 10, to: 20 } } as const;

/** The last day on which the date may be changed or the port cancelled: two business days before it. source: rules.md. */
export function lastDayToChange(foc: IsoDay): IsoDay {
  return addBusinessDays(foc, -2);
}

/** The way of a port in business days: what is done, what is normal and what is late. */
export function portTimeline(p: PortDays, today: IsoDay): TimelineStep[] {
  const days = answerDays(p.simple);
  const practice = p.simple ? PRACTICE_DAYS.simple : PRACTICE_DAYS.other;
  const steps: TimelineStep[] = [
    {
      step: 'prepared',
      state: p.submitted ? 'done' : p.state === 'cancelled' ? 'failed' : 'now',
      day: p.submitted || p.begun,
      note: 'Facts, letter and bill are put together here; no rule sets a time.',
    },
  ];
  const dueAnswer = p.submitted ? addBusinessDays(p.submitted, days) : '';
  const taken = p.submitted && p.answered ? businessDaysBetween(p.submitted, p.answered) : 0;
  const waiting = p.state === 'submitted';
  steps.push({
    step: 'submitted',
    state: p.submitted ? 'done' : 'ahead',
    day: p.submitted,
    note: p.submitted
      ? 'With the losing carrier.'
      : `From here practice takes ${practice.from} to ${practice.to} business days in all.`,
  });
  steps.push({
    step: 'answered',
    state:
      p.state === 'rejected'
        ? 'failed'
        : p.answered
          ? 'done'
          : waiting
            ? today > dueAnswer
              ? 'late'
              : 'expected'
            : 'ahead',
    day: p.answered || dueAnswer,
    note: p.answered
      ? `After ${taken} business ${taken === 1 ? 'day' : 'days'}; the rule is ${days}.`
      : waiting && today > dueAnswer
        ? `Late: the rule is ${days} business ${days === 1 ? 'day' : 'days'}, ${businessDaysBetween(dueAnswer, today)} more have passed. Ask the port bureau.`
        : `The rule is ${days} business ${days === 1 ? 'day' : 'days'} from submission.`,
  });
  const accepted = p.foc !== '' && p.state !== 'rejected';
  steps.push({
    step: 'changing over',
    state: p.completed
      ? 'done'
      : p.state === 'cutting over'
        ? 'now'
        : p.state === 'cancelled'
          ? 'failed'
          : accepted && today > p.foc
            ? 'late'
            : 'ahead',
    day: accepted ? p.foc : '',
    note: accepted
      ? `FOC date. Changes and cancellation until ${lastDayToChange(p.foc)}.`
      : 'The losing carrier names the day (FOC date) when it accepts.',
  });
  steps.push({
    step: 'landed',
    state: p.completed ? 'done' : p.state === 'cancelled' ? 'failed' : 'ahead',
    day: p.completed,
    note: p.completed
      ? `${businessDaysBetween(p.submitted || p.begun, p.completed)} business days after submission; practice is ${practice.from} to ${practice.to}.`
      : 'Texts may pause for up to three days around the change.',
  });
  return steps;
}
