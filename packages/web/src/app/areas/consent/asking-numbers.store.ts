import { computed } from '@angular/core';
import { listNumbers, type NumberView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { signalStoreFeature, withComputed, withMethods, withProps } from '@ngrx/signals';
import type { OfBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

const answers = (n: NumberView): boolean => n.state === 'active' && n.kind !== 'sender ID';

/** The numbers of a business, for ways in that stand on one: people write to it, and it asks for their YES. */
export function withAskingNumbers({ _api, session }: OfBusiness) {
  return signalStoreFeature(
    withProps(() => ({
      _numbers: liveResource(
        ['numbers'],
        () => session.businessId() || undefined,
        (businessId) => _api.call(listNumbers, { params: { businessId } }),
      ),
    })),
    withComputed(({ _numbers }) => ({
      /** All there are and were, by id; null before they are read. */
      numbers: computed(() =>
        _numbers.hasValue() ? new Map((_numbers.value()?.items ?? []).map((n) => [n.id, n])) : null,
      ),
    })),
    withMethods(({ numbers }) => ({
      /** Whether what stands on a number is offered in vain: it is not in service. Nothing is said before it is known. */
      outOfService(id: string): boolean {
        const all = numbers();
        const number = all?.get(id);
        return all !== null && !(number && answers(number));
      },
      /** Numbers to choose from: those in service, and the one that was chosen so far. */
      numberChoices(chosen: string): { value: string; label: string }[] {
        return [...(numbers()?.values() ?? [])].flatMap((n) => {
          if (!answers(n) && n.id !== chosen) return [];
          const why = answers(n) ? n.deciding?.why : 'not in service';
          return [{ value: n.id, label: `${formatPhone(n.e164)} ${n.label}${why ? ` (${why})` : ''}` }];
        });
      },
    })),
  );
}
