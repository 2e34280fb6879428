import { computed } from '@angular/core';
import {
  listLists,
  listMessages,
  listMessagesFile,
  listNumbers,
  TEXT_OUTCOMES,
  type MessageView,
  type TextOutcome,
} from '@long-gate/contracts';
import { formatPhone } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

/** The tone of each outcome. */
export const TONES: Record<TextOutcome['key'], string> = {
  delivered: 'pass',
  moving: 'note',
  failed: 'stop',
  held: 'hold',
  stopped: 'stop',
  cancelled: 'soft',
};

/** The texts of one dispatch, named by its id, narrowed to what became of them. */
export const ResultsStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withAddress(['state']),
  withComputed(({ _about, address }) => ({
    _wanted: computed(
      () => ({ id: _about() ?? '', state: TEXT_OUTCOMES.find((o) => o.key === address().state)?.states.join(',') }),
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
  withMethods(({ _lists, _numbers, _api, _at, _wanted }) => ({
    /** Where those shown can be fetched as a file. */
    file: (): string => {
      const { id, state } = _wanted();
      return _api.address(listMessagesFile, { params: { ..._at(), id }, query: { state } });
    },
    listName: (id: string): string =>
      (_lists.hasValue() ? _lists.value() : undefined)?.items.find((l) => l.id === id)?.name ?? '…',
    numberName(id: string | null): string {
      const n = (_numbers.hasValue() ? _numbers.value() : undefined)?.items.find((x) => x.id === id);
      return n ? `${formatPhone(n.e164)} ${n.label}` : '';
    },
  })),
);
