/** One measurement: ours beside a reference of the same run, and what it may be at most. */
export interface Result {
  contacts?: number;
  name: string;
  ours: number;
  unit: string;
  reference?: number;
  /** Of the reference, or in the unit where there is none; least for a rate. */
  limit?: string;
  ok?: boolean;
}

const round = (x: number): number => Number(x.toPrecision(3));
const results: Result[] = [];

/** Prints one JSON object a line, and keeps it for the table. */
export function report(r: Result): void {
  const line = {
    ...r,
    ours: round(r.ours),
    ...(r.reference === undefined ? {} : { reference: round(r.reference), ratio: round(r.ours / r.reference) }),
  };
  results.push(r);
  console.log(JSON.stringify(line));
}

/** Keeps for the table what another process reported. @param line as {@link report} prints it. */
export function take(line: string): void {
  results.push(JSON.parse(line) as Result);
}

/** Ours beside a bare reference, in milliseconds: at most `times` of it. What takes under a millisecond counts as one. */
export function beside(contacts: number, name: string, ours: number, reference: number, times: number): void {
  const ok = Math.max(ours, 1) <= times * Math.max(reference, 1 / times);
  report({ contacts, name, ours, unit: 'ms', reference, limit: `${times} × reference`, ok });
}

export function atMost(contacts: number, name: string, ours: number, limit: number, unit = 'ms'): void {
  report({ contacts, name, ours, unit, limit: `at most ${limit} ${unit}`, ok: ours <= limit });
}

export function atLeast(contacts: number, name: string, ours: number, limit: number, unit: string): void {
  report({ contacts, name, ours, unit, limit: `at least ${limit} ${unit}`, ok: ours >= limit });
}

/** A table of what was measured, in Markdown; a row a work, a column a size. */
export function table(): string {
  const sizes = [...new Set(results.flatMap((r) => r.contacts ?? []))];
  const names = [...new Set(results.filter((r) => r.contacts !== undefined).map((r) => r.name))];
  const cell = (r: Result | undefined): string =>
    r === undefined
      ? ''
      : `${round(r.ours)} ${r.unit}${r.reference === undefined ? '' : ` (${round(r.ours / r.reference)} ×)`}${r.ok === false ? ' **missed**' : ''}`;
  return [
    `| work | ${sizes.map((n) => n.toLocaleString('en-US')).join(' | ')} | wanted |`,
    `| --- | ${sizes.map(() => '---').join(' | ')} | --- |`,
    ...names.map((name) => {
      const of = sizes.map((n) => results.find((r) => r.name === name && r.contacts === n));
      return `| ${name} | ${of.map(cell).join(' | ')} | ${of.find((r) => r)?.limit ?? ''} |`;
    }),
  ].join('\n');
}

/** So often a thing is done before it is measured: each connection has its statements and pages then. */
const WARM = 3;
/** Median and 95th percentile of several runs, in milliseconds. */
export async function time(work: () => unknown, runs = 7): Promise<{ median: number; p95: number }> {
  // Nobody meets a program that has just been started more than once a day.
  for (let i = 0; i < WARM; i++) await work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const at = performance.now();
    await work();
    times.push(performance.now() - at);
  }
  times.sort((a, b) => a - b);
  return { median: times[Math.floor(runs / 2)] ?? 0, p95: times[Math.min(runs - 1, Math.floor(runs * 0.95))] ?? 0 };
}
export const median = async (work: () => unknown, runs = 7): Promise<number> => (await time(work, runs)).median;
