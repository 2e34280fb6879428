import { computed } from '@angular/core';
import {
  beginIntake,
  cancelIntake,
  knownNumbers,
  listDispatches,
  listFields,
  listIntakes,
  listLists,
  listMessagesFile,
  sendIntakeRows,
  storeIntake,
  undoIntake,
  type ContactField,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { withBusiness } from '../../../state/area-features/with-business';
import { liveResource } from '../../../state/live-resource';

/** Earlier intakes, and handing in a new one. */
export const IntakeStore = signalStore(
  withBusiness(),
  withProps(({ _api, session }) => ({
    _lists: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
    _earlier: liveResource(
      ['contacts', 'jobs'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listIntakes, { params: { businessId } }),
    ),
  })),
  withProps(({ _api, session }) => ({
    _dispatches: liveResource(
      ['dispatch'],
      () => session.businessId() || undefined,
      async (businessId) => {
        const of = (show: 'sent' | 'under way') =>
          _api.call(listDispatches, { params: { businessId }, query: { show, limit: 100 } });
        const [sent, underWay] = await Promise.all([of('sent'), of('under way')]);
        return [...underWay.items, ...sent.items];
      },
    ),
  })),
  withComputed(({ _lists, _earlier, _dispatches }) => ({
    /** The last dispatches that have left. */
    dispatches: computed(() => (_dispatches.hasValue() ? (_dispatches.value() ?? []) : [])),
    /** Names of the lists there are; tags are put on one by one. */
    lists: computed(() =>
      (_lists.hasValue() ? (_lists.value()?.items ?? []) : []).filter((l) => l.kind === 'list').map((l) => l.name),
    ),
    earlier: computed(() => (_earlier.hasValue() ? (_earlier.value()?.items ?? []) : [])),
  })),
  withMethods(({ _api, _at, _earlier }) => ({
    /** @returns its id. @throws ApiProblem */
    begin: async (body: z.input<typeof beginIntake.body>) => (await _api.call(beginIntake, { params: _at(), body })).id,
    send: (id: string, rows: z.input<typeof sendIntakeRows.body>['rows']) =>
      _api.call(sendIntakeRows, { params: { ..._at(), id }, body: { rows } }),
    /** The business's own fields as they are now: columns are found by them. @throws ApiProblem */
    readFields: async (): Promise<ContactField[]> => (await _api.call(listFields, { params: _at() })).items,
    /** Which of these numbers are contacts here already. */
    knownAmong: async (e164s: string[]): Promise<string[]> =>
      (await _api.call(knownNumbers, { params: _at(), body: { e164s } })).known,
    /** The recipients of a dispatch whose texts are in these states, as CSV. @throws ApiProblem */
    recipients: (id: string, states: readonly string[]): Promise<Blob> =>
      _api.file(listMessagesFile, { params: { ..._at(), id }, query: { state: states.join(',') } }),
    /** Takes a stored one back. @throws ApiProblem 409 where something of it was touched since */
    undo: (id: string) => _api.call(undoIntake, { params: { ..._at(), id } }),
    /** Nothing of it is stored. */
    cancel: (id: string) => _api.call(cancelIntake, { params: { ..._at(), id } }),
    /** All of it is handed in: a job stores it. */
    async finish(id: string): Promise<void> {
      await _api.call(storeIntake, { params: { ..._at(), id } });
      _earlier.reload();
    },
    /** What was begun is read again. */
    again: () => _earlier.reload(),
  })),
);
