import { computed, inject } from '@angular/core';
import {
  addCampaign,
  answerSuspension,
  appealBrand,
  askConfirmation,
  confirmBrandEmail,
  exportDossier,
  getDossier,
  importDossier,
  listPages,
  listSentTexts,
  mailBrandCode,
  orderVetting,
  printDossier,
  readProof,
  renewCampaign,
  saveBrand,
  saveCampaign,
  saveTollFree,
  submitBrand,
  submitCampaign,
  submitTollFree,
  uploadProof,
  type CampaignBodyValue,
  type ImportAnswer,
  type TollFreeBodyValue,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
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
    _pages: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => api.call(listPages, { params: { businessId } }),
    ),
  })),
  withProps(({ api, session }) => ({
    _sent: liveResource(
      ['dispatch', 'numbers'],
      () => session.businessId() || undefined,
      (businessId) => api.call(listSentTexts, { params: { businessId } }),
    ),
  })),
  withComputed(({ _pages, _sent }) => ({
    /** The last texts that were sent, the last first. */
    sent: computed(() => (_sent.hasValue() ? (_sent.value()?.items ?? []) : [])),
    /** The opt-in pages that are open. */
    pages: computed(() => (_pages.hasValue() ? (_pages.value()?.items ?? []) : []).filter((page) => page.published)),
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
      async appealBrand(text: string): Promise<void> {
        await api.call(appealBrand, { params: at(), body: { text } });
        dossier.reload();
      },
      async askConfirmation(mobile: string): Promise<void> {
        await api.call(askConfirmation, { params: at(), body: { mobile } });
        dossier.reload();
      },
      async mailBrandCode(): Promise<void> {
        await api.call(mailBrandCode, { params: at() });
        dossier.reload();
      },
      async confirmBrandEmail(code: string): Promise<void> {
        await api.call(confirmBrandEmail, { params: at(), body: { code } });
        dossier.reload();
      },
      /** @param objection why the last score is too low; empty for a vetting that is paid. */
      async orderVetting(objection: string): Promise<void> {
        await api.call(orderVetting, { params: at(), body: { objection } });
        dossier.reload();
      },
      async answerSuspension(id: string, text: string): Promise<void> {
        await api.call(answerSuspension, { params: { ...at(), id }, body: { text } });
        dossier.reload();
      },
      async renewCampaign(id: string): Promise<void> {
        await api.call(renewCampaign, { params: { ...at(), id } });
        dossier.reload();
      },
      saveTollFree: (id: string, body: TollFreeBodyValue, version: number) =>
        api.call(saveTollFree, { params: { ...at(), id }, version, body }),
      /** @param version the one the confirmation named. */
      async submitTollFree(id: string, version: number): Promise<void> {
        await api.call(submitTollFree, { params: { ...at(), id }, version });
        dossier.reload();
      },
      async uploadProof(id: string, file: { name: string; base64: string }): Promise<void> {
        await api.call(uploadProof, { params: { ...at(), id }, body: file });
        dossier.reload();
      },
      jsonFile: () => api.address(exportDossier, { params: at() }),
      pdfFile: () => api.address(printDossier, { params: at() }),
      /** @param sure false: it is only said what would become of it. @throws ApiProblem where it is no dossier. */
      async importDossier(text: string, sure: boolean): Promise<ImportAnswer> {
        const answer = await api.call(importDossier, { params: at(), body: { text, sure } });
        if (sure) dossier.reload();
        return answer;
      },
      proofFile: (id: string) => api.address(readProof, { params: { ...at(), id } }),
      lastChange: (kind: 'brand' | 'campaign' | 'number', id: string) =>
        lastChangeOf(api, session.businessId(), kind, id),
    };
  }),
);
