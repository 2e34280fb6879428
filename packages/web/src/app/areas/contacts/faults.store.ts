import { inject } from '@angular/core';
import { decideFaults } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { SessionFacade } from '../../state/session.facade';

/** Ends the review of a number that was held after three faults. */
export const FaultsStore = signalStore(
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade), acting: new Acting() })),
  withMethods(({ api, session, acting }) => ({
    async decide(e164: string, tryAgain: boolean): Promise<void> {
      const params = { businessId: session.businessId() };
      await acting.run(
        () => api.call(decideFaults, { params, body: { e164, tryAgain } }),
        tryAgain ? 'It is texted again; faults count anew.' : 'Kept out as out of service.',
      );
    },
  })),
);
