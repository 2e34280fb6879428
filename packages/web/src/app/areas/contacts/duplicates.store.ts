import { listDuplicates, type DuplicateShape } from '@long-gate/contracts';
import { signalStore, withFeature } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';

export type Duplicate = z.output<typeof DuplicateShape>;

/** Contacts that share an e-mail; `open` is the contact that is looked at. */
export const DuplicatesStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withPages<Duplicate, object>(store, {
      topics: ['contacts'],
      id: (d) => d.email,
      load: async (api, _filters, { businessId, limit, cursor }) => ({
        ...(await api.call(listDuplicates, {
          params: { businessId },
          query: { limit, ...(cursor === undefined ? {} : { cursor }) },
        })),
        total: null,
      }),
    }),
  ),
);
