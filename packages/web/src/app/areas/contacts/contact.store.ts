import { computed } from '@angular/core';
import {
  decideFaults,
  editContact,
  estimateLookups,
  getContact,
  listLedger,
  recordWish,
  startLookups,
  type ContactRow,
} from '@long-gate/contracts';
import { PURPOSES } from '@long-gate/core';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { lastChangeOf } from '../../parts/form/last-change';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';
import { withLists } from './lists.store';

/** One contact, named by its id: what is known, and what staff may record. */
export const ContactStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withFeature((store) => withLists(store)),
  withProps(({ _api, _about, session }) => ({
    contact: liveResource(
      ['contacts', 'consent'],
      () => {
        const id = _about();
        return id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getContact, { params }),
    ),
  })),
  withComputed(({ contact }) => ({
    known: computed((): ContactRow | undefined => (contact.hasValue() ? contact.value() : undefined)),
  })),
  withProps(({ _api, known, session }) => ({
    events: liveResource(
      ['consent'],
      () => known()?.number.e164,
      (e164) => _api.call(listLedger, { params: { businessId: session.businessId() }, query: { e164, limit: 50 } }),
    ),
  })),
  withComputed(({ known, lists }) => ({
    /** The lists and tags it is on. */
    on: computed(() => lists().filter((l) => known()?.lists.includes(l.name))),
  })),
  withMethods(({ _api, _at, _about, _changeMembers, _listFor, acting, known, lists, session, contact }) => {
    const of = () => ({ ..._at(), id: _about() ?? '' });
    return {
      /** On a known list or tag, or on a new tag of that name. */
      putOn: (name: string) => _changeMembers(() => _listFor(name), 'put on', [_about() ?? '']),
      takeOff: (id: string) => {
        const list = lists().find((l) => l.id === id);
        return list
          ? _changeMembers(() => Promise.resolve(list), 'take off', [_about() ?? ''])
          : Promise.resolve(false);
      },
      async save(body: z.input<typeof editContact.body>, version: number): Promise<ContactRow> {
        const now = await _api.call(editContact, { params: of(), version, body });
        contact.set(now);
        return now;
      },
      read: () => _api.call(getContact, { params: of() }),
      lastChange: () => lastChangeOf(_api, session.businessId(), 'contact', _about() ?? ''),
      /** Everything stops, for every number of the business. @throws ApiProblem */
      async recordWish(body: Pick<z.output<typeof recordWish.body>, 'how' | 'words'>): Promise<true> {
        const e164 = known()?.number.e164 ?? '';
        await _api.call(recordWish, { params: _at(), body: { ...body, e164, purposes: [...PURPOSES] } });
        acting.done('Recorded. Nothing more is sent to them.');
        return true;
      },
      /** What asking about this line costs, and how it begins. */
      lookup: () => {
        const e164s = [known()?.number.e164 ?? ''];
        return {
          estimate: (again: boolean) => _api.call(estimateLookups, { params: _at(), body: { e164s, again } }),
          start: (again: boolean) => _api.call(startLookups, { params: _at(), body: { e164s, again } }),
        };
      },
      /** Ends the review of a number that was held after three faults. */
      decideFaults: (e164: string, tryAgain: boolean) =>
        acting.did(
          () => _api.call(decideFaults, { params: _at(), body: { e164, tryAgain } }),
          tryAgain ? 'It is texted again; faults count anew.' : 'Kept out as out of service.',
        ),
    };
  }),
);
