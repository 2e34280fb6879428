import { inject, resource } from '@angular/core';
import { listConnections, listSetAside, takeUpSetAside } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** The outside services, and what of theirs was set aside. */
export const ConnectionsStore = signalStore(
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade), acting: new Acting() })),
  withProps(({ api, session }) => ({
    connections: resource({ loader: () => api.call(listConnections) }),
    aside: liveResource(
      ['settings', 'jobs'],
      () => session.businessId() || undefined,
      (businessId) => api.call(listSetAside, { params: { businessId } }),
    ),
  })),
  withMethods(({ api, session, acting, aside }) => ({
    async decide(key: string, wish: 'take up' | 'leave'): Promise<void> {
      const params = { businessId: session.businessId(), id: key };
      await acting.run(
        () => api.call(takeUpSetAside, { params, body: { wish } }),
        wish === 'take up' ? 'Taken up again.' : 'Left be; it stays in the audit trail.',
      );
      aside.reload();
    },
  })),
);
