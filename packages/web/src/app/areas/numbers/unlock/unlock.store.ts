import { inject } from '@angular/core';
import { answerUnlockMail, seeUnlockMail } from '@long-gate/contracts';
import type * as z from 'zod';
import { patchState, signalStore, withMethods, withProps, withState } from '@ngrx/signals';
import { Api } from '../../../api/api';

interface UnlockState {
  asked: z.output<typeof seeUnlockMail.answer> | null;
  missing: boolean;
  answered: 'yes' | 'no' | '';
  answering: boolean;
  /** Why the answer was not taken. */
  wrong: string;
}
const START: UnlockState = { asked: null, missing: false, answered: '', answering: false, wrong: '' };

/** The mail to a business's status address: may one of its numbers be unlocked? */
export const UnlockStore = signalStore(
  withState(START),
  withProps(() => ({ api: inject(Api) })),
  withMethods((store) => ({
    async see(token: string): Promise<void> {
      await store.api.call(seeUnlockMail, { params: { token } }).then(
        (asked) => patchState(store, { asked }),
        () => patchState(store, { missing: true }),
      );
    },
    async answer(token: string, agree: boolean): Promise<void> {
      patchState(store, { answering: true, wrong: '' });
      await store.api.call(answerUnlockMail, { params: { token }, body: { agree } }).then(
        () => patchState(store, { answering: false, answered: agree ? 'yes' : 'no' }),
        (error: unknown) => patchState(store, { answering: false, wrong: (error as Error).message }),
      );
    },
  })),
);
