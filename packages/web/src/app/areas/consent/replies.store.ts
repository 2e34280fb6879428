import { computed, inject } from '@angular/core';
import { decideReview, listReviews, READ_AS } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { Api } from '../../api/api';
import { Acting } from '../../parts/acting';
import { liveResource } from '../../state/live-resource';
import { SessionFacade } from '../../state/session.facade';

export type ReadAs = (typeof READ_AS)[number];
const DONE: Record<ReadAs, string> = {
  stop: 'Stopped, counting from when they wrote.',
  offers: 'No more offers, counting from when they wrote; the rest goes on.',
  'no wish': 'Read as no wish to stop.',
};

/** Replies that a person has to read, and what is decided of them. */
export const RepliesStore = signalStore(
  withProps(() => ({ api: inject(Api), session: inject(SessionFacade), acting: new Acting() })),
  withProps(({ api, session }) => ({
    reviews: liveResource(
      ['consent', 'inbox'],
      () => session.businessId() || undefined,
      (businessId) => api.call(listReviews, { params: { businessId } }),
    ),
  })),
  withComputed(({ reviews }) => ({
    items: computed(() => (reviews.hasValue() ? (reviews.value()?.items ?? []) : [])),
    right: computed(() => (reviews.hasValue() ? (reviews.value()?.right ?? 0) : 0)),
    decided: computed(() => (reviews.hasValue() ? (reviews.value()?.decided ?? 0) : 0)),
  })),
  withMethods(({ api, session, acting, reviews }) => ({
    async decide(id: string, readAs: ReadAs): Promise<void> {
      const params = { businessId: session.businessId(), id };
      await acting.run(() => api.call(decideReview, { params, body: { readAs } }), DONE[readAs]);
      reviews.reload();
    },
  })),
);
