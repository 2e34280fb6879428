import { computed } from '@angular/core';
import {
  addPage,
  dropPagePicture,
  editPage,
  keepPagePicture,
  listPages,
  listPageVersions,
  pageCode,
  pagePaper,
  readPageVersion,
  type OptInPage,
  type OptInPageEdit,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { lastChangeOf } from '../../../parts/form/last-change';
import { withAddress } from '../../../state/area-features/with-address';
import { withBusiness } from '../../../state/area-features/with-business';
import { withItems } from '../../../state/area-features/with-items';
import { liveResource } from '../../../state/live-resource';
import { withAskingNumbers } from '../asking-numbers.store';

/** What stands in the address for a page that is being made. */
export const NEW = 'new';

/** Public opt-in pages; `open` in the address is the one that is edited. */
export const PagesStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withItems(store, ['consent'], (api, businessId) => api.call(listPages, { params: { businessId } })),
  ),
  withProps(({ _api, session, open }) => ({
    _versions: liveResource(
      ['consent'],
      () => {
        const id = open();
        return id && id !== NEW ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(listPageVersions, { params }),
    ),
  })),
  withFeature((store) => withAskingNumbers(store)),
  withComputed(({ all, open, read, _versions }) => ({
    /** Versions of the open page that were kept, the last first. */
    versions: computed(() => (_versions.hasValue() ? (_versions.value()?.items ?? []) : [])),
    rowIds: computed(() => all().map((p) => p.id)),
    chosen: computed(() => all().find((p) => p.id === open()) ?? null),
    /** Whether the address names a page that is not there. */
    missing: computed(() => read() && open() !== NEW && all().every((p) => p.id !== open())),
  })),
  withMethods(({ _api, _at, acting, list, open, session }) => ({
    /** Makes a page, or edits the open one. @throws ApiProblem */
    async save(body: z.input<typeof OptInPageEdit>, version: number): Promise<OptInPage> {
      const id = open();
      const now =
        id === null || id === NEW
          ? await _api.call(addPage, { params: _at(), body })
          : await _api.call(editPage, { params: { ..._at(), id }, version, body });
      list.reload();
      return now;
    },
    /** The open page as it is on the server now. */
    async readOpen(): Promise<OptInPage> {
      const { items } = await _api.call(listPages, { params: _at() });
      const now = items.find((p) => p.id === open());
      if (!now) throw new Error('There is no such page any more.');
      return now;
    },
    /** Puts a picture on top of a page. */
    keepPicture: (id: string, name: string, base64: string) =>
      acting.run(async () => {
        await _api.call(keepPagePicture, { params: { ..._at(), id }, body: { name, base64 } });
        list.reload();
      }, 'The picture is on the page.'),
    dropPicture: (id: string) =>
      acting.run(async () => {
        await _api.call(dropPagePicture, { params: { ..._at(), id } });
        list.reload();
      }, 'The picture is off the page.'),
    /** The page’s address as a QR code. */
    code: (id: string, as: 'svg' | 'png') => _api.address(pageCode, { params: { ..._at(), id }, query: { as } }),
    /** A form for paper with the page’s words, in so many sheets. */
    paper: (id: string, sheets: number) =>
      _api.address(pagePaper, { params: { ..._at(), id }, query: { sheets: String(sheets) } }),
    version: (sha256: string) => _api.address(readPageVersion, { params: { ..._at(), sha256 } }),
    lastChange: () => lastChangeOf(_api, session.businessId(), 'page', open() ?? ''),
  })),
);
