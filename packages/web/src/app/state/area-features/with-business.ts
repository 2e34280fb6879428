import { inject } from '@angular/core';
import { signalStoreFeature, withMethods, withProps } from '@ngrx/signals';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { SessionFacade } from '../session.facade';

/** The open business: who looks, where the server is asked, and the wishes carried out one after another. */
export function withBusiness() {
  return signalStoreFeature(
    withProps(() => ({ _api: inject(Api), session: inject(SessionFacade), acting: new Acting() })),
    withMethods(({ session }) => ({
      /** The business's part of an address. */
      _at: (): { businessId: string } => ({ businessId: session.businessId() }),
    })),
  );
}

/** What `withBusiness` gives to the features that stand on it. */
export interface OfBusiness {
  _api: Api;
  session: SessionFacade;
  acting: Acting;
  _at: () => { businessId: string };
}
