import { changeLock, getGuard, refusePortOut, showReleasePin, type GuardView } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

/** How one number, named by its id, is kept from being ported away. */
export const NumberGuardStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(({ _api, _about, session }) => ({
    guard: liveResource(
      ['numbers'],
      () => {
        const id = _about();
        return session.businessId() && id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getGuard, { params }),
    ),
  })),
  withMethods(({ _api, _at, _about, acting, guard }) => {
    const of = () => ({ ..._at(), id: _about() ?? '' });
    const take = async (work: () => Promise<GuardView>, done = ''): Promise<void> => {
      const now = await acting.run(work, done);
      if (now) guard.set(now);
    };
    return {
      change: (wish: 'ask to unlock' | 'say yes' | 'lock') =>
        take(() => _api.call(changeLock, { params: of(), body: { wish } })),
      refuse: (key: string) =>
        take(() => _api.call(refusePortOut, { params: of(), body: { key } }), 'Refused; the number stays.'),
      /** The release PIN; each look is on the record. */
      look: async () => (await acting.run(() => _api.call(showReleasePin, { params: of() })))?.pin ?? '',
    };
  }),
);
