import { computed } from '@angular/core';
import {
  addContactNumber,
  decideFaults,
  dropContactNumber,
  editContact,
  eraseContact,
  getContact,
  listFields,
  listLedger,
  listReassigned,
  mergeContacts,
  preferContactNumber,
  previewMerge,
  recordWish,
  undoMerge,
  type ContactDetail,
  type ContactField,
  type MergePreview,
} from '@long-gate/contracts';
import { PURPOSES } from '@long-gate/core';
import { patchState, signalStore, withComputed, withFeature, withMethods, withProps, withState } from '@ngrx/signals';
import type * as z from 'zod';
import { lastChangeOf } from '../../parts/form/last-change';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';
import { withLineQuestions } from './line-questions.store';
import { withLists } from '../../state/area-features/with-lists';

/** One contact, named by its id: what is known, and what staff may record. */
export const ContactStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withState({ _shown: '' }),
  withFeature((store) => withLists(store)),
  withFeature((store) => withLineQuestions(store)),
  withProps(({ _api, _about, session }) => ({
    _fields: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listFields, { params: { businessId } }),
    ),
    contact: liveResource(
      ['contacts', 'consent'],
      () => {
        const id = _about();
        return id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getContact, { params }),
    ),
  })),
  withComputed(({ contact, _fields, _shown }) => {
    const known = computed((): ContactDetail | undefined => (contact.hasValue() ? contact.value() : undefined));
    return {
      known,
      /** The business's own fields; null while they are being read. */
      fields: computed((): readonly ContactField[] | null =>
        _fields.hasValue() ? (_fields.value()?.items ?? []) : null,
      ),
      /** The number whose gate, line and consent are shown: the preferred one where none was chosen. */
      number: computed((): ContactDetail['numbers'][number] | undefined => {
        const numbers = known()?.numbers ?? [];
        return numbers.find((n) => n.e164 === _shown()) ?? numbers[0];
      }),
    };
  }),
  withProps(({ _api, number, session }) => ({
    events: liveResource(
      ['consent'],
      () => number()?.e164,
      (e164) => _api.call(listLedger, { params: { businessId: session.businessId() }, query: { e164, limit: 50 } }),
    ),
    /** What the reassigned numbers database said of the number, the last first. */
    _reassigned: liveResource(
      ['contacts', 'consent'],
      () => number()?.e164,
      (e164) => _api.call(listReassigned, { params: { businessId: session.businessId() }, query: { e164 } }),
    ),
  })),
  withComputed(({ known, lists, _reassigned }) => ({
    /** What was last answered to whether the number changed hands. */
    hands: computed(() => (_reassigned.hasValue() ? _reassigned.value()?.[0] : undefined)),
    /** The lists and tags it is on. */
    on: computed(() => lists().filter((l) => known()?.lists.includes(l.name))),
  })),
  withMethods((store) => {
    const { _api, _at, _about, _changeMembers, _listFor, acting, number, lists, session, contact } = store;
    const of = () => ({ ..._at(), id: _about() ?? '' });
    /** What changes the contact, and is shown at once. */
    const changing = async (what: () => Promise<ContactDetail>, said: string): Promise<boolean> => {
      const now = await acting.run(what);
      if (!now) return false;
      contact.set(now);
      acting.done(said);
      return true;
    };
    return {
      show: (e164: string) => patchState(store, { _shown: e164 }),
      addNumber: (body: z.input<typeof addContactNumber.body>) => _api.call(addContactNumber, { params: of(), body }),
      took: (now: ContactDetail) => contact.set(now),
      prefer: (e164: string) =>
        changing(
          () => _api.call(preferContactNumber, { params: of(), body: { e164 } }),
          'Texts go to this number now.',
        ),
      drop: (e164: string) =>
        changing(() => _api.call(dropContactNumber, { params: of(), body: { e164 } }), 'The number was taken off.'),
      previewMerge: (id: string, other: string): Promise<MergePreview> =>
        _api.call(previewMerge, { params: { ..._at(), id }, query: { with: other } }),
      merge: (p: MergePreview) =>
        changing(
          () =>
            _api.call(mergeContacts, {
              params: { ..._at(), id: p.keptId },
              body: { with: p.goneId, keptVersion: p.keptVersion, goneVersion: p.goneVersion },
            }),
          'Merged. It can be taken back.',
        ),
      undoMerge: (id: string) =>
        acting.did(() => _api.call(undoMerge, { params: { ..._at(), id } }), 'They are two contacts again, as before.'),
      /** @returns what went and what stays; null where it was refused. */
      erase: (request: string) => acting.run(() => _api.call(eraseContact, { params: of(), body: { request } })),
      /** On a known list or tag, or on a new tag of that name. */
      putOn: (name: string) => _changeMembers(() => _listFor(name), 'put on', [_about() ?? '']),
      takeOff: (id: string) => {
        const list = lists().find((l) => l.id === id);
        return list
          ? _changeMembers(() => Promise.resolve(list), 'take off', [_about() ?? ''])
          : Promise.resolve(false);
      },
      async save(body: z.input<typeof editContact.body>, version: number): Promise<ContactDetail> {
        const now = await _api.call(editContact, { params: of(), version, body });
        contact.set(now);
        return now;
      },
      read: () => _api.call(getContact, { params: of() }),
      lastChange: () => lastChangeOf(_api, session.businessId(), 'contact', _about() ?? ''),
      /** Everything stops, for every number of the business. @throws ApiProblem */
      async recordWish(body: Pick<z.output<typeof recordWish.body>, 'how' | 'saidOn' | 'words'>): Promise<true> {
        const e164 = number()?.e164 ?? '';
        await _api.call(recordWish, { params: _at(), body: { ...body, e164, purposes: [...PURPOSES] } });
        acting.done('Recorded. Nothing more is sent to them.');
        return true;
      },
      lookup: () => store._lookupsOf({ e164s: [number()?.e164 ?? ''] }),
      query: () => store._queriesOf({ e164s: [number()?.e164 ?? ''] }),
      /** Ends the review of a number that was held after three faults. */
      decideFaults: (e164: string, tryAgain: boolean) =>
        acting.did(
          () => _api.call(decideFaults, { params: _at(), body: { e164, tryAgain } }),
          tryAgain ? 'It is texted again; faults count anew.' : 'Kept out as out of service.',
        ),
    };
  }),
);
