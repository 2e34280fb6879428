import { nextMonthly } from '@long-gate/core';

/** The zone in which the demo's businesses count days. */
export const ZONE = 'America/New_York';

/** The monthly days of something begun at a moment, until another. */
export function monthlyDays(from: number, until: number): number[] {
  const days: number[] = [];
  for (let due = nextMonthly(from, from, ZONE); due < until; due = nextMonthly(from, due, ZONE)) days.push(due);
  return days;
}
