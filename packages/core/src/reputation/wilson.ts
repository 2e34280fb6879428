/** A proportion with its Wilson score interval; null where nothing was counted (no rate for nothing). */
export interface Rate {
  k: number;
  n: number;
  rate: number;
  low: number;
  high: number;
}

/**
 * Wilson score interval of k successes in n trials (E. B. Wilson, 1927).
 * @param z standard score; 1.959964 for 95%.
 * @returns null for n = 0.
 * @throws RangeError when k or n is negative or k exceeds n.
 */
export function wilson(k: number, n: number, z = 1.959964): Rate | null {
  if (k < 0 || n < 0 || k > n) throw new RangeError(`wilson: ${k} of ${n} is no proportion`);
  if (n === 0) return null;
  const p = k / n;
  const zz = z * z;
  const centre = (p + zz / (2 * n)) / (1 + zz / n);
  const half = (z / (1 + zz / n)) * Math.sqrt((p * (1 - p)) / n + zz / (4 * n * n));
  return {
    k,
    n,
    rate: p,
    low: k === 0 ? 0 : Math.max(0, centre - half),
    high: k === n ? 1 : Math.min(1, centre + half),
  };
}

/** `38 of 2,214 (1.7%, likely 1.2–2.3%)`, or `none yet` for nothing. */
export function describeRate(rate: Rate | null): string {
  if (!rate) return 'none yet';
  const pct = (x: number): string => (x * 100).toFixed(1);
  return `${rate.k.toLocaleString('en-US')} of ${rate.n.toLocaleString('en-US')} (${pct(rate.rate)}%, likely ${pct(rate.low)}–${pct(rate.high)}%)`;
}

/**
 * A fixed level is reached when the interval's lower end passes it and at least three events stand behind it
 * (rules.md, reputation).
 */
export function reachesLevel(rate: Rate | null, level: number): boolean {
  return rate !== null && rate.k >= 3 && rate.low > level;
}
