import { computed } from '@angular/core';
import {
  callHosted,
  confirmHosted,
  endHosted,
  getDossier,
  hostedLink,
  listHosted,
  saveHosted,
  submitHosted,
  type HostedView,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { lastChangeOf } from '../../../parts/form/last-change';
import { withBusiness } from '../../../state/area-features/with-business';
import { withSubject } from '../../../state/area-features/with-subject';
import { liveResource } from '../../../state/live-resource';

/** What can be done about one hosted number. */
export const HostedDocketStore = signalStore(
  withBusiness(),
  withSubject<HostedView>(),
  withProps(({ _api, session }) => ({
    _dossier: liveResource(
      ['registration'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(getDossier, { params: { businessId } }),
    ),
  })),
  withComputed(({ _dossier }) => ({
    campaigns: computed(() => (_dossier.hasValue() ? (_dossier.value()?.campaigns ?? []) : [])),
  })),
  withMethods(({ _api, _at, _about, session, acting }) => {
    const of = () => ({ ..._at(), id: _about()?.id ?? '' });
    return {
      save: (body: HostedView['facts'], version: number) => _api.call(saveHosted, { params: of(), version, body }),
      /** As it is on the server now. */
      async read(): Promise<HostedView> {
        const { items } = await _api.call(listHosted, { params: _at() });
        const now = items.find((h) => h.id === _about()?.id) ?? _about();
        if (!now) throw new Error('No set-up is open.');
        return now;
      },
      lastChange: () => lastChangeOf(_api, session.businessId(), 'hosted', _about()?.id ?? ''),
      /** A link by which the holder signs; undefined where it was refused. */
      async signingLink(): Promise<string | undefined> {
        const made = await acting.run(() => _api.call(hostedLink, { params: of() }));
        return made && location.origin + made.path;
      },
      call: () => acting.did(() => _api.call(callHosted, { params: of() }), 'The line is being called.'),
      giveBack: (code: string) => acting.did(() => _api.call(confirmHosted, { params: of(), body: { code } })),
      submit: () => acting.did(() => _api.call(submitHosted, { params: of() }), 'Submitted.'),
      end: (done: string) => acting.did(() => _api.call(endHosted, { params: of() }), done),
    };
  }),
);
