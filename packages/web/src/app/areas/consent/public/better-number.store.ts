import { inject } from '@angular/core';
import { answerNumberRequest, getNumberRequest, type PublicNumberRequest } from '@long-gate/contracts';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import type * as z from 'zod';
import { Api, type ApiProblem } from '../../../api/api';

interface State {
  request: PublicNumberRequest | null;
  /** Why there is no page. */
  missing: string;
  given: { shown: string; from: string } | null;
}
const START: State = { request: null, missing: '', given: null };

/** The side of the person who is asked for a better number, by their personal link. */
export const BetterNumberStore = signalStore(
  withState(START),
  withProps(() => ({ _api: inject(Api) })),
  withMethods((store) => {
    async function load(token: string): Promise<void> {
      try {
        patchState(store, { request: await store._api.call(getNumberRequest, { params: { token } }), missing: '' });
      } catch (error) {
        patchState(store, { missing: (error as Error).message });
      }
    }
    return {
      load,
      /** @throws ApiProblem; where the words have changed meanwhile the new ones are shown, to be chosen anew. */
      async give(token: string, body: z.output<typeof answerNumberRequest.body>): Promise<true> {
        try {
          patchState(store, { given: await store._api.call(answerNumberRequest, { params: { token }, body }) });
          return true;
        } catch (error) {
          if ((error as ApiProblem).code === 'words-changed') await load(token);
          throw error;
        }
      },
    };
  }),
);
