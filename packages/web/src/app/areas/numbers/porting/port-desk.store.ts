import { beginPorts, listPorts, portCalendar, renewCalendar, type PortView } from '@long-gate/contracts';
import { signalStore, withFeature, withMethods } from '@ngrx/signals';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withShown } from '../../../state/area-features/with-facets';
import { withItems } from '../../../state/area-features/with-items';

const SHOWN: Readonly<Record<string, (p: PortView) => boolean>> = {
  'under way': (p) => !['done', 'cancelled', 'returned'].includes(p.state),
  landed: (p) => p.state === 'done',
  closed: (p) => ['cancelled', 'returned'].includes(p.state),
};

/** Port requests of the business, and the dates of them. */
export const PortDeskStore = signalStore(
  withBusiness(),
  withAddress(['show', 'bring']),
  withFeature((store) =>
    withItems(store, ['numbers'], (api, businessId) => api.call(listPorts, { params: { businessId } })),
  ),
  withFeature((store) => withShown(store, SHOWN)),
  withMethods(({ _api, _at, acting, answer, list }) => ({
    /** Tests the numbers and begins a request for each losing carrier. */
    async begin(numbers: string) {
      const made = await _api.call(beginPorts, { params: _at(), body: { numbers } });
      list.reload();
      return made;
    },
    /** The dates as a file for a calendar. */
    calendarFile: () => _api.address(portCalendar, { params: _at() }),
    /** One's own secret address of the same dates; empty while it is not known. */
    feed: () => (answer() ? location.origin + (answer()?.calendarPath ?? '') : ''),
    async renewFeed(): Promise<void> {
      if (await acting.did(() => _api.call(renewCalendar, { params: _at() }), 'Your feed has a new address.'))
        list.reload();
    },
  })),
);
