/**
 * Money is an integer in millionths of a dollar ("micros"), so that 0.55 cents a lookup is exact: 5,500.
 * A JavaScript number holds integers exactly up to 9 × 10^15, i.e. nine thousand million dollars.
 */
export type Micros = number;

export const DOLLAR: Micros = 1_000_000;

/**
 * Reads a decimal amount such as `12.30` or `1,200` as micros.
 * @throws RangeError when the text is no amount or has more than six decimals.
 */
export function parseAmount(text: string): Micros {
  const match = /^\s*(-?)\$?\s*(\d{1,9}(?:,\d{3})*|\d+)(?:\.(\d{1,6}))?\s*$/.exec(text);
  if (!match) throw new RangeError(`“${text}” is not an amount; write it like 25 or 25.50`);
  const whole = Number((match[2] ?? '0').replaceAll(',', '')) * DOLLAR;
  const part = Number((match[3] ?? '').padEnd(6, '0'));
  const value = whole + part;
  if (!Number.isSafeInteger(value)) throw new RangeError('the amount is too large');
  return match[1] ? -value : value;
}

/** Writes micros as dollars with two decimals, or with as many as a small unit price needs (0.0055). */
export function formatAmount(micros: Micros): string {
  const negative = micros < 0;
  const abs = Math.abs(micros);
  const whole = Math.floor(abs / DOLLAR);
  let part = String(abs % DOLLAR).padStart(6, '0');
  while (part.length > 2 && part.endsWith('0')) part = part.slice(0, -1);
  return `${negative ? '−' : ''}${whole.toLocaleString('en-US')}.${part}`;
}

/** Rounds to whole cents, half away from zero, and writes it: for totals where the unit price does not matter. */
export function formatCents(micros: Micros): string {
  const cents = Math.round(Math.abs(micros) / 10_000) * Math.sign(micros || 1);
  return formatAmount(cents * 10_000);
}

/** Default prices of the simulated outside (invented; rules.md), in micros. */
export const DEFAULT_PRICES = {
  lookup: 5_500,
  reassignedQuery: 5_500,
  segment: 7_000,
  picture: 20_000,
  localMonthly: 1_300_000,
  tollFreeMonthly: 2_400_000,
  senderIdRegistration: 25_000_000,
  hostedMonthly: 900_000,
  shortCodeMonthly: 500_000_000,
  localSetup: 1_000_000,
  brand: 4_500_000,
  vetting: 41_500_000,
  campaignReview: 15_000_000,
} as const;

/**
 * An amount as it is shown: whole cents, and exactly where it is less than a cent, such as one text or one lookup. The
 * exact amount stands in files, and beside it where it is pointed at.
 */
export function formatShown(micros: Micros): string {
  return micros !== 0 && Math.abs(micros) < 10_000 ? formatAmount(micros) : formatCents(micros);
}
