import { computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute } from '@angular/router';
import { fileForm, FormWhom, listPages, reviewFormFor, type OptInPage } from '@long-gate/contracts';
import { disclosureOf } from '@long-gate/core';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

type Whom = z.output<typeof FormWhom>;
type Words = z.input<typeof reviewFormFor.body>['form'];
const FILTERS = ['q', 'textable', 'informational', 'promotional', 'faults', 'list'] as const;

/**
 * Whom the address names: numbers, a lot of claims, those behind a count of a dispatch, or contacts as their list was
 * narrowed.
 */
function whomOf(get: (key: string) => string | null): Whom | null {
  const [numbers, dispatchId, claimedBy] = [get('e164'), get('dispatch'), get('claims')];
  const filter = Object.fromEntries(FILTERS.flatMap((k) => (get(k) ? [[k, get(k)]] : [])));
  const wish = numbers
    ? { e164s: numbers.split(',') }
    : claimedBy
      ? { claimedBy }
      : dispatchId
        ? {
            behind: { dispatchId, post: Number(get('post')), result: get('result'), reason: get('reason') },
          }
        : Object.keys(filter).length > 0
          ? { filter }
          : null;
  const read = wish && FormWhom.safeParse(wish);
  return read?.success ? read.data : null;
}

/** A form that is about to be filed: for whom, and what the server finds. */
export const FileFormStore = signalStore(
  withBusiness(),
  withProps(() => {
    const route = inject(ActivatedRoute);
    const query = toSignal(route.queryParamMap, { initialValue: route.snapshot.queryParamMap });
    return {
      /** Settles a moment after the last key. */
      words: signal<Words>({}),
      whom: computed(() => whomOf((key) => query().get(key)), {
        equal: (a, b) => JSON.stringify(a) === JSON.stringify(b),
      }),
    };
  }),
  withProps(({ _api, session, whom, words }) => ({
    review: liveResource(
      ['consent', 'contacts'],
      () => {
        const w = whom();
        return w ? { businessId: session.businessId(), body: { whom: w, form: words() } } : undefined;
      },
      ({ businessId, body }) => _api.call(reviewFormFor, { params: { businessId }, body }),
    ),
  })),
  withProps(({ _api, session }) => ({
    _pages: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listPages, { params: { businessId } }),
    ),
  })),
  withComputed(({ _pages, session }) => ({
    /** The words of the paper form of each page, for some kinds of text; none where it offers none of these. */
    papers: computed(() => {
      const legalName = session.business()?.legalName ?? '';
      const wordsOf = (page: OptInPage, kinds: readonly string[]): string =>
        page.purposes
          .filter((x) => kinds.includes(x.purpose))
          .map((x) => disclosureOf(legalName, x, page))
          .join('\n\n');
      return (_pages.hasValue() ? (_pages.value()?.items ?? []) : []).map((page) => ({
        title: page.title,
        words: (kinds: readonly string[]) => wordsOf(page, kinds),
      }));
    }),
  })),
  withComputed(({ review }) => {
    let last: ReturnType<typeof review.value> = undefined;
    return {
      /** The last answer; it stays while a newer one is on its way. */
      found: computed(() => (last = (review.hasValue() ? review.value() : undefined) ?? last)),
    };
  }),
  withMethods(({ _api, _at, whom }) => ({
    /** @throws ApiProblem */
    file: (form: Omit<z.input<typeof fileForm.body>, 'whom'>) =>
      _api.call(fileForm, { params: _at(), body: { ...form, whom: whom() as Whom } }),
  })),
);
