import type { Matter } from '@long-gate/contracts';
import type { Found } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';

interface Standing {
  open: number;
  worst: 'stop' | 'hold' | 'none';
}
type Course = Record<string, Standing>;

/** In the order of the course. */
const AREAS = ['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'watch', 'inbox', 'settings'];
const KINDS: readonly Found['kind'][] = [
  'number',
  'sender ID',
  'port',
  'hosted',
  'contact',
  'campaign',
  'dispatch',
  'opt-in page',
  'keyword',
];
const RANK = { stop: 0, hold: 1, note: 2 };

/** What is open, due or wrong, as each area tells it; each matter leads to its place. */
export class Today {
  constructor(private readonly p: Platform) {}

  async get(businessId: string): Promise<{ matters: Matter[]; course: Course }> {
    const matters = await this.p.matters.all(businessId);
    matters.sort(byHarm);
    const course: Course = { today: { open: matters.length, worst: worst(matters) } };
    for (const area of AREAS) {
      const mine = matters.filter((m) => m.area === area);
      // Unread conversations are counted each; elsewhere the lines that Today shows.
      const open = area === 'inbox' ? mine.reduce((n, m) => n + m.count, 0) : mine.length;
      course[area] = { open, worst: worst(mine) };
    }
    return { matters, course };
  }

  /** Things of every area by words or digits. */
  async find(businessId: string, q: string): Promise<Found[]> {
    const found = await this.p.matters.found(businessId, q.trim().toLowerCase());
    return found.sort((a, b) => KINDS.indexOf(a.kind) - KINDS.indexOf(b.kind));
  }
}

/** The greatest harm first, in it what is due first, then what is due at no time, in the order of the work. */
function byHarm(a: Matter, b: Matter): number {
  return RANK[a.weight] - RANK[b.weight] || by(a.due, b.due) || AREAS.indexOf(a.area) - AREAS.indexOf(b.area);
}

/** Two moments in order, none being last. */
function by(a: number | null, b: number | null): number {
  return a === b ? 0 : a === null ? 1 : b === null ? -1 : a - b;
}

function worst(matters: readonly Matter[]): Standing['worst'] {
  if (matters.some((m) => m.weight === 'stop')) return 'stop';
  return matters.some((m) => m.weight === 'hold') ? 'hold' : 'none';
}
