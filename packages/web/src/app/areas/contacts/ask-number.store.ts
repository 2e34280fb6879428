import { computed } from '@angular/core';
import {
  listPages,
  listNumberRequests,
  previewNumberRequest,
  startNumberRequests,
  type NumberRequest,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

type Wish = z.input<typeof previewNumberRequest.body>;
export type NumberPreview = z.output<typeof previewNumberRequest.answer>;

/** Asking people for a better number: the pages they may agree on, who would be asked, and asking them. */
export const AskNumberStore = signalStore(
  withBusiness(),
  withProps(({ _api, session }) => ({
    _pages: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listPages, { params: { businessId } }),
    ),
  })),
  withComputed(({ _pages }) => ({
    /** Pages that are published; null while they are being read. */
    pages: computed(() => (_pages.hasValue() ? (_pages.value()?.items ?? []).filter((p) => p.published) : null)),
  })),
  withMethods(({ _api, _at, acting }) => ({
    /** @throws ApiProblem */
    preview: (body: Wish): Promise<NumberPreview> => _api.call(previewNumberRequest, { params: _at(), body }),
    start: (body: Wish, seen: number, key: string) =>
      acting.did(
        () => _api.call(startNumberRequests, { params: _at(), body: { ...body, seen }, key }),
        'The e-mails are on their way.',
      ),
  })),
);

/** Who was asked, the last first. */
export const NumberRequestsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withPages<NumberRequest, object>(store, {
      topics: ['contacts', 'jobs'],
      id: (x) => x.id,
      load: (api, _filters, { businessId, ...query }) =>
        api.call(listNumberRequests, { params: { businessId }, query }),
    }),
  ),
);
