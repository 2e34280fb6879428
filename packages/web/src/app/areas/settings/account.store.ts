import { computed, inject, resource } from '@angular/core';
import {
  beginFactor,
  changePassword,
  confirmFactor,
  endFactor,
  endOtherSessions,
  endSession,
  getFactor,
  listSessions,
  renewRecoveryCodes,
  saveOwnMobile,
} from '@long-gate/contracts';
import { patchState, signalStore, withComputed, withMethods, withProps, withState } from '@ngrx/signals';
import type * as z from 'zod';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { Say } from '../../parts/say';
import { SessionFacade } from '../../state/session.facade';

interface AccountState {
  /** An authenticator that waits for its first code. */
  begun: { secret: string; uri: string; qr: string } | null;
  /** Shown once. */
  recoveryCodes: string[];
}
const START: AccountState = { begun: null, recoveryCodes: [] };

/** One's own account: mobile, password, second factor, and where one is signed in. */
export const AccountStore = signalStore(
  withState(START),
  withProps(() => ({
    api: inject(Api),
    session: inject(SessionFacade),
    say: inject(Say),
    acting: new Acting(),
  })),
  withProps(({ api }) => ({
    sessions: resource({ loader: () => api.call(listSessions) }),
    factor: resource({ loader: () => api.call(getFactor) }),
  })),
  withComputed(({ sessions, factor }) => ({
    places: computed(() => (sessions.hasValue() ? sessions.value().items : [])),
    factorOn: computed(() => (factor.hasValue() ? factor.value().on : false)),
    codesLeft: computed(() => (factor.hasValue() ? factor.value().recoveryCodesLeft : 0)),
  })),
  withMethods((store) => {
    const { api, session, say, acting, sessions, factor } = store;
    async function factorChanged(): Promise<void> {
      factor.reload();
      await session.load();
    }
    return {
      /** Has a code sent to it, or takes the mobile away where it is empty. @throws ApiProblem */
      async saveMobile(body: z.output<typeof saveOwnMobile.body>): Promise<true> {
        const now = await api.call(saveOwnMobile, { body });
        session.take(now);
        say.done(now.user?.mobilePending ? 'A code is on its way to it.' : 'Taken away.');
        return true;
      },
      /** Every other session ends. @throws ApiProblem */
      async changePassword(body: z.output<typeof changePassword.body>): Promise<true> {
        const done = await api.call(changePassword, { body });
        say.done(
          done.ended === 0
            ? 'Your password is changed.'
            : `Your password is changed, and ${done.ended} other ${done.ended === 1 ? 'session has' : 'sessions have'} ended.`,
        );
        sessions.reload();
        return true;
      },
      async end(id: string): Promise<void> {
        await acting.run(() => api.call(endSession, { params: { id } }), 'Ended.');
        sessions.reload();
      },
      async endOthers(): Promise<void> {
        await acting.run(() => api.call(endOtherSessions), 'All others have ended.');
        sessions.reload();
      },
      /** Makes a secret for an authenticator. @throws ApiProblem */
      async beginFactor(body: z.output<typeof beginFactor.body>): Promise<true> {
        const begun = await api.call(beginFactor, { body });
        patchState(store, { begun, recoveryCodes: [] });
        return true;
      },
      /** The first code of the authenticator. @throws ApiProblem */
      async confirmFactor(body: z.output<typeof confirmFactor.body>): Promise<true> {
        const done = await api.call(confirmFactor, { body });
        patchState(store, { begun: null, recoveryCodes: done.recoveryCodes });
        await factorChanged();
        return true;
      },
      /** New recovery codes; the earlier ones end. @throws ApiProblem */
      async renewCodes(body: z.output<typeof renewRecoveryCodes.body>): Promise<true> {
        const done = await api.call(renewRecoveryCodes, { body });
        patchState(store, { recoveryCodes: done.recoveryCodes });
        factor.reload();
        return true;
      },
      /** Takes the second factor away. @throws ApiProblem */
      async endFactor(body: z.output<typeof endFactor.body>): Promise<true> {
        await api.call(endFactor, { body });
        patchState(store, START);
        await factorChanged();
        return true;
      },
      /** The codes are written down, or the set-up is left. */
      putAway(): void {
        patchState(store, START);
      },
    };
  }),
);
