import type { CarrierKind } from '../gate/facts.js';
import type { LegalForm } from './legal-forms.data.js';

/** What one campaign may send, in segments (rules.md, throughput by vetting and kind of network). */
export interface Throughput {
  /** Kind A: segments a second for the campaign. */
  campaignPerSecond: number;
  /** Kind B: segments a day for the brand; days turn at midnight Pacific. */
  brandPerDay: number;
  /** Kind C: segments a second for the number. */
  numberPerSecond: number;
}

/** @param score vetting score 0–100, or null for an unvetted brand. */
export function throughputOf(form: LegalForm, score: number | null, useCaseCode: string): Throughput {
  if (form === 'sole proprietor') return { campaignPerSecond: 0.25, brandPerDay: 1_000, numberPerSecond: 10 };
  if (useCaseCode === 'low-volume-mixed') return { campaignPerSecond: 1.25, brandPerDay: 2_000, numberPerSecond: 10 };
  if (score === null) return { campaignPerSecond: 4, brandPerDay: 2_000, numberPerSecond: 10 };
  const a = score >= 75 ? 75 : score >= 50 ? 40 : 4;
  const b = score >= 75 ? 200_000 : score >= 50 ? 40_000 : score >= 25 ? 10_000 : 2_000;
  return { campaignPerSecond: a, brandPerDay: b, numberPerSecond: 10 };
}

/** Segments a second on a network of this kind; kind B has no pace of its own and goes at the campaign's. */
export function paceFor(kind: CarrierKind, t: Throughput): number {
  return kind === 'C' ? Math.min(t.numberPerSecond, t.campaignPerSecond) : t.campaignPerSecond;
}
