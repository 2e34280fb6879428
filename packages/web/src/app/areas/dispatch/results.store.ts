import { computed } from '@angular/core';
import { listLists, listMessages, listNumbers, type MessageView } from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

/** What can become of a text, in groups that people speak of. */
export const OUTCOMES: readonly { key: string; label: string; states: readonly string[]; tone: string }[] = [
  { key: 'delivered', label: 'delivered', states: ['delivered'], tone: 'pass' },
  { key: 'moving', label: 'on its way', states: ['judging', 'waiting', 'leaving', 'unsure', 'sent'], tone: 'note' },
  { key: 'failed', label: 'failed', states: ['failed'], tone: 'stop' },
  { key: 'held', label: 'held', states: ['held'], tone: 'hold' },
  { key: 'stopped', label: 'stopped', states: ['stopped'], tone: 'stop' },
  { key: 'cancelled', label: 'let go', states: ['cancelled'], tone: 'soft' },
];

/** The texts of one dispatch, named by its id, narrowed to what became of them. */
export const ResultsStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withAddress(['state']),
  withComputed(({ _about, address }) => ({
    _wanted: computed(
      () => ({ id: _about() ?? '', state: OUTCOMES.find((o) => o.key === address().state)?.states.join(',') }),
      { equal: (a, b) => a.id === b.id && a.state === b.state },
    ),
  })),
  withFeature(({ _api, _at, session, acting, _wanted }) =>
    withPages<MessageView, { id: string; state?: string }>(
      { _api, _at, session, acting, filters: _wanted },
      {
        topics: ['dispatch'],
        id: (m) => m.id,
        size: 100,
        load: (api, { id, state }, { businessId, ...page }) =>
          id === ''
            ? Promise.resolve({ items: [], next: null, total: null })
            : api.call(listMessages, { params: { businessId, id }, query: { state, ...page } }),
      },
    ),
  ),
  withProps(({ _api, session }) => ({
    _lists: liveResource(
      [],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
    _numbers: liveResource(
      [],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listNumbers, { params: { businessId } }),
    ),
  })),
  withMethods(({ _lists, _numbers }) => ({
    listName: (id: string): string =>
      (_lists.hasValue() ? _lists.value() : undefined)?.items.find((l) => l.id === id)?.name ?? '…',
    numberName(id: string | null): string {
      const n = (_numbers.hasValue() ? _numbers.value() : undefined)?.items.find((x) => x.id === id);
      return n ? `${formatPhone(n.e164)} ${n.label}` : '';
    },
  })),
);
