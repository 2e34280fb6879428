import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import type { Cause } from '@long-gate/core';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import type { ContactEdits } from './contact-edits.js';
import type { Merges } from './merges.js';
import type { OwnFields } from './own-fields.js';
import type { Removals } from './removals.js';
import type { QuestionPayer } from './question-payer.js';
import type { Textability } from './textability.js';
import type { Unreached } from './unreached.js';

interface People {
  fields: OwnFields;
  edits: ContactEdits;
  merges: Merges;
  removals: Removals;
  unreached: Unreached;
  textability: Textability;
  payer: QuestionPayer;
}

/** One contact and its numbers, the fields kept of all, merging, deleting and erasing. */
export function peopleRoutes(
  router: Router,
  p: Platform,
  { fields, edits, merges, removals, unreached, textability, payer }: People,
): void {
  serve(router, api.getContact, ({ params }) => edits.detail(p.db, params.businessId, params.id));
  serve(router, api.editContact, ({ params, body, person, seenVersion }) =>
    edits.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.addContactNumber, ({ params, body, person }) =>
    edits.addNumber(person, params.businessId, params.id, body),
  );
  serve(router, api.preferContactNumber, ({ params, body, person }) =>
    edits.preferNumber(person, params.businessId, params.id, body.e164),
  );
  serve(router, api.dropContactNumber, ({ params, body, person }) =>
    edits.dropNumber(person, params.businessId, params.id, body.e164),
  );
  serve(router, api.getTextability, ({ params }) => textability.shown(params.businessId));
  serve(router, api.previewTextability, ({ params, body }) => textability.preview(params.businessId, body));
  serve(router, api.saveTextability, ({ params, body, person, seenVersion }) =>
    textability.save(person, params.businessId, seenVersion, body).then(() => textability.shown(params.businessId)),
  );
  serve(router, api.endPaying, async ({ params, person }) => {
    await payer.end(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.unreachedSummary, ({ params }) => unreached.summary(params.businessId));
  serve(router, api.listUnreached, ({ params, query }) =>
    unreached.page(params.businessId, query.cause as Cause, query.cursor, query.limit),
  );
  serve(router, api.exportUnreached, ({ params, ctx }) => {
    ctx.attachment('numbers-not-reached.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = unreached.export(params.businessId);
    return Promise.resolve('');
  });
  serve(router, api.listFields, async ({ params }) => ({ items: await fields.all(p.db, params.businessId) }));
  serve(router, api.addField, ({ params, body, person }) => fields.add(person, params.businessId, body));
  serve(router, api.editField, ({ params, body, person }) => fields.edit(person, params.businessId, params.id, body));
  serve(router, api.dropField, async ({ params, person }) => {
    await fields.drop(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.listDuplicates, ({ params, query }) =>
    merges.duplicates(params.businessId, query.cursor, query.limit),
  );
  serve(router, api.previewMerge, ({ params, query }) =>
    merges.preview(p.db, params.businessId, params.id, query.with),
  );
  serve(router, api.mergeContacts, ({ params, body, person }) =>
    merges.merge(person, params.businessId, params.id, body),
  );
  serve(router, api.undoMerge, ({ params, person }) => merges.undo(person, params.businessId, params.id));
  serve(router, api.deleteContacts, ({ params, body, person, key }) =>
    removals.delete(person, params.businessId, body, key),
  );
  serve(router, api.eraseContact, ({ params, body, person }) =>
    removals.erase(person, params.businessId, params.id, body.request),
  );
}
