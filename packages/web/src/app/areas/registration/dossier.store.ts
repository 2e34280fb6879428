import { inject } from '@angular/core';
import {
  addCampaign,
  getDossier,
  saveBrand,
  saveCampaign,
  submitBrand,
  submitCampaign,
  type CampaignBodyValue,
} from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { Api } from '../../api/api';
import { lastChangeOf } from '../../parts/form/last-change';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

/** The dossier of the open business, its brand and its campaigns; provided by the dossier's frame. */
export const DossierStore = signalStore(
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade) })),
  withProps(({ api, session }) => ({
    dossier: liveResource(
      ['registration', 'numbers', 'settings'],
      () => session.businessId() || undefined,
      (businessId) => api.call(getDossier, { params: { businessId } }),
    ),
  })),
  withMethods(({ api, session, dossier }) => {
    const at = () => ({ businessId: session.businessId() });
    return {
      /** As it is on the server now. */
      read: () => api.call(getDossier, { params: at() }),
      saveBrand: (body: z.input<typeof saveBrand.body>, version: number) =>
        api.call(saveBrand, { params: at(), version, body }),
      saveCampaign: (id: string, body: { name: string; body: CampaignBodyValue }, version: number) =>
        api.call(saveCampaign, { params: { ...at(), id }, version, body }),
      /** @param version the one the confirmation named. */
      async submitBrand(version: number): Promise<void> {
        await api.call(submitBrand, { params: at(), version });
        dossier.reload();
      },
      /** @param version the one the confirmation named. */
      async submitCampaign(id: string, version: number): Promise<void> {
        await api.call(submitCampaign, { params: { ...at(), id }, version });
        dossier.reload();
      },
      async addCampaign(body: z.input<typeof addCampaign.body>): Promise<{ id: string }> {
        const made = await api.call(addCampaign, { params: at(), body });
        dossier.reload();
        return made;
      },
      lastChange: (kind: 'brand' | 'campaign', id: string) => lastChangeOf(api, session.businessId(), kind, id),
    };
  }),
);
