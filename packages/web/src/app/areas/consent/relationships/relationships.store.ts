import { signal } from '@angular/core';
import {
  exportRelationships,
  listRelationships,
  recordRelationship,
  SUPPRESSION_PART,
  takeRelationships,
  withdrawRelationship,
  type BroughtRelationships,
  type Relationship,
} from '@long-gate/contracts';
import { signalStore, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { handIn } from '../../../parts/hand-in';
import { withAddress, type Address } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withOpened } from '../../../state/area-features/with-opened';
import { withPages } from '../../../state/area-features/with-pages';

const KEYS = ['q', 'standing', 'kind'] as const;
type Filters = Address<(typeof KEYS)[number]>;

/** Only what the server knows; another word in the address narrows nothing. */
const known = ({ q, standing, kind }: Filters): z.output<typeof exportRelationships.query> => {
  const read = exportRelationships.query.safeParse({ q, standing, kind });
  return read.success ? read.data : {};
};

/** Purchases and inquiries on record; `open` in the address is the one that is read. */
export const RelationshipsStore = signalStore(
  withBusiness(),
  withAddress(KEYS),
  withProps(() => ({
    /** How far a file is handed in, from 0 to 1, with what became of its lines; null where none is. */
    handing: signal<{ share: number; so: BroughtRelationships | null } | null>(null),
    /** What became of the file that was brought in last. */
    brought: signal<BroughtRelationships | null>(null),
  })),
  withFeature((store) =>
    withPages<Relationship, Filters>(store, {
      topics: ['consent'],
      id: (x) => x.id,
      load: (api, filters, { businessId, cursor, limit }) =>
        api.call(listRelationships, { params: { businessId }, query: { ...known(filters), cursor, limit } }),
    }),
  ),
  withFeature((store) =>
    withOpened(store, {
      topics: ['consent'],
      id: (x) => x.id,
      load: (api, params, query) => api.call(listRelationships, { params, query }),
    }),
  ),
  withMethods(({ _api, _at, filters, handing, brought }) => ({
    /** @throws ApiProblem */
    record: (body: z.input<typeof recordRelationship.body>) => _api.call(recordRelationship, { params: _at(), body }),
    /** Brings in a file; handed in again it changes nothing. @throws ApiProblem */
    async bring(file: File): Promise<void> {
      const params = _at();
      const id = crypto.randomUUID();
      brought.set(null);
      handing.set({ share: 0, so: null });
      try {
        await handIn(
          file,
          SUPPRESSION_PART,
          (part, lines) =>
            _api.call(takeRelationships, { params, body: { file: id, name: file.name.slice(0, 200), part, lines } }),
          (so, share) => {
            handing.set({ share, so });
            brought.set(so);
          },
        );
      } finally {
        handing.set(null);
      }
    },
    /** @throws ApiProblem */
    withdraw: (id: string, why: string) => _api.call(withdrawRelationship, { params: { ..._at(), id }, body: { why } }),
    file: () => _api.address(exportRelationships, { params: _at(), query: known(filters()) }),
  })),
);
