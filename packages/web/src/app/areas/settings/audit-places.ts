import type { AuditEntry } from '@long-gate/contracts';

/** An address within the application. */
export interface Place {
  link: string[];
  query: Record<string, string>;
}

/** Where the thing is that an entry of the trail speaks of; null for one that has no page. */
export function placeOf(e: Pick<AuditEntry, 'objectKind' | 'objectId'>, businessId: string): Place | null {
  const at = (query: Record<string, string>, ...path: string[]): Place => ({
    link: ['/b', businessId, ...path],
    query,
  });
  const open = (...path: string[]): Place => at({ open: e.objectId }, ...path);
  const page = (...path: string[]): Place => at({}, ...path);
  switch (e.objectKind) {
    case 'number':
      return open('numbers');
    case 'order':
      return page('numbers');
    case 'port':
      return page('numbers', 'ports', e.objectId);
    case 'hosted':
      return open('numbers', 'hosted');
    case 'country':
      return open('numbers', 'countries');
    case 'brand':
      return page('registration', 'brand');
    case 'campaign':
      return page('registration', 'campaigns', e.objectId);
    case 'contact':
      return open('contacts');
    case 'contact number':
      return at({ q: e.objectId }, 'contacts');
    case 'list':
      return at({ list: e.objectId }, 'contacts');
    case 'consent':
      return at({ e164: e.objectId }, 'consent');
    case 'page':
      return open('consent', 'pages');
    case 'form':
      return open('consent', 'forms');
    case 'dispatch':
      return page('dispatch', e.objectId);
    case 'thread':
      return open('inbox');
    case 'business':
      return page('settings', 'business');
    case 'invitation':
    case 'person':
      return page('settings', 'people');
    default:
      return null;
  }
}
