import type { CarrierKind } from '../gate/facts.js';
import { paceFor, type Throughput } from '../registration/throughput.js';

/** When the last of these texts leaves, for a preview. */
export function planDispatch(
  counts: Record<CarrierKind, number>,
  segments: number,
  throughput: Throughput,
  from: number,
): { lastAt: number } {
  const lane = (n: number, kind: CarrierKind): number =>
    n <= 0 ? from : from + ((n - 1) * segments * 1000) / paceFor(kind, throughput);
  return { lastAt: Math.max(lane(counts.A + counts.B, 'A'), lane(counts.C, 'C')) };
}
