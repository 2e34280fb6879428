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
} from '@long-gate/contracts';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import type * as z from 'zod';
import { Api, type ApiProblem } from '../api/api';
import { FormActing } from '../parts/form-acting';
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
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade), form: new FormActing() })),
  withMethods((store) => {
    const { api, session, form } = store;
    /** A refusal that asks for a code makes room for it. */
    const notingCode = <T>(work: Promise<T>): Promise<T> =>
      work.catch((error: unknown) => {
        if ((error as ApiProblem).code === 'second-factor') patchState(store, { codeWanted: true });
        throw error;
      });
    return {
      /** The first administrator and the first business. @throws ApiProblem */
      async setUp(body: z.output<typeof setUp.body>): Promise<true> {
        session.take(await api.call(setUp, { body }));
        return true;
      },
      /** True once signed in. */
      async signIn(body: { email: string; password: string; code: string }): Promise<boolean> {
        const now = await form.run(() => notingCode(api.call(signIn, { body })));
        if (now) session.take(now);
        return now !== undefined;
      },
      async seeInvitation(token: string): Promise<void> {
        await api.call(seeInvitation, { params: { token } }).then(
          (invitation) => patchState(store, { invitation }),
          (error: unknown) => patchState(store, { missing: (error as Error).message }),
        );
      },
      /** True once signed in. */
      async accept(token: string, body: { name: string; password: string; code: string }): Promise<boolean> {
        const now = await form.run(() => notingCode(api.call(acceptInvitation, { params: { token }, body })));
        if (now) session.take(now);
        return now !== undefined;
      },
      async forgot(email: string): Promise<void> {
        if (!form.fits(forgotPassword.body, { email })) return;
        const done = await form.run(() => api.call(forgotPassword, { body: { email } }));
        patchState(store, { done: done !== undefined });
      },
      async seeReset(token: string): Promise<void> {
        await api.call(seeReset, { params: { token } }).then(
          ({ email }) => patchState(store, { email }),
          (error: unknown) => patchState(store, { missing: (error as Error).message }),
        );
      },
      async reset(token: string, password: string): Promise<void> {
        if (!form.fits(resetPassword.body, { password })) return;
        const done = await form.run(() => api.call(resetPassword, { params: { token }, body: { password } }));
        if (!done) return;
        patchState(store, { done: true });
        await session.load();
      },
    };
  }),
);
