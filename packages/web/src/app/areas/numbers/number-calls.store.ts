import { computed } from '@angular/core';
import { getCallHandling, listLists, setCallHandling, type CallHandling } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

const NONE: CallHandling = { way: 'none', forwardTo: '', greeting: '', textBack: '', invites: false, list: '' };

/** What happens to calls to one number, named by its id. */
export const NumberCallsStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(({ _api, _about, session }) => ({
    _handling: liveResource(
      ['numbers'],
      () => {
        const id = _about();
        return session.businessId() && id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getCallHandling, { params }),
    ),
    _lists: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
  })),
  withComputed(({ _handling, _lists }) => ({
    handling: computed(() => (_handling.hasValue() ? (_handling.value() ?? NONE) : NONE)),
    /** Names of lists a caller can join. */
    lists: computed(() =>
      (_lists.hasValue() ? (_lists.value()?.items ?? []) : []).filter((l) => l.kind === 'list').map((l) => l.name),
    ),
  })),
  withMethods(({ _api, _at, _about, _handling }) => ({
    async save(body: CallHandling): Promise<void> {
      _handling.set(await _api.call(setCallHandling, { params: { ..._at(), id: _about() ?? '' }, body }));
    },
  })),
);
