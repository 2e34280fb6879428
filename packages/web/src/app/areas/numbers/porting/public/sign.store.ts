import { inject, resource, signal } from '@angular/core';
import { getLetterToSign, signLetter } from '@long-gate/contracts';
import { signalStore, withMethods, withProps } from '@ngrx/signals';
import type * as z from 'zod';
import { Api } from '../../../../api/api';
import { withSubject } from '../../../../state/area-features/with-subject';

/** A letter of authorisation, as the account holder opens it by its link. */
export const SignStore = signalStore(
  withSubject<string>(),
  withProps(({ _about }) => {
    const api = inject(Api);
    return {
      _api: api,
      signed: signal(false),
      letter: resource({
        params: () => _about() ?? undefined,
        loader: ({ params: token }) => api.call(getLetterToSign, { params: { token } }),
      }),
    };
  }),
  withMethods(({ _api, _about, signed }) => ({
    /** @throws ApiProblem */
    async sign(body: z.input<typeof signLetter.body>): Promise<void> {
      await _api.call(signLetter, { params: { token: _about() ?? '' }, body });
      signed.set(true);
    },
  })),
);
