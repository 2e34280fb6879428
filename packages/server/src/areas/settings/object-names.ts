import { namedIn } from '../../platform/objects.js';
import type { Platform } from '../../platform/platform.js';
import { namesOfBusinesses } from './business-store.js';
import { savedViewTable } from './model.js';
import { invitationTable } from './people/model.js';
import { namesOfUsers } from './people/people-store.js';

/** What the trail calls businesses, people, invitations, saved views and jobs. */
export function nameSettings({ objects, jobs }: Platform): void {
  objects.name('business', (r, _, ids) => namesOfBusinesses(r, ids));
  objects.name('person', (r, _, ids) => namesOfUsers(r, ids));
  objects.name(
    'invitation',
    namedIn(invitationTable, (invitation) => invitation.email),
  );
  objects.name(
    'view',
    namedIn(savedViewTable, (view) => view.name),
  );
  objects.name('job', (r, businessId, ids) => jobs.titles(r, businessId, 'id', ids));
}
