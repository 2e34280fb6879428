import { computed } from '@angular/core';
import {
  listBrandTries,
  listTollFreeTries,
  listTries,
  type BrandTry,
  type CampaignTry,
  type TollFreeTry,
} from '@long-gate/contracts';
import { signalStore, withComputed, withProps } from '@ngrx/signals';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

/** A filing by its kind; the id is a campaign's or a number's. */
export interface Filing {
  of: 'brand' | 'campaign' | 'toll-free';
  id: string;
}
type Try = BrandTry | CampaignTry | TollFreeTry;

/** What was submitted of one filing, each time, and what was decided of it; the last try first. */
export const TriesStore = signalStore(
  withBusiness(),
  withSubject<Filing>(),
  withProps(({ _api, _about, session }) => ({
    _tries: liveResource(
      ['registration'],
      () => {
        const about = _about();
        const businessId = session.businessId();
        return businessId && about ? { businessId, ...about } : undefined;
      },
      async ({ businessId, of, id }): Promise<{ items: Try[] }> => {
        if (of === 'brand') return _api.call(listBrandTries, { params: { businessId } });
        return _api.call(of === 'campaign' ? listTries : listTollFreeTries, { params: { businessId, id } }) as Promise<{
          items: Try[];
        }>;
      },
    ),
  })),
  withComputed(({ _tries }) => ({
    tries: computed(() => [...(_tries.hasValue() ? (_tries.value()?.items ?? []) : [])].reverse()),
  })),
);
