import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { csvStream } from '../../platform/csv.js';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from './contacts.js';
import type { Intakes } from './intakes.js';
import type { Lists } from './lists.js';
import type { Lookups } from './lookups.js';
import type { ContactFilter } from './page-store.js';

export function contactsRoutes(
  router: Router,
  p: Platform,
  contacts: Contacts,
  lists: Lists,
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
    ctx.body = contactsCsv(contacts, params.businessId, query);
    return Promise.resolve('');
  });
  serve(router, api.getContact, ({ params }) => contacts.get(p.db, params.businessId, params.id));
  serve(router, api.editContact, ({ params, body, person, seenVersion }) =>
    contacts.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.listLists, async ({ params }) => ({ items: await lists.all(p.db, params.businessId) }));
  serve(router, api.addList, ({ params, body, person }) => lists.add(person, params.businessId, body.name, body.kind));
  serve(router, api.changeMembers, ({ params, body, person }) =>
    lists.changeMembers(person, params.businessId, params.id, body.add, body.remove),
  );
  serve(router, api.beginIntake, ({ params, body, person }) => intakes.begin(person, params.businessId, body));
  serve(router, api.sendIntakeRows, ({ params, body }) => intakes.take(params.businessId, params.id, body.rows));
  serve(router, api.storeIntake, ({ params, person }) => intakes.store(person, params.businessId, params.id));
  serve(router, api.cancelIntake, async ({ params, person }) => {
    await intakes.cancel(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.listIntakes, async ({ params }) => ({ items: await intakes.list(params.businessId) }));
  serve(router, api.decideFaults, async ({ params, body, person }) => {
    await contacts.decideFaults(person, params.businessId, body.e164, body.tryAgain);
    return api.DONE;
  });
  serve(router, api.estimateLookups, ({ params, body }) => lookups.estimate(params.businessId, body.listId));
  serve(router, api.startLookups, ({ params, body, person, key }) =>
    lookups.start(person, params.businessId, body.listId, key),
  );
}

/** Contacts as CSV with a heading row; cells that a spreadsheet would run as a formula are quoted with an apostrophe. */
function contactsCsv(contacts: Contacts, businessId: string, filter: ContactFilter): Readable {
  async function* rows(): AsyncGenerator<string[]> {
    for await (const c of contacts.each(businessId, filter)) {
      yield [
        c.number.e164,
        c.firstName,
        c.lastName,
        c.email,
        c.stateCode,
        c.number.lineType,
        c.number.carrier,
        c.number.textable,
        c.number.consent.informational,
        c.number.consent.promotional,
        c.lists.join('; '),
      ];
    }
  }
  const columns = [
    'phone',
    'first name',
    'last name',
    'email',
    'state',
    'line type',
    'carrier',
    'textable',
    'informational',
    'promotional',
    'lists',
  ];
  // E.164 begins with a plus sign, which is also a formula's beginning: such a cell is escaped and read back at intake.
  return csvStream(columns, Readable.from(rows()));
}
