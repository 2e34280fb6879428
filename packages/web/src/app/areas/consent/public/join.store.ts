import { inject } from '@angular/core';
import { getPublicPage, optIn, optOut, type PublicPage } from '@long-gate/contracts';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import { Api, type ApiProblem } from '../../../api/api';

interface JoinState {
  page: PublicPage | null;
  /** Why there is no page. */
  missing: string;
  /** What is wrong, by field; the whole under the empty name. */
  errors: Record<string, string>;
  busy: boolean;
  joined: { shown: string; from: string } | null;
  left: { shown: string } | null;
}
const START: JoinState = { page: null, missing: '', errors: {}, busy: false, joined: null, left: null };

/** A contact's side of an opt-in page: its words, joining, and leaving. */
export const JoinStore = signalStore(
  withState(START),
  withProps(() => ({ api: inject(Api) })),
  withMethods((store) => {
    async function load(slug: string): Promise<void> {
      try {
        patchState(store, { page: await store.api.call(getPublicPage, { params: { slug } }), missing: '' });
      } catch (error) {
        patchState(store, { missing: (error as Error).message });
      }
    }
    async function act(work: () => Promise<Partial<JoinState>>): Promise<void> {
      patchState(store, { busy: true, errors: {} });
      try {
        patchState(store, await work());
      } catch (error) {
        const e = error as ApiProblem;
        const fields = Object.fromEntries((e.fields ?? []).map((f) => [f.field, f.message]));
        // The words have changed meanwhile: the new ones are shown, and asked again.
        if (e.code === 'words-changed') await load(store.page()?.slug ?? '');
        patchState(store, { errors: Object.keys(fields).length > 0 ? fields : { '': e.message } });
      } finally {
        patchState(store, { busy: false });
      }
    }
    return {
      load,
      wrong: (errors: Record<string, string>): void => patchState(store, { errors }),
      join: (form: {
        phone: string;
        firstName: string;
        purposes: ('informational' | 'promotional')[];
      }): Promise<void> =>
        act(async () => {
          const page = store.page();
          if (!page) return {};
          const body = { ...form, words: page.words };
          return { joined: await store.api.call(optIn, { params: { slug: page.slug }, body }) };
        }),
      leave: (phone: string): Promise<void> =>
        act(async () => ({
          left: await store.api.call(optOut, { params: { slug: store.page()?.slug ?? '' }, body: { phone } }),
        })),
    };
  }),
);
