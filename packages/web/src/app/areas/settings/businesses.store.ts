import { addBusiness, checkAddress, editBusiness, openAccount, switchTexts, type Business } from '@long-gate/contracts';
import { signalStore, withMethods } from '@ngrx/signals';
import type * as z from 'zod';
import { lastChangeOf } from '../../parts/form/last-change';
import { withBusiness } from '../../state/area-features/with-business';

/** The open business, and adding others. What is known of it stands in the session. */
export const BusinessesStore = signalStore(
  withBusiness(),
  withMethods(({ _api, _at, acting, session }) => {
    /** Carries out a wish, and takes what has become of the business. */
    const act = async (work: () => Promise<unknown>, done: string): Promise<boolean> => {
      const did = await acting.did(work, done);
      if (did) await session.load();
      return did;
    };
    return {
      /** @throws ApiProblem */
      async add(body: z.output<typeof addBusiness.body>): Promise<string> {
        const { id } = await _api.call(addBusiness, { body });
        await session.load();
        return id;
      },
      /** @throws ApiProblem */
      async save(body: z.input<typeof editBusiness.body>, version: number): Promise<Business> {
        const now = await _api.call(editBusiness, { params: _at(), version, body });
        await session.load();
        return now;
      },
      /** As it is on the server now. */
      async read(): Promise<Business> {
        await session.load();
        const now = session.business();
        if (!now) throw new Error('No business is open.');
        return now;
      },
      lastChange: () => lastChangeOf(_api, session.businessId(), 'business', session.businessId()),
      /** How the post spells the address; undefined where that cannot be asked now. */
      checkAddress: () => acting.run(() => _api.call(checkAddress, { params: _at() })),
      openAccount: (keepAddress: boolean) =>
        act(
          () => _api.call(openAccount, { params: _at(), body: { keepAddress } }),
          'Asked for; the provider looks at it.',
        ),
      switchTexts: (off: boolean) =>
        act(
          () => _api.call(switchTexts, { params: _at(), body: { off } }),
          off ? 'All texts are off.' : 'Texts are on.',
        ),
    };
  }),
);
