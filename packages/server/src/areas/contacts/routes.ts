import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from './contacts.js';
import type { Intakes } from './intakes.js';
import type { ListChanges } from './list-changes.js';
import type { Lists } from './lists.js';
import type { Lookups } from './lookups.js';

export function contactsRoutes(
  router: Router,
  p: Platform,
  contacts: Contacts,
  lists: Lists,
  listChanges: ListChanges,
  intakes: Intakes,
  lookups: Lookups,
): void {
  serve(router, api.listContacts, ({ params, query }) =>
    contacts.page(params.businessId, query, query.cursor, query.limit),
  );
  serve(router, api.contactFacets, ({ params, query }) => contacts.facets(params.businessId, query));
  serve(router, api.exportContacts, ({ params, query, ctx }) => {
    ctx.attachment('contacts.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = contacts.export(params.businessId, query);
    return Promise.resolve('');
  });
  serve(router, api.listLists, async ({ params }) => ({ items: await lists.all(p.db, params.businessId) }));
  serve(router, api.addList, ({ params, body, person }) => lists.add(person, params.businessId, body.name, body.kind));
  serve(router, api.changeMembers, ({ params, body, person }) =>
    lists.changeMembers(person, params.businessId, params.id, body.add, body.remove),
  );
  serve(router, api.changeMatching, ({ params, body, person, key }) =>
    listChanges.start(person, params.businessId, params.id, body, key),
  );
  serve(router, api.beginIntake, ({ params, body, person }) => intakes.begin(person, params.businessId, body));
  serve(router, api.sendIntakeRows, ({ params, body }) => intakes.take(params.businessId, params.id, body.rows));
  serve(router, api.storeIntake, ({ params, person }) => intakes.store(person, params.businessId, params.id));
  serve(router, api.cancelIntake, async ({ params, person }) => {
    await intakes.cancel(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.undoIntake, ({ params, person }) => intakes.undo(person, params.businessId, params.id));
  serve(router, api.knownNumbers, async ({ params, body }) => ({
    known: await intakes.known(params.businessId, body.e164s),
  }));
  serve(router, api.listIntakes, async ({ params }) => ({ items: await intakes.list(params.businessId) }));
  serve(router, api.decideFaults, async ({ params, body, person }) => {
    await contacts.decideFaults(person, params.businessId, body.e164, body.tryAgain);
    return api.DONE;
  });
  serve(router, api.estimateLookups, ({ params, body }) => lookups.estimate(params.businessId, body));
  serve(router, api.startLookups, ({ params, body, person, key }) =>
    lookups.start(person, params.businessId, body, key),
  );
}
