import { computed, inject, signal } from '@angular/core';
import { ActivatedRoute } from '@angular/router';
import { askEvidence, reviewEvidence } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

/** Numbers that are asked about, and what is on file about them. */
export const AskEvidenceStore = signalStore(
  withBusiness(),
  withProps(() => ({
    /** The numbers the address names, for the field to begin with. */
    named: (inject(ActivatedRoute).snapshot.queryParamMap.get('e164') ?? '').split(',').join('\n'),
    /** What was pasted; settles a moment after the last key. */
    pasted: signal(''),
  })),
  withProps(({ _api, session, pasted }) => ({
    review: liveResource(
      ['consent', 'contacts'],
      () => {
        const numbers = pasted().trim();
        return numbers ? { businessId: session.businessId(), numbers } : undefined;
      },
      ({ businessId, numbers }) => _api.call(reviewEvidence, { params: { businessId }, body: { numbers } }),
    ),
  })),
  withComputed(({ review, pasted }) => ({
    onFile: computed(() => (pasted().trim() && review.hasValue() ? (review.value() ?? null) : null)),
  })),
  withMethods(({ _api, _at }) => ({
    /** @throws ApiProblem */
    ask: (body: z.input<typeof askEvidence.body>) => _api.call(askEvidence, { params: _at(), body }),
  })),
);
