import { inject } from '@angular/core';
import { getPublicPage, optIn, optOut, type PublicPage } from '@long-gate/contracts';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import type * as z from 'zod';
import { Api, type ApiProblem } from '../../../api/api';

interface JoinState {
  page: PublicPage | null;
  /** Why there is no page. */
  missing: string;
  joined: { shown: string; from: string } | null;
  left: { shown: string } | null;
}
const START: JoinState = { page: null, missing: '', joined: null, left: null };

/** A contact's side of an opt-in page: its words, joining, and leaving. */
export const JoinStore = signalStore(
  withState(START),
  withProps(() => ({ api: inject(Api) })),
  withMethods((store) => {
    async function load(slug: string): Promise<void> {
      try {
        patchState(store, { page: await store.api.call(getPublicPage, { params: { slug } }), missing: '' });
      } catch (error) {
        patchState(store, { missing: (error as Error).message });
      }
    }
    return {
      load,
      /** @throws ApiProblem; where the words have changed meanwhile the new ones are shown, to be chosen anew. */
      async join(body: z.output<typeof optIn.body>): Promise<void> {
        const slug = store.page()?.slug ?? '';
        try {
          patchState(store, { joined: await store.api.call(optIn, { params: { slug }, body }) });
        } catch (error) {
          if ((error as ApiProblem).code === 'words-changed') await load(slug);
          throw error;
        }
      },
      /** @throws ApiProblem */
      async leave(phone: string): Promise<void> {
        const slug = store.page()?.slug ?? '';
        patchState(store, { left: await store.api.call(optOut, { params: { slug }, body: { phone } }) });
      },
    };
  }),
);
