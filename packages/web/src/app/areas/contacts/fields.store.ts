import { computed } from '@angular/core';
import { addField, dropField, editField, listFields, type ContactField } from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withBusiness } from '../../state/area-features/with-business';
import { liveResource } from '../../state/live-resource';

/** The fields of its own a business keeps of contacts. */
export const FieldsStore = signalStore(
  withBusiness(),
  withProps(({ _api, session }) => ({
    read: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listFields, { params: { businessId } }),
    ),
  })),
  withComputed(({ read }) => ({
    fields: computed((): readonly ContactField[] => (read.hasValue() ? (read.value()?.items ?? []) : [])),
  })),
  withMethods(({ _api, _at, acting, read }) => ({
    /** @throws ApiProblem */
    async add(body: z.input<typeof addField.body>): Promise<ContactField> {
      const made = await _api.call(addField, { params: _at(), body });
      acting.done(`The field “${made.name}” is there.`);
      read.reload();
      return made;
    },
    /** @throws ApiProblem */
    async edit(id: string, body: z.input<typeof editField.body>): Promise<ContactField> {
      const now = await _api.call(editField, { params: { ..._at(), id }, body });
      acting.done('Saved.');
      read.reload();
      return now;
    },
    async drop(f: ContactField): Promise<void> {
      await acting.did(
        () => _api.call(dropField, { params: { ..._at(), id: f.id } }),
        `“${f.name}” is gone, with what stood in it.`,
      );
      read.reload();
    },
  })),
);
