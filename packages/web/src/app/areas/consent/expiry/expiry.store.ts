import { computed } from '@angular/core';
import {
  expiringFile,
  listExpiring,
  previewExpiry,
  readExpiry,
  saveExpiry,
  type Expiring,
  type ExpiryPolicyView,
  type ExpiryPreview,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress, type Address } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withLists } from '../../../state/area-features/with-lists';
import { withPages } from '../../../state/area-features/with-pages';
import { liveResource } from '../../../state/live-resource';

const asked = (of: string | undefined): 'yes' | 'no' | undefined => (of === 'yes' || of === 'no' ? of : undefined);

/** When consent ends that nobody stood by, what another policy would come to, and whose ends next. */
export const ExpiryStore = signalStore(
  withBusiness(),
  withAddress(['asked']),
  withComputed(({ address }) => ({ asked: computed(() => asked(address().asked) ?? null) })),
  withProps(({ _api, session }) => ({
    policy: liveResource(
      ['consent'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(readExpiry, { params: { businessId } }),
    ),
  })),
  withFeature((store) =>
    withPages<Expiring, Address<'asked'>>(
      { ...store, filters: store.address },
      {
        topics: ['consent', 'jobs'],
        id: (x) => x.e164,
        load: (api, filters, { businessId, ...page }) => {
          const which = asked(filters.asked);
          return api.call(listExpiring, {
            params: { businessId },
            query: { ...page, ...(which ? { asked: which } : {}) },
          });
        },
      },
    ),
  ),
  withFeature((store) => withLists(store)),
  withMethods(({ _api, _at, _changeMembers, _listFor, asked: only, policy, acting }) => ({
    /** Everybody who is listed, or those of them who were asked, or were not: on a list or tag of this name, new where there is none. */
    async putOn(name: string): Promise<boolean> {
      const which = only();
      const ids = new Set<string>();
      for (let cursor: string | null | undefined; cursor !== null;) {
        const query = { limit: 500, ...(cursor ? { cursor } : {}), ...(which ? { asked: which } : {}) };
        const page = await acting.run(() => _api.call(listExpiring, { params: _at(), query }));
        if (!page) return false;
        for (const x of page.items) ids.add(x.contactId);
        cursor = page.next;
      }
      return _changeMembers(() => _listFor(name), 'put on', [...ids]);
    },
    /** Those that are listed, as the filter in force leaves them, as CSV. */
    file(): string {
      const which = only();
      return _api.address(expiringFile, { params: _at(), query: which ? { asked: which } : {} });
    },
    /** What a policy would come to; nothing is changed by it. */
    preview: (body: ExpiryPolicyView): Promise<ExpiryPreview> => _api.call(previewExpiry, { params: _at(), body }),
    /** @param version of what was changed. @throws ApiProblem 412 where somebody else changed it meanwhile */
    async save(body: ExpiryPolicyView, version: number): Promise<true> {
      policy.set(await _api.call(saveExpiry, { params: _at(), version, body }));
      acting.done(
        body.on ? 'Saved. Whose consent ends next is being looked for.' : 'Saved. Nobody’s consent ends by itself.',
      );
      return true;
    },
  })),
);
