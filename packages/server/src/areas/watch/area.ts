import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import type { ConsentArea } from '../consent/index.js';
import type { NumbersArea } from '../numbers/index.js';
import type { SettingsArea } from '../settings/index.js';
import { tellWatch } from './matters.js';
import { watchRoutes } from './routes.js';
import { Watch } from './watch.js';

/** How well texts arrive, and what people make of them. */
export function watchArea(
  p: Platform,
  router: Router,
  { businesses, numbers, ledger }: SettingsArea & NumbersArea & ConsentArea,
) {
  const watch = new Watch(p, businesses, numbers, ledger);
  p.keptCounts.add(watch.kept());
  tellWatch(p, watch);
  watchRoutes(router, watch);
  return { watch };
}
