import { computed, inject } from '@angular/core';
import {
  editPerson,
  inviteAgain,
  invitePerson,
  listPeople,
  wantSecondFactor,
  withdrawInvitation,
  type Session,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

export type Role = Session['businesses'][number]['role'];

/** The people of a business, who is invited, and whether administrators need a second factor. */
export const PeopleStore = signalStore(
  withProps(() => ({
    api: inject(Api),
    session: inject(SessionFacade),
    acting: new Acting(),
  })),
  withProps(({ api, session }) => ({
    people: liveResource(
      ['settings'],
      () => session.businessId() || undefined,
      (businessId) => api.call(listPeople, { params: { businessId } }),
    ),
  })),
  withComputed(({ people }) => {
    const value = computed(() => (people.hasValue() ? people.value() : undefined));
    return {
      items: computed(() => value()?.items ?? []),
      invitations: computed(() => value()?.invitations ?? []),
      factorWanted: computed(() => value()?.secondFactorWanted ?? false),
    };
  }),
  withMethods(({ api, session, acting, people }) => {
    const at = () => ({ businessId: session.businessId() });
    return {
      /** Sends the invitation. @throws ApiProblem */
      async invite(body: z.output<typeof invitePerson.body>): Promise<true> {
        try {
          await api.call(invitePerson, { params: at(), body });
        } finally {
          people.reload();
        }
        return true;
      },
      async again(id: string): Promise<void> {
        await acting.run(
          () => api.call(inviteAgain, { params: { ...at(), id } }),
          'Sent again; the earlier link is good for nothing.',
        );
        people.reload();
      },
      async withdraw(id: string): Promise<void> {
        await acting.run(() => api.call(withdrawInvitation, { params: { ...at(), id } }), 'Withdrawn.');
        people.reload();
      },
      async setRole(id: string, role: Role | 'none'): Promise<void> {
        await acting.run(() => api.call(editPerson, { params: { ...at(), id }, body: { role } }));
        people.reload();
      },
      async wantFactor(wanted: boolean): Promise<void> {
        await acting.run(
          () => api.call(wantSecondFactor, { params: at(), body: { wanted } }),
          wanted ? 'Administrators without a second factor see nothing until they have set it up.' : 'Left to each.',
        );
        people.reload();
      },
    };
  }),
);
