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
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { FormActing } from '../../parts/form-acting';
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
    mobileForm: new FormActing(),
    passwordForm: new FormActing(),
    factorForm: new FormActing(),
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
    const { api, session, say, acting, mobileForm, passwordForm, factorForm, sessions, factor } = store;
    async function factorChanged(): Promise<void> {
      factor.reload();
      await session.load();
    }
    return {
      async saveMobile(mobile: string): Promise<void> {
        const body = { mobile, businessId: session.businessId() };
        const now = await mobileForm.run(() => api.call(saveOwnMobile, { body }));
        if (!now) return;
        session.take(now);
        say.done(now.user?.mobilePending ? 'A code is on its way to it.' : 'Taken away.');
      },
      /** True when it is changed. */
      async changePassword(body: { password: string; next: string }): Promise<boolean> {
        if (!passwordForm.fits(changePassword.body, body)) return false;
        const done = await passwordForm.run(() => api.call(changePassword, { body }));
        if (!done) return false;
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
      async beginFactor(password: string): Promise<boolean> {
        const begun = await factorForm.run(() => api.call(beginFactor, { body: { password } }));
        if (begun) patchState(store, { begun, recoveryCodes: [] });
        return begun !== undefined;
      },
      async confirmFactor(code: string): Promise<boolean> {
        if (!factorForm.fits(confirmFactor.body, { code })) return false;
        const done = await factorForm.run(() => api.call(confirmFactor, { body: { code } }));
        if (!done) return false;
        patchState(store, { begun: null, recoveryCodes: done.recoveryCodes });
        await factorChanged();
        return true;
      },
      async renewCodes(code: string): Promise<boolean> {
        if (!factorForm.fits(renewRecoveryCodes.body, { code })) return false;
        const done = await factorForm.run(() => api.call(renewRecoveryCodes, { body: { code } }));
        if (!done) return false;
        patchState(store, { recoveryCodes: done.recoveryCodes });
        factor.reload();
        return true;
      },
      async endFactor(body: { password: string; code: string }): Promise<boolean> {
        if (!factorForm.fits(endFactor.body, body)) return false;
        const done = await factorForm.run(() => api.call(endFactor, { body }));
        if (!done) return false;
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
