import { computed, signal } from '@angular/core';
import {
  estimateBehind,
  estimateReassigned,
  listPages,
  lookUpBehind,
  previewPeople,
  previewPeopleFile,
  startReassigned,
  tagBehind,
  type Behind,
  type Recipient,
} from '@long-gate/contracts';
import type { ReasonCode, Remedy } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { handOutFile } from '../../parts/hand-out';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

export interface ReasonCount {
  reason: ReasonCode;
  why: string;
  lift: string;
  n: number;
  remedies: Remedy[];
}
/** A count of a gate preview: what it is of. */
export type CountOf = Omit<Behind, 'reason'>;

/** Everybody behind one count of a gate preview, reason by reason, and what can be done about them. */
export const PeopleBehindStore = signalStore(
  withBusiness(),
  withSubject<CountOf>(),
  withProps(() => ({
    reason: signal<ReasonCode | null>(null),
    reasons: signal<readonly ReasonCount[]>([]),
    asking: signal<ReasonCode | null>(null),
  })),
  withComputed(({ _about, reason }) => ({
    filters: computed((): Partial<Behind> => ({ ..._about(), reason: reason() })),
  })),
  withFeature((store) =>
    withPages<Recipient, Partial<Behind>>(store, {
      topics: ['contacts', 'consent', 'clock'],
      id: (r) => r.e164,
      load: async (api, which, { businessId, cursor, limit }) => {
        if (!which.dispatch) return { items: [], next: null, total: 0 };
        const page = await api.call(previewPeople, {
          params: { businessId },
          body: { ...(which as Behind), cursor, limit },
        });
        store.reasons.set(page.reasons);
        return page;
      },
    }),
  ),
  withProps(({ _api, session, asking }) => ({
    _pages: liveResource(
      ['consent'],
      () => (asking() ? session.businessId() || undefined : undefined),
      (businessId) => _api.call(listPages, { params: { businessId } }),
    ),
  })),
  withComputed(({ _pages }) => ({
    /** Pages on which people can agree now. */
    pages: computed(() => (_pages.hasValue() ? (_pages.value()?.items ?? []) : []).filter((p) => p.published)),
  })),
  withMethods((store) => {
    const { _api, _at, _about, acting } = store;
    const of = (reason: ReasonCode | null): Behind => ({ ...(_about() as CountOf), reason });
    return {
      export: (reason: ReasonCode | null) =>
        acting.did(async () => {
          handOutFile(await _api.file(previewPeopleFile, { params: _at(), body: of(reason) }), 'people.csv');
        }),
      /** What asking about their lines costs, and how it begins; all of them, however lately they were asked about. */
      lookups: (reason: ReasonCode) => ({
        estimate: () => _api.call(estimateBehind, { params: _at(), body: of(reason) }),
        start: () => _api.call(lookUpBehind, { params: _at(), body: of(reason) }),
      }),
      /** The same of asking whether their numbers changed hands. */
      queries: (reason: ReasonCode) => ({
        estimate: () => _api.call(estimateReassigned, { params: _at(), body: { behind: of(reason), again: true } }),
        start: () => _api.call(startReassigned, { params: _at(), body: { behind: of(reason), again: true } }),
      }),
      /** @returns the tag's id, or undefined where it was refused. */
      async tag(reason: ReasonCode, tag: string): Promise<string | undefined> {
        const done = await acting.run(() => _api.call(tagBehind, { params: _at(), body: { ...of(reason), tag } }));
        if (done) acting.done(`${done.people.toLocaleString('en-US')} people are on the tag “${tag}”.`);
        return done?.listId;
      },
    };
  }),
);
