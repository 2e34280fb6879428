import { inject } from '@angular/core';
import { answerUnlockMail, seeUnlockMail } from '@long-gate/contracts';
import type * as z from 'zod';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import { Api } from '../../../api/api';
import { FormActing } from '../../../parts/form-acting';

interface UnlockState {
  asked: z.output<typeof seeUnlockMail.answer> | null;
  missing: boolean;
  answered: 'yes' | 'no' | '';
}
const START: UnlockState = { asked: null, missing: false, answered: '' };

/** The mail to a business's status address: may one of its numbers be unlocked? */
export const UnlockStore = signalStore(
  withState(START),
  withProps(() => ({ api: inject(Api), form: new FormActing() })),
  withMethods((store) => ({
    async see(token: string): Promise<void> {
      await store.api.call(seeUnlockMail, { params: { token } }).then(
        (asked) => patchState(store, { asked }),
        () => patchState(store, { missing: true }),
      );
    },
    async answer(token: string, agree: boolean): Promise<void> {
      const done = await store.form.run(() => store.api.call(answerUnlockMail, { params: { token }, body: { agree } }));
      if (done) patchState(store, { answered: agree ? 'yes' : 'no' });
    },
  })),
);
