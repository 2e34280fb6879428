import { computed } from '@angular/core';
import { addList, changeMembers, listLists, type ContactList, type ListChange } from '@long-gate/contracts';
import { signalStoreFeature, withComputed, withMethods, withProps } from '@ngrx/signals';
import { counted } from '../../parts/format';
import type { OfBusiness } from './with-business';
import { liveResource } from '../live-resource';

/** At most so many are named in one request. */
const NAMED_AT_ONCE = 5000;
const OPPOSITE = { 'put on': 'take off', 'take off': 'put on' } as const;

/** The lists and tags of the business, one by its name, and who is put on one or taken off. */
export function withLists({ _api, _at, acting, session }: OfBusiness) {
  return signalStoreFeature(
    withProps(() => ({
      _lists: liveResource(
        ['contacts'],
        () => session.businessId() || undefined,
        (businessId) => _api.call(listLists, { params: { businessId } }),
      ),
    })),
    withComputed(({ _lists }) => ({
      lists: computed((): readonly ContactList[] => (_lists.hasValue() ? (_lists.value()?.items ?? []) : [])),
    })),
    withMethods(({ lists }) => {
      const listCalled = (name: string) =>
        lists().find((l) => l.name.toLowerCase() === name.trim().toLowerCase()) ?? null;
      const change = async (
        at: { businessId: string },
        list: ContactList,
        which: ListChange['change'],
        ids: readonly string[],
      ) => {
        const changed: string[] = [];
        for (let i = 0; i < ids.length; i += NAMED_AT_ONCE) {
          const part = ids.slice(i, i + NAMED_AT_ONCE);
          const body = which === 'put on' ? { add: part } : { remove: part };
          const done = await _api.call(changeMembers, { params: { ...at, id: list.id }, body });
          changed.push(...done.added, ...done.removed);
        }
        return changed;
      };
      return {
        listCalled,
        /** Says what came of it, and takes it back for those alone whom it changed. @returns whether it was done. */
        _changeMembers: async (
          list: () => Promise<ContactList>,
          which: ListChange['change'],
          ids: readonly string[],
        ): Promise<boolean> => {
          // Taking it back is about the business it was done in, whichever is open by then.
          const at = _at();
          const done = await acting.run(async () => {
            const on = await list();
            return { on, changed: await change(at, on, which, ids) };
          });
          if (!done) return false;
          const { on, changed } = done;
          acting.done(
            saidOf(which, on.name, ids.length, changed.length),
            changed.length > 0 ? () => change(at, on, OPPOSITE[which], changed) : undefined,
          );
          return true;
        },
        /** A list or tag of that name, or a new tag of it. @throws ApiProblem */
        _listFor: async (name: string): Promise<ContactList> =>
          listCalled(name) ?? (await _api.call(addList, { params: _at(), body: { name: name.trim(), kind: 'tag' } })),
      };
    }),
  );
}

const contacts = (n: number): string => counted(n, 'contact');
/** What came of it: who was on the list already, or not on it, is told apart. */
function saidOf(which: ListChange['change'], list: string, chosen: number, changed: number): string {
  const rest = chosen - changed;
  const done = `${contacts(changed)} ${which === 'put on' ? 'put on' : 'taken off'} “${list}”`;
  if (rest <= 0) return `${done}.`;
  return `${done}; ${rest.toLocaleString('en-US')} ${rest === 1 ? 'was' : 'were'} ${which === 'put on' ? 'on it already' : 'not on it'}.`;
}
