import { inject, Injectable } from '@angular/core';
import { getDossier } from '@long-gate/contracts';
import { Api } from '../../api/api';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** The dossier of the open business, shared by its pages; provided by the dossier's frame. */
@Injectable()
export class DossierState {
  private readonly api = inject(Api);
  private readonly session = inject(SessionFacade);
  readonly dossier = liveResource(
    ['registration', 'numbers', 'settings'],
    () => this.session.businessId() || undefined,
    (businessId) => this.api.call(getDossier, { params: { businessId } }),
  );
}
