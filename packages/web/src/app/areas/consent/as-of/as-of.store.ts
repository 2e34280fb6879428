import { computed } from '@angular/core';
import { askAsOf, listNumbers, type AsOfAnswer } from '@long-gate/contracts';
import { momentOf } from '@long-gate/core';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { liveResource } from '../../../state/live-resource';
import { zoneOf } from '../../../state/zone';

/** `at` is a wall time where the business is, `2027-03-14T09:05`; without it a text is asked about as it was judged. */
const KEYS = ['e164', 'text', 'at', 'words', 'kind', 'purpose', 'from', 'own', 'line'] as const;

/** One question about a moment: who, which text, when. All of it stands in the address. */
export const AsOfStore = signalStore(
  withBusiness(),
  withAddress(KEYS),
  withComputed(({ session }) => ({ zone: computed(() => zoneOf(session.business())) })),
  withProps(({ _api, session, address, zone }) => ({
    _answer: liveResource(
      ['consent', 'contacts', 'numbers', 'registration', 'dispatch'],
      () => {
        const a = address();
        return a.e164 && session.businessId()
          ? { businessId: session.businessId(), a, e164: a.e164, zone: zone() }
          : undefined;
      },
      ({ businessId, a, e164, zone: where }) =>
        _api.call(askAsOf, {
          params: { businessId },
          query: {
            e164,
            ...(a.text ? { text: a.text } : {}),
            ...(a.at ? { at: momentOf(a.at, where) } : {}),
            ...(a.words && !a.text ? { words: a.words } : {}),
            ...(a.kind === 'answer' ? { kind: 'answer' } : {}),
            ...(a.purpose === 'promotional' ? { purpose: 'promotional' } : {}),
            ...(a.from ? { numberId: a.from } : {}),
            ...(a.own === 'yes' ? { transactional: 'yes' } : {}),
            ...(a.line === 'no' ? { stopLine: 'no' } : {}),
          },
        }),
    ),
    _numbers: liveResource(
      ['numbers'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listNumbers, { params: { businessId } }),
    ),
  })),
  withComputed(({ _answer, _numbers, address }) => {
    const answer = computed((): AsOfAnswer | null => (_answer.hasValue() ? (_answer.value() ?? null) : null));
    return {
      answer,
      asked: computed(() => answer()?.asked ?? null),
      problem: computed(() => (address().e164 ? (_answer.error() ?? null) : null)),
      loading: computed(() => _answer.isLoading()),
      numbers: computed(() => (_numbers.hasValue() ? (_numbers.value()?.items ?? []) : [])),
    };
  }),
  withMethods(({ set }) => ({
    /** Asks another question in place of this one. */
    ask: (question: Partial<Record<(typeof KEYS)[number], string>>): void => {
      set({ ...Object.fromEntries(KEYS.map((k) => [k, null])), ...question });
    },
  })),
);
