import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { clientAddress } from '../../platform/http/client-address.js';
import { serve } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import type { Contacts } from '../contacts/index.js';
import type { DispatchCalendar } from './dispatch-calendar.js';
import type { Drafts } from './drafts.js';
import type { Scheduling } from './scheduling.js';
import type { GatePreview } from './gate-preview.js';
import { messagesOf, recipientsFile } from './messages.js';
import type { PeopleBehind } from './people-behind.js';
import type { Sending } from './sending.js';

export function dispatchRoutes(
  router: Router,
  p: Platform,
  {
    contacts,
    drafts,
    preview,
    behind,
    sending,
    scheduling,
    dispatchCalendar: calendar,
  }: {
    contacts: Contacts;
    drafts: Drafts;
    preview: GatePreview;
    behind: PeopleBehind;
    sending: Sending;
    scheduling: Scheduling;
    dispatchCalendar: DispatchCalendar;
  },
): void {
  // The fixed addresses come before `/:id`.
  serve(router, api.previewDispatch, ({ params, body: { when, ...draft } }) =>
    preview.preview(params.businessId, draft, when),
  );
  serve(router, api.previewPeople, ({ params, body: { cursor, limit, ...which } }) =>
    behind.page(params.businessId, which, cursor, limit),
  );
  serve(router, api.previewPeopleFile, ({ params, body, ctx }) => {
    ctx.attachment('people.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(behind.csv(params.businessId, body));
    return Promise.resolve('');
  });
  serve(router, api.estimateBehind, ({ params, body }) => behind.estimate(params.businessId, body));
  serve(router, api.lookUpBehind, ({ params, body, person, key }) =>
    behind.lookUp(person, params.businessId, body, key),
  );
  serve(router, api.tagBehind, ({ params, body: { tag, ...which }, person }) =>
    behind.tag(person, params.businessId, which, tag),
  );
  serve(router, api.listDispatches, ({ params, query }) => drafts.page(params.businessId, query));
  serve(router, api.countDispatches, ({ params }) => drafts.counts(params.businessId));
  serve(router, api.calendarOfDispatches, async ({ params, query }) => ({
    items: await calendar.between(params.businessId, query.from, query.to),
  }));
  serve(router, api.dispatchCalendarFile, async ({ params, ctx }) => {
    const file = await calendar.file(params.businessId);
    ctx.attachment('dispatches.ics');
    ctx.type = 'text/calendar; charset=utf-8';
    ctx.body = file;
    return '';
  });
  serve(router, api.addDispatch, ({ params, body, person, key }) => drafts.add(person, params.businessId, body, key));
  serve(router, api.getDispatch, ({ params }) => drafts.get(params.businessId, params.id));
  serve(router, api.saveDispatch, ({ params, body, person, seenVersion }) =>
    drafts.save(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.deleteDraft, async ({ params, person }) => {
    await drafts.remove(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.sendTest, ({ params, person, signedIn, key, ctx }) =>
    sending.test(person, signedIn.mobile, params.businessId, params.id, key, clientAddress(ctx)),
  );
  serve(router, api.sendDispatch, ({ params, person, seenVersion }) =>
    sending.send(person, params.businessId, params.id, seenVersion),
  );
  serve(router, api.scheduleDispatch, ({ params, body: { reach, cost, ...when }, person, seenVersion }) =>
    scheduling.schedule(person, params.businessId, params.id, seenVersion, when, { reach, cost }),
  );
  serve(router, api.callOffDispatch, ({ params, person }) => scheduling.callOff(person, params.businessId, params.id));
  serve(router, api.copyDispatch, ({ params, person }) => drafts.copy(person, params.businessId, params.id));
  serve(router, api.archiveDispatch, ({ params, body, person }) =>
    drafts.archive(person, params.businessId, params.id, body.archived),
  );
  serve(router, api.cancelDispatch, ({ params, person }) => sending.cancel(person, params.businessId, params.id));
  serve(router, api.listMessagesFile, async ({ params, query, ctx }) => {
    const { title } = await drafts.row(p.db, params.businessId, params.id);
    ctx.attachment(`${title}.csv`);
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(recipientsFile(p.db, contacts, params.businessId, params.id, query.state));
    return '';
  });
  serve(router, api.listMessages, async ({ params, query }) => {
    await drafts.row(p.db, params.businessId, params.id);
    return messagesOf(p.db, contacts, params.businessId, params.id, query.state, query.cursor, query.limit);
  });
}
