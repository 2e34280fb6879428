import { computed, effect, signal, untracked } from '@angular/core';
import {
  askForRecord,
  cancelPort,
  changePortNumbers,
  dropPortDocument,
  getDossier,
  getPort,
  makeSigningLink,
  movePortDate,
  portLetter,
  preparePortNumber,
  readPortDocument,
  savePort,
  snapBackPort,
  submitPort,
  tickRunbook,
  uploadPortDocument,
  type PortView,
} from '@long-gate/contracts';
import { signalStore, withComputed, withHooks, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import type { ApiProblem } from '../../../api/api';
import { lastChangeOf } from '../../../parts/form/last-change';
import { withBusiness } from '../../../state/area-features/with-business';
import { withSubject } from '../../../state/area-features/with-subject';
import { liveResource } from '../../../state/live-resource';

/** One port request, named by its id: what the server has of it, and what can be done. */
export const PortStore = signalStore(
  withBusiness(),
  withSubject<string>(),
  withProps(({ _api, _about, session }) => ({
    port: signal<PortView | null>(null),
    _asked: liveResource(
      ['numbers'],
      () => {
        const id = _about();
        return session.businessId() && id ? { businessId: session.businessId(), id } : undefined;
      },
      (params) => _api.call(getPort, { params }),
    ),
    _dossier: liveResource(
      ['registration'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(getDossier, { params: { businessId } }),
    ),
  })),
  withComputed(({ _asked, _dossier }) => ({
    problem: computed(() => _asked.error() as ApiProblem | undefined),
    campaigns: computed(() => (_dossier.hasValue() ? (_dossier.value()?.campaigns ?? []) : [])),
  })),
  withMethods(({ _api, _at, _about, port, session, acting }) => {
    const of = () => ({ ..._at(), id: _about() ?? '' });
    /** The version its page has: never an older one over a newer. */
    const take = (now: PortView): void => {
      const had = port();
      if (had?.id !== now.id || now.version >= had.version) port.set(now);
    };
    const act = async (work: () => Promise<PortView>, done = ''): Promise<boolean> => {
      const now = await acting.run(work, done);
      if (now) take(now);
      return now !== undefined;
    };
    return {
      take,
      read: () => _api.call(getPort, { params: of() }),
      lastChange: () => lastChangeOf(_api, session.businessId(), 'port', _about() ?? ''),
      async save(
        body: Pick<z.input<typeof savePort.body>, 'facts' | 'acknowledged'>,
        version: number,
      ): Promise<PortView> {
        const now = await _api.call(savePort, {
          params: of(),
          version,
          body: { ...body, billDated: port()?.billDated ?? '' },
        });
        take(now);
        return now;
      },
      changeNumbers: (change: { add: string; remove: string[] }, version: number) =>
        act(() => _api.call(changePortNumbers, { params: of(), version, body: change })),
      /** What is prepared for the day a number lands. @throws ApiProblem */
      async prepare(body: z.input<typeof preparePortNumber.body>, version: number): Promise<PortView> {
        const now = await _api.call(preparePortNumber, { params: of(), version, body });
        take(now);
        return now;
      },
      askForRecord: () => act(() => _api.call(askForRecord, { params: of() })),
      /** @param version the one the confirmation named. */
      submit: (version: number, sameAgain: boolean) =>
        act(() => _api.call(submitPort, { params: of(), version, body: { sameAgain } })),
      cancel: () => act(() => _api.call(cancelPort, { params: of() }), 'The port is cancelled.'),
      snapBack: () =>
        act(() => _api.call(snapBackPort, { params: of() }), 'The old carrier is asked to take them back.'),
      move: (day: string) =>
        act(() => _api.call(movePortDate, { params: of(), body: { day } }), 'The losing carrier is asked.'),
      tick: (test: string, done: boolean) => act(() => _api.call(tickRunbook, { params: of(), body: { test, done } })),
      /** A link by which the holder signs; undefined where it was refused. */
      async signingLink(): Promise<string | undefined> {
        const made = await acting.run(async () => {
          const link = await _api.call(makeSigningLink, { params: of() });
          take(await _api.call(getPort, { params: of() }));
          return link;
        });
        return made && location.origin + made.path;
      },
      /** @throws ApiProblem where the paper is refused. */
      async upload(body: z.input<typeof uploadPortDocument.body>): Promise<void> {
        take(await _api.call(uploadPortDocument, { params: of(), body }));
        acting.done(`${body.name} is kept.`);
      },
      /** Takes an upload away. */
      drop: (documentId: string) =>
        act(() => _api.call(dropPortDocument, { params: { ...of(), documentId } }), 'It is taken away.'),
      letterFile: () => _api.address(portLetter, { params: of() }),
      file: (documentId: string) => _api.address(readPortDocument, { params: { ...of(), documentId } }),
    };
  }),
  withHooks({
    onInit({ _asked, take }) {
      effect(() => {
        const now = _asked.hasValue() ? _asked.value() : undefined;
        if (now) untracked(() => take(now));
      });
    },
  }),
);
