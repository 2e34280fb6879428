import { computed } from '@angular/core';
import {
  addCodes,
  addKeyword,
  dropCodes,
  editKeyword,
  keepKeywordPicture,
  listKeywords,
  readKeywordPicture,
  type Keyword,
  type KeywordEdit,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withMethods } from '@ngrx/signals';
import type * as z from 'zod';
import { lastChangeOf } from '../../parts/form/last-change';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withItems } from '../../state/area-features/with-items';
import { withAskingNumbers } from './asking-numbers.store';

/** What stands in the address for a programme that is begun. */
export const NEW = 'new';

/** Programmes people join by texting a word; `open` in the address is the one that is edited. */
export const KeywordsStore = signalStore(
  withBusiness(),
  withAddress([]),
  withFeature((store) =>
    withItems(store, ['consent'], (api, businessId) => api.call(listKeywords, { params: { businessId } })),
  ),
  withFeature((store) => withAskingNumbers(store)),
  withComputed(({ all, open }) => ({
    rowIds: computed(() => all().map((k) => k.id)),
    chosen: computed(() => all().find((k) => k.id === open()) ?? null),
  })),
  withMethods(({ _api, _at, acting, list, open, session }) => ({
    /** Begins a programme, or edits the open one. @throws ApiProblem */
    async save(body: z.input<typeof KeywordEdit>, version: number): Promise<Keyword> {
      const id = open();
      const now =
        id === null || id === NEW
          ? await _api.call(addKeyword, { params: _at(), body })
          : await _api.call(editKeyword, { params: { ..._at(), id }, version, body });
      list.reload();
      return now;
    },
    /** The open programme as it is on the server now. */
    async readOpen(): Promise<Keyword> {
      const { items } = await _api.call(listKeywords, { params: _at() });
      const now = items.find((k) => k.id === open());
      if (!now) throw new Error('There is no such keyword any more.');
      return now;
    },
    /** @returns how many were added and were there; undefined where it was refused, which is said. */
    addCodes: (id: string, codes: string[]) =>
      acting.run(async () => {
        const answer = await _api.call(addCodes, { params: { ..._at(), id }, body: { codes } });
        list.reload();
        return answer;
      }),
    dropCodes: (id: string) =>
      acting.did(async () => {
        await _api.call(dropCodes, { params: { ..._at(), id } });
        list.reload();
      }, 'The codes nobody was given are taken away.'),
    keepPicture: (id: string, name: string, base64: string): Promise<boolean> =>
      acting.did(async () => {
        await _api.call(keepKeywordPicture, { params: { ..._at(), id }, body: { name, base64 } });
        list.reload();
      }, 'The picture is kept.'),
    picture: (id: string): string => _api.address(readKeywordPicture, { params: { ..._at(), id } }),
    lastChange: () => lastChangeOf(_api, session.businessId(), 'keyword', open() ?? ''),
  })),
);
