import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../../platform/http/route.js';
import type { OptInInvitations } from './invitations.js';

export function invitationRoutes(router: Router, invitations: OptInInvitations): void {
  serve(router, api.listInvitations, async ({ params }) => ({ items: await invitations.list(params.businessId) }));
  serve(router, api.addInvitation, ({ params, body, person }) => invitations.add(person, params.businessId, body));
  serve(router, api.editInvitation, ({ params, body, person, seenVersion }) =>
    invitations.edit(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.previewInvitation, ({ params, body }) => invitations.preview(params.businessId, body));
  serve(router, api.sendInvitation, ({ params, body, person, key }) =>
    invitations.send(person, params.businessId, params.id, body, key),
  );
  serve(router, api.listInvited, ({ params, query }) =>
    invitations.people(params.businessId, params.id, query.cursor, query.limit),
  );
  serve(router, api.withdrawInvited, ({ params, body, person }) =>
    invitations.withdraw(person, params.businessId, params.id, body.linkId),
  );
}
