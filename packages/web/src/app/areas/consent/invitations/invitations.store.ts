import { computed } from '@angular/core';
import {
  addInvitation,
  editInvitation,
  listInvitations,
  listInvited,
  listLists,
  listPages,
  previewInvitation,
  sendInvitation,
  withdrawInvited,
  type OptInInvitation,
  type OptInInvitationEdit,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withItems } from '../../../state/area-features/with-items';
import { liveResource } from '../../../state/live-resource';

export type Whom = z.input<typeof sendInvitation.body>['whom'];
export type InvitationPreview = z.output<typeof previewInvitation.answer>;
type Letter = z.input<typeof OptInInvitationEdit>;
/** So many of those invited are shown beside an invitation. */
const SHOWN = 100;

/** Invitations by e-mail; `open` in the address is the one whose people are shown. */
export const InvitationsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withItems(store, ['consent', 'jobs'], (api, businessId) => api.call(listInvitations, { params: { businessId } })),
  ),
  withProps(({ _api, session, open }) => ({
    _people: liveResource(
      ['consent', 'jobs'],
      () => {
        const id = open();
        return id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(listInvited, { params, query: { limit: SHOWN } }),
    ),
    _pages: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listPages, { params: { businessId } }),
    ),
    _lists: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
  })),
  withComputed(({ all, open, _people, _pages, _lists }) => ({
    rowIds: computed(() => all().map((x) => x.id)),
    chosen: computed(() => all().find((x) => x.id === open()) ?? null),
    people: computed(() => (_people.hasValue() ? _people.value() : undefined)),
    /** Pages people can agree on; null while they are being read. */
    pages: computed(() => (_pages.hasValue() ? (_pages.value()?.items ?? []).filter((p) => p.published) : null)),
    lists: computed(() => (_lists.hasValue() ? (_lists.value()?.items ?? []) : [])),
  })),
  withMethods(({ _api, _at, acting, list }) => ({
    /** @throws ApiProblem */
    preview: (body: z.input<typeof previewInvitation.body>): Promise<InvitationPreview> =>
      _api.call(previewInvitation, { params: _at(), body }),
    /** Keeps a letter: a new one, or another state of one that is kept. */
    keep: (letter: Letter, kept: OptInInvitation | null): Promise<OptInInvitation | undefined> =>
      acting.run(async () => {
        const now = kept
          ? await _api.call(editInvitation, { params: { ..._at(), id: kept.id }, version: kept.version, body: letter })
          : await _api.call(addInvitation, { params: _at(), body: letter });
        list.reload();
        return now;
      }),
    send: (id: string, whom: Whom, seen: number, key: string) =>
      acting.did(
        () => _api.call(sendInvitation, { params: { ..._at(), id }, body: { whom, seen }, key }),
        'The e-mails are on their way.',
      ),
    withdraw: (id: string, linkId: string | null) =>
      acting.did(
        () => _api.call(withdrawInvited, { params: { ..._at(), id }, body: { linkId } }),
        'Links that were not answered lead nowhere now.',
      ),
  })),
);
