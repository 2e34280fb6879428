import { namedIn } from '../../platform/objects.js';
import type { Platform } from '../../platform/platform.js';
import { dispatchTable } from './model.js';

/** What the trail calls dispatches. */
export function nameDispatches({ objects }: Platform): void {
  objects.name(
    'dispatch',
    namedIn(dispatchTable, (d) => d.title || 'untitled dispatch'),
  );
}
