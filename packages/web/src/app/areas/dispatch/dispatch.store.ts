import { computed, signal, untracked } from '@angular/core';
import {
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
import { zoneOf } from '../../state/zone';

/** What stands in the address for a dispatch of which nothing is stored yet. */
export const NEW = 'new';
const BLANK: DispatchView = {
  id: NEW,
  title: '',
  text: '',
  purpose: null,
  transactional: false,
  stopLine: true,
  numberId: null,
  audience: { include: [], exclude: [] },
  override: '',
  overrideBy: '',
  state: 'draft',
  schedule: null,
  category: '',
  effort: '',
  archivedAt: null,
  createdBy: '',
  createdAt: 0,
  sentAt: null,
  endsAt: null,
  counts: {},
  version: 0,
};

/** One dispatch, named by its id; `new` is one of which nothing is stored before its first word. */
export const DispatchStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(({ _api, _about, session }) => ({
    _made: signal<DispatchView | null>(null),
    /** A sheet on which nothing was written yet, named for now. */
    _blank: computed(() => {
      if (_about() !== NEW) return undefined;
      const zone = zoneOf(session.business());
      const now = DateTime.fromMillis(untracked(session.now), { zone }).toFormat('d LLL, HH:mm', { locale: 'en-US' });
      return { ...BLANK, title: `Dispatch of ${now}` };
    }),
    _asked: liveResource(
      ['dispatch'],
      () => {
        const id = _about();
        return id && id !== NEW ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getDispatch, { params }),
    ),
  })),
  withComputed(({ _about, _asked, _blank, _made }) => ({
    dispatch: computed((): DispatchView | undefined => {
      if (_blank()) return _blank();
      const read = _asked.hasValue() ? _asked.value() : undefined;
      const made = _made();
      return read?.id === _about() ? read : made?.id === _about() ? made : read;
    }),
    problem: computed(() => _asked.error() ?? null),
  })),
  withMethods(({ _api, _at, _about, _asked, _made, acting }) => ({
    reload: () => _asked.reload(),
    /** Takes a draft that was begun just now, before it is read again at its own address. */
    took: (made: DispatchView) => {
      _made.set(made);
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
