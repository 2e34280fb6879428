import type { Matter } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { mattersOf } from '../../platform/matters.js';
import type { Platform } from '../../platform/platform.js';
import type { Watch } from './watch.js';

const matter = mattersOf('watch');

export function tellWatch(p: Platform, watch: Watch): void {
  p.matters.tell((id) => ofReputation(watch, id));
}

async function ofReputation(watch: Watch, id: string): Promise<Matter[]> {
  return (await watch.numbers(id, 30))
    .filter((n) => n.level !== 'quiet')
    .map((n) =>
      matter(
        n.level === 'watch' ? 'hold' : 'stop',
        `${formatPhone(n.e164)} ${n.label}: ${n.because}`,
        'Over the last 30 days.',
        `watch?number=${n.numberId}`,
      ),
    );
}
