import { computed, signal } from '@angular/core';
import {
  addDispatch,
  countDispatches,
  deleteDraft,
  getDispatch,
  listLists,
  listNumbers,
  previewDispatch,
  saveDispatch,
  scheduleDispatch,
  sendDispatch,
  sendTest,
  type DispatchView,
  type When,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import type { ApiProblem } from '../../api/api';
import { lastChangeOf } from '../../parts/form/last-change';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';
import { NEW } from './dispatch.store';

/** What is written of a dispatch before it is sent. */
export type Draft = Pick<
  DispatchView,
  'title' | 'text' | 'transactional' | 'stopLine' | 'numberId' | 'audience' | 'override' | 'category' | 'effort'
> & {
  purpose: 'informational' | 'promotional' | null;
};
/** A draft as the server has it, as it is written on. */
export function draftOf(d: DispatchView): Draft {
  return {
    title: d.title,
    text: d.text,
    purpose: d.purpose === 'conversational' ? null : d.purpose,
    transactional: d.transactional,
    stopLine: d.stopLine,
    numberId: d.numberId,
    audience: d.audience,
    override: d.override,
    category: d.category,
    effort: d.effort,
  };
}

/** A number of the gate preview that was opened. */
export interface Booked {
  post: number;
  result: 'pass' | 'hold' | 'stop';
}

/** One draft, named by its id: the gate's answer to what is written, and what can be done with it. */
export const DraftStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(() => ({
    /** What the gate is asked about; settles a moment after the last key. */
    asked: signal<(Draft & { when: When | null }) | null>(null),
    booked: signal<Booked | null>(null),
    /** Names this sheet, so that its first word stored twice is one draft. */
    _sheet: crypto.randomUUID(),
  })),
  withProps(({ _api, session, asked }) => ({
    _lists: liveResource(
      ['contacts'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listLists, { params: { businessId } }),
    ),
    _numbers: liveResource(
      ['numbers', 'registration'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(listNumbers, { params: { businessId } }),
    ),
    _counts: liveResource(
      ['dispatch'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(countDispatches, { params: { businessId } }),
    ),
    preview: liveResource(
      ['contacts', 'consent', 'settings', 'registration', 'numbers', 'clock'],
      () => {
        const body = asked();
        return body ? { businessId: session.businessId(), body } : undefined;
      },
      ({ businessId, body }) => _api.call(previewDispatch, { params: { businessId }, body }),
    ),
  })),
  withComputed(({ _lists, _numbers, _counts, preview }) => {
    const counts = computed(() => (_counts.hasValue() ? _counts.value() : undefined));
    let last: ReturnType<typeof preview.value> = undefined;
    return {
      lists: computed(() => (_lists.hasValue() ? (_lists.value()?.items ?? []) : [])),
      numbers: computed(() => (_numbers.hasValue() ? (_numbers.value()?.items ?? []) : [])),
      /** What colleagues have grouped dispatches by. */
      categories: computed(() => (counts()?.categories ?? []).map((c) => c.value)),
      efforts: computed(() => (counts()?.efforts ?? []).map((e) => e.value)),
      /** The gate's last answer; it stays while a newer one is on its way. */
      shown: computed(() => (last = (preview.hasValue() ? preview.value() : undefined) ?? last)),
    };
  }),
  withMethods(({ _api, _at, _about, _sheet, acting, session }) => {
    const of = () => ({ ..._at(), id: _about() ?? '' });
    return {
      /** Stores what is written; the first time it begins the draft, once for one sheet. */
      async save(body: Draft, version: number): Promise<DispatchView> {
        if (_about() !== NEW) return _api.call(saveDispatch, { params: of(), version, body });
        const made = await _api.call(addDispatch, { params: _at(), body, key: _sheet });
        _about.set(made.id);
        return made;
      },
      read: () => _api.call(getDispatch, { params: of() }),
      lastChange: () => lastChangeOf(_api, session.businessId(), 'dispatch', _about() ?? ''),
      /** Sends a test to one's own mobile. @returns false where that is missing. */
      async test(): Promise<boolean> {
        let mobile = true;
        const sent = await acting.run(() =>
          _api.call(sendTest, { params: of() }).catch((error: unknown) => {
            mobile = !(error as ApiProblem).of('mobile');
            throw error;
          }),
        );
        if (sent) acting.done(`A test is on its way to ${sent.to}.`);
        return mobile;
      },
      /** @param version the one the confirmation named. */
      send: (version: number) => acting.did(() => _api.call(sendDispatch, { params: of(), version })),
      /** @param version the one the confirmation named. @param confirmed what it named. */
      schedule: (version: number, when: When, confirmed: { reach: number; cost: number }) =>
        acting.did(() => _api.call(scheduleDispatch, { params: of(), version, body: { ...when, ...confirmed } })),
      throwAway: () => acting.did(() => _api.call(deleteDraft, { params: of() })),
    };
  }),
);
