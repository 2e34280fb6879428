import { computed, resource } from '@angular/core';
import {
  changeMatching,
  contactFacets,
  deleteContacts,
  exportContacts,
  listContacts,
  type ContactList,
  type ContactRow,
  type ContactSort,
  type ListChange,
} from '@long-gate/contracts';
import { signalStore, withComputed, withFeature, withHooks, withMethods, withProps } from '@ngrx/signals';
import { onTopics } from '../../parts/on-topics';
import { withAddress, type Address } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { withSelection } from '../../state/area-features/with-selection';
import { FACET_WORDS } from './contact-words';
import { withLists } from '../../state/area-features/with-lists';
import { withLineQuestions } from './line-questions.store';

const KEYS = [
  'q',
  'textable',
  'line',
  'country',
  'trouble',
  'replied',
  'list',
  'tag',
  'conversational',
  'informational',
  'promotional',
  'faults',
  'named',
] as const;
/** Shown as toggles; the others are folded away. */
const OPEN_FACETS = { textable: 'Textable', promotional: 'Promotional' } as const;
const FOLDED_FACETS = {
  informational: 'Informational',
  conversational: 'Conversational',
  line: 'Line',
  replied: 'Last reply',
  trouble: 'Trouble',
  country: 'Country',
} as const;
type FacetKey = keyof typeof OPEN_FACETS | keyof typeof FOLDED_FACETS;
/** So many are named one by one in an address. */
const NAMED_MOST = 150;
type Filters = Address<(typeof KEYS)[number]>;
/** As the contract wants them: it refuses what an address holds by mistake. */
const asked = <T extends object>(filters: T) => filters as T & { faults?: 'yes'; named?: 'no'; sort?: ContactSort };

/** Those chosen: all that the filters leave, or by their numbers. */
function whomOf(store: {
  filters: () => Filters;
  whole: () => boolean;
  picked: () => readonly string[];
  rows: () => readonly ContactRow[];
}) {
  const { sort: _, ...filter } = asked(store.filters());
  if (store.whole()) return { filter: Object.keys(filter).length > 0 ? filter : null };
  const picked = new Set(store.picked());
  return { e164s: store.rows().flatMap((c) => (picked.has(c.id) ? [c.number.e164] : [])) };
}

/** All contacts, filtered on the server, and chosen for being put on a list or taken off. */
export const ContactListStore = signalStore(
  withBusiness(),
  withAddress(KEYS, ','),
  withFeature((store) => withLists(store)),
  withFeature((store) => withLineQuestions(store)),
  withFeature((store) =>
    withPages<ContactRow, Filters>(store, {
      topics: ['contacts', 'consent'],
      id: (c) => c.id,
      load: (api, filters, { businessId, ...page }) =>
        api.call(listContacts, { params: { businessId }, query: asked({ ...filters, ...page }) }),
    }),
  ),
  withProps(({ _api, session, filters }) => ({
    _counts: resource({
      params: () => (session.businessId() ? { businessId: session.businessId(), query: filters() } : undefined),
      loader: ({ params: { businessId, query } }) =>
        _api.call(contactFacets, { params: { businessId }, query: asked(query) }),
    }),
  })),
  withComputed(({ _counts, total, loading, valuesOf }) => {
    /** With their counts; those of the filters before stay until there are newer ones. */
    let last: Partial<Record<FacetKey | 'list' | 'tag', Record<string, number>>> = {};
    const counted = computed(() => (last = _counts.hasValue() ? (_counts.value() ?? last) : last));
    const groups = (of: Readonly<Partial<Record<FacetKey, string>>>) =>
      (Object.entries(of) as [FacetKey, string][]).map(([key, label]) => {
        const on = valuesOf(key);
        const counts = counted()[key] ?? {};
        return {
          key,
          label,
          values: [...new Set([...Object.keys(counts), ...on])].map((value) => ({
            value,
            label: FACET_WORDS[key]?.[value] ?? value,
            n: counts[value] ?? 0,
            on: on.includes(value),
          })),
        };
      });
    return {
      facets: computed(() => (Object.keys(counted()).length === 0 ? [] : groups(OPEN_FACETS))),
      /** How many of those left are on a list or have a tag; all its members until that is counted. */
      members: computed(() => {
        const counts = counted();
        return (key: 'list' | 'tag', l: ContactList): number => {
          const of = counts[key];
          return of ? (of[l.id] ?? 0) : l.count;
        };
      }),
      folded: computed(() => groups(FOLDED_FACETS)),
      /** Said by the page where it is quickly counted, else by the facets, which may take longer. */
      matching: computed(() => total() ?? (_counts.hasValue() && !loading() ? _counts.value().total : null)),
    };
  }),
  withFeature(({ rows, matching, filters }) => withSelection({ shown: rows, matching, filters }, (c) => c.id)),
  withMethods((store) => ({
    /**
     * Puts those chosen on a list or tag, a new tag where there is none of that name, or takes them off. All that match
     * are a job of the server's; those chosen one by one are done at once, and can be taken back.
     */
    async changeList(name: string, change: ListChange['change']): Promise<boolean> {
      const [ids, seen, { _api, acting }] = [store.picked(), store.chosenCount(), store];
      const list = (): Promise<ContactList> => store._listFor(name);
      const done = store.whole()
        ? await acting.did(
            async () => {
              const { sort: _, ...filter } = asked(store.filters());
              const params = { ...store._at(), id: (await list()).id };
              await _api.call(changeMatching, { params, body: { change, filter, seen } });
            },
            `${seen.toLocaleString('en-US')} contacts are being ${change === 'put on' ? 'put on' : 'taken off'} “${name}”.`,
          )
        : await store._changeMembers(list, change, ids);
      if (done) store.setChoosing(false);
      return done;
    },
    /** What asking about the lines of those chosen costs, and how it begins. */
    lookups: () => store._lookupsOf(whomOf(store)),
    queries: () => store._queriesOf(whomOf(store)),
    /** Those chosen, as what is done for several names them. */
    whom: () => whomOf(store),
    /** Those chosen, as an address names them; null where they are too many to be named one by one. */
    named: (): Record<string, string> | null => {
      if (store.whole()) {
        const { sort: _, ...filter } = asked(store.filters());
        return filter as Record<string, string>;
      }
      const picked = new Set(store.picked());
      const e164s = store.rows().flatMap((c) => (picked.has(c.id) ? [c.number.e164] : []));
      return e164s.length > NAMED_MOST ? null : { e164: e164s.join(',') };
    },
    /** Deletes those chosen by a job of the server's. */
    async deleteChosen(): Promise<boolean> {
      const { sort: _, ...filter } = asked(store.filters());
      const seen = store.chosenCount();
      const done = await store.acting.did(
        () =>
          store._api.call(deleteContacts, {
            params: store._at(),
            body: store.whole() ? { filter, seen } : { ids: store.picked(), seen },
          }),
        `${seen.toLocaleString('en-US')} contact${seen === 1 ? ' is' : 's are'} being deleted.`,
      );
      if (done) store.setChoosing(false);
      return done;
    },
    file: () => {
      const { open: _, ...query } = store.address();
      return store._api.address(exportContacts, { params: store._at(), query: asked(query) });
    },
  })),
  withHooks({
    onInit(store) {
      onTopics(['contacts', 'consent'], () => store._counts.reload());
    },
  }),
);
