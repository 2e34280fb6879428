import type { Matter } from '@long-gate/contracts';

/** A line of Today: one matter, or equal ones that open out. */
export interface Line {
  /** What it is told apart by. */
  key: string;
  weight: Matter['weight'];
  area: string;
  title: string;
  detail: string;
  /** Where it leads; empty for a line that opens out. */
  link: string;
  due: number | null;
  since: number | null;
  /** How many lines it gathers; 0 for a single matter. */
  gathers: number;
  /** Stands under the line that gathers it. */
  inner: boolean;
}

const single = (m: Matter, inner: boolean): Line => ({
  key: `${m.link}\n${m.title}`,
  weight: m.weight,
  area: m.area,
  title: m.title,
  detail: m.detail,
  link: m.link,
  due: m.due,
  since: m.since,
  gathers: 0,
  inner,
});

/**
 * The lines of one weight, in the order of its matters: equal ones gathered where the first of them stands, and
 * opened out where that was asked for.
 * @param opened keys of the lines that are opened out.
 */
export function linesOf(matters: readonly Matter[], opened: ReadonlySet<string>): Line[] {
  const seen = new Set<string>();
  return matters.flatMap((m) => {
    const alike = m.group === '' ? [m] : matters.filter((x) => x.group === m.group && x.area === m.area);
    if (alike.length === 1) return [single(m, false)];
    const key = `${m.area}\n${m.group}`;
    if (seen.has(key)) return [];
    seen.add(key);
    const details = new Set(alike.map((x) => x.detail));
    const line: Line = {
      ...single(m, false),
      key,
      title: m.group.replace('#', String(alike.length)),
      detail: details.size === 1 ? m.detail : '',
      link: '',
      gathers: alike.length,
    };
    return [line, ...(opened.has(key) ? alike.map((x) => single(x, true)) : [])];
  });
}
