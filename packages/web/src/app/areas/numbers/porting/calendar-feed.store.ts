import { inject } from '@angular/core';
import { renewCalendar } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import { Api } from '../../../api/api';
import { Acting } from '../../../parts/acting';
import { SessionFacade } from '../../../state/session.facade';

/** One's own secret address of the port desk's calendar. */
export const CalendarFeedStore = signalStore(
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade), acting: new Acting() })),
  withMethods(({ api, session, acting }) => ({
    /** True when the earlier address has ended. */
    async renew(): Promise<boolean> {
      const params = { businessId: session.businessId() };
      return (await acting.run(() => api.call(renewCalendar, { params }))) !== undefined;
    },
  })),
);
