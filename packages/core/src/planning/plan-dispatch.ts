import type { CarrierKind } from '../gate/judge.js';
import { paceFor, type Throughput } from '../registration/throughput.js';

/** Gives each text its moment so that no network is sent more than it allows. State is plain, so that it can be kept. */
export interface PaceState {
  /** Next free moment by kind of network, milliseconds. */
  next: Record<CarrierKind, number>;
}

export function startPace(at: number): PaceState {
  return { next: { A: at, B: at, C: at } };
}

/**
 * The moment the next text to a network of this kind may leave, and the state after it.
 * Kind A (and B, which has no pace of its own) share the campaign's pace; kind C is paced by number within it.
 * @param segments of this text; a text of three takes three times its room.
 * @param notBefore earliest moment, milliseconds.
 */
export function nextSlot(
  state: PaceState,
  kind: CarrierKind,
  segments: number,
  throughput: Throughput,
  notBefore: number,
): { at: number; state: PaceState } {
  const lane: CarrierKind = kind === 'B' ? 'A' : kind;
  const at = Math.max(state.next[lane], notBefore);
  const step = (segments * 1000) / paceFor(kind, throughput);
  return { at: Math.ceil(at), state: { next: { ...state.next, [lane]: at + step } } };
}

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
