import { inject } from '@angular/core';
import {
  acceptInvitation,
  forgotPassword,
  resetPassword,
  seeInvitation,
  seeReset,
  setUp,
  signIn,
  type InvitationSeen,
  type Session,
} from '@long-gate/contracts';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import type * as z from 'zod';
import { Api, type ApiProblem } from '../api/api';
import { SessionFacade } from '../state/session.facade';

interface ArrivalState {
  /** Signing in asks for a second factor. */
  codeWanted: boolean;
  invitation: InvitationSeen | null;
  /** Whose password is set anew. */
  email: string;
  /** Why a link is good for nothing. */
  missing: string;
  /** What was asked for is done. */
  done: boolean;
}
const START: ArrivalState = { codeWanted: false, invitation: null, email: '', missing: '', done: false };

/** Coming in: by password, by an invitation, by a link to a new password. */
export const ArrivalStore = signalStore(
  withState(START),
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade) })),
  withMethods((store) => {
    const { api, session } = store;
    /** True once signed in; false where a code is asked for the first time, for which there is room then. */
    async function comeIn(asked: () => Promise<Session>): Promise<boolean> {
      try {
        session.take(await asked());
        return true;
      } catch (error) {
        if ((error as ApiProblem).code !== 'second-factor') throw error;
        if (store.codeWanted()) throw error;
        patchState(store, { codeWanted: true });
        return false;
      }
    }
    return {
      /** The first administrator and the first business. @throws ApiProblem */
      async setUp(body: z.output<typeof setUp.body>): Promise<true> {
        session.take(await api.call(setUp, { body }));
        return true;
      },
      /** True once signed in, false where a code is asked for. @throws ApiProblem */
      signIn: (body: z.output<typeof signIn.body>): Promise<boolean> => comeIn(() => api.call(signIn, { body })),
      async seeInvitation(token: string): Promise<void> {
        await api.call(seeInvitation, { params: { token } }).then(
          (invitation) => patchState(store, { invitation }),
          (error: unknown) => patchState(store, { missing: (error as Error).message }),
        );
      },
      /** True once signed in, false where a code is asked for. @throws ApiProblem */
      accept: (token: string, body: z.output<typeof acceptInvitation.body>): Promise<boolean> =>
        comeIn(() => api.call(acceptInvitation, { params: { token }, body })),
      /** Has a link to a new password sent. @throws ApiProblem */
      async forgot(body: z.output<typeof forgotPassword.body>): Promise<void> {
        await api.call(forgotPassword, { body });
        patchState(store, { done: true });
      },
      async seeReset(token: string): Promise<void> {
        await api.call(seeReset, { params: { token } }).then(
          ({ email }) => patchState(store, { email }),
          (error: unknown) => patchState(store, { missing: (error as Error).message }),
        );
      },
      /** Sets a new password; every session ends. @throws ApiProblem */
      async reset(token: string, body: z.output<typeof resetPassword.body>): Promise<void> {
        await api.call(resetPassword, { params: { token }, body });
        patchState(store, { done: true });
        await session.load();
      },
    };
  }),
);
