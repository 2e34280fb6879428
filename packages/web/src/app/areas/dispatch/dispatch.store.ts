import { computed } from '@angular/core';
import {
  addDispatch,
  archiveDispatch,
  callOffDispatch,
  cancelDispatch,
  copyDispatch,
  getDispatch,
  type DispatchView,
} from '@long-gate/contracts';
import { signalStore, withComputed, withMethods, withProps } from '@ngrx/signals';
import { DateTime } from 'luxon';
import { withBusiness } from '../../state/area-features/with-business';
import { withSubject } from '../../state/area-features/with-subject';
import { liveResource } from '../../state/live-resource';

/** One dispatch, named by its id. */
export const DispatchStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(({ _api, _about, session }) => ({
    _asked: liveResource(
      ['dispatch'],
      () => {
        const id = _about();
        return id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getDispatch, { params }),
    ),
  })),
  withComputed(({ _asked }) => ({
    dispatch: computed((): DispatchView | undefined => (_asked.hasValue() ? _asked.value() : undefined)),
    problem: computed(() => _asked.error() ?? null),
  })),
  withMethods(({ _api, _at, _about, _asked, session, acting }) => ({
    reload: () => _asked.reload(),
    /** Begins a draft named for now. @returns its id; undefined where that was refused. */
    async add(): Promise<string | undefined> {
      const zone = session.business()?.timeZone ?? 'America/New_York';
      const now = DateTime.fromMillis(session.now(), { zone }).toFormat('d LLL, HH:mm', { locale: 'en-US' });
      const body = {
        title: `Dispatch of ${now}`,
        text: '',
        purpose: null,
        transactional: false,
        stopLine: true,
        numberId: null,
        audience: { include: [], exclude: [] },
      };
      return (await acting.run(() => _api.call(addDispatch, { params: _at(), body })))?.id;
    },
    /** It does not leave at its time; it is a draft again. */
    callOff: () =>
      acting.did(
        () => _api.call(callOffDispatch, { params: { ..._at(), id: _about() ?? '' } }),
        'It is called off, and a draft again.',
      ),
    /** A draft with the same words and audience. @returns its id; undefined where that was refused. */
    async copy(): Promise<string | undefined> {
      return (await acting.run(() => _api.call(copyDispatch, { params: { ..._at(), id: _about() ?? '' } })))?.id;
    },
    async archive(archived: boolean): Promise<void> {
      const params = { ..._at(), id: _about() ?? '' };
      const wish = (on: boolean) => _api.call(archiveDispatch, { params, body: { archived: on } });
      if (!(await acting.run(() => wish(archived)))) return;
      _asked.reload();
      acting.done(archived ? 'It is in the archive.' : 'It is out of the archive.', async () => {
        await acting.run(() => wish(!archived));
        _asked.reload();
      });
    },
    /** What has not left is let go. */
    cancel: () => acting.did(() => _api.call(cancelDispatch, { params: { ..._at(), id: _about() ?? '' } })),
  })),
);
