import { computed, inject } from '@angular/core';
import { confirmOwnMobile, saveOwnMobile } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { Api } from '../api/api';
import { SessionFacade } from '../state/session.facade';

/** The signed-in person's own mobile, until it is confirmed by the code sent to it. */
export const OwnMobileStore = signalStore(
  withProps(() => ({ _api: inject(Api), session: inject(SessionFacade) })),
  withComputed(({ session }) => ({
    pending: computed(() => session.session()?.user?.mobilePending ?? ''),
    handset: computed(() => {
      const s = session.session();
      return s?.clock.movable
        ? `${s.outsideUrl}/handset?number=${encodeURIComponent(s.user?.mobilePending ?? '')}`
        : '';
    }),
  })),
  withMethods(({ _api, session, pending }) => ({
    /** @throws ApiProblem */
    async confirm(code: string): Promise<true> {
      session.take(await _api.call(confirmOwnMobile, { body: { code } }));
      return true;
    },
    /** Sends a new code. @throws ApiProblem */
    async again(): Promise<true> {
      const body = { mobile: pending(), businessId: session.businessId() };
      session.take(await _api.call(saveOwnMobile, { body }));
      return true;
    },
  })),
);
