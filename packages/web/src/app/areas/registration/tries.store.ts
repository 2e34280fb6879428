import { computed } from '@angular/core';
import { listTries } from '@long-gate/contracts';
import { signalStore, withComputed, withProps } from '@ngrx/signals';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

/** What was submitted of one campaign, each time, and what was decided of it; the last try first. */
export const TriesStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(({ _api, _about, session }) => ({
    _tries: liveResource(
      ['registration'],
      () => {
        const id = _about();
        return session.businessId() && id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(listTries, { params }),
    ),
  })),
  withComputed(({ _tries }) => ({
    tries: computed(() => [...(_tries.hasValue() ? (_tries.value()?.items ?? []) : [])].reverse()),
  })),
);
