import { signal } from '@angular/core';
import { answerEvidence, listEvidence, makePack, readPack, type EvidenceRequest } from '@long-gate/contracts';
import { signalStore, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withOpened } from '../../state/area-features/with-opened';
import { withPages } from '../../state/area-features/with-pages';

const KEYS = ['state'] as const;
type Filters = Address<(typeof KEYS)[number]>;
type State = 'open' | 'answered';

/** Who asked for proof of consent, and the packs that answer them; `open` in the address is the request that is read. */
export const EvidenceStore = signalStore(
  withBusiness(),
  withAddress(KEYS),
  withProps(() => ({ fingerprint: signal('') })),
  withFeature((store) =>
    withPages<EvidenceRequest, Filters>(store, {
      topics: ['consent'],
      id: (x) => x.id,
      load: async (api, { state }, { businessId, cursor, limit }) => {
        const of = state === 'open' || state === 'answered' ? { state: state as State } : {};
        const page = await api.call(listEvidence, { params: { businessId }, query: { ...of, cursor, limit } });
        store.fingerprint.set(page.fingerprint);
        return page;
      },
    }),
  ),
  withFeature((store) =>
    withOpened(store, {
      topics: ['consent'],
      id: (x) => x.id,
      load: (api, params, query) => api.call(listEvidence, { params, query }),
    }),
  ),
  withMethods((store) => ({
    again: (id: string) =>
      store.acting.run(
        () => store._api.call(makePack, { params: { ...store._at(), id } }),
        'The pack is being made anew.',
      ),
    /** @throws ApiProblem */
    answer: (request: EvidenceRequest, answer: string) =>
      store._api.call(answerEvidence, {
        params: { ...store._at(), id: request.id },
        version: request.version,
        body: { answer },
      }),
    archive: (packId: string) => store._api.address(readPack, { params: { ...store._at(), id: packId } }),
  })),
);
