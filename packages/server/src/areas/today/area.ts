import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import { todayRoutes } from './routes.js';
import { Today } from './today.js';

/** What is open, due or wrong in all areas, and a search over them. */
export function todayArea(p: Platform, router: Router) {
  const today = new Today(p);
  todayRoutes(router, today);
  return { today };
}
