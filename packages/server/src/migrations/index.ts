import { ACCOUNT } from './m0010-account.js';
import { BASKET } from './m0008-basket.js';
import { PROOF } from './m0014-proof.js';
import { ASKED } from './m0013-asked.js';
import { WAY_OUT } from './m0012-way-out.js';
import { CALLS } from './m0011-calls.js';
import { FIRST } from './m0001-first.js';
import { MONEY } from './m0007-money.js';
import { OWN_MOBILE } from './m0002-own-mobile.js';
import { PEOPLE } from './m0015-people.js';
import { PORTING } from './m0004-porting.js';
import { ABROAD } from './m0006-abroad.js';
import { GUARD } from './m0009-guard.js';
import { HOSTED } from './m0005-hosted.js';
import { WOKEN_JOBS } from './m0003-woken-jobs.js';

/** All steps, in order. A step that has landed is never changed. */
export const MIGRATIONS: { name: string; statements: readonly string[] }[] = [
  { name: '0001-first', statements: FIRST },
  { name: '0002-own-mobile', statements: OWN_MOBILE },
  { name: '0003-woken-jobs', statements: WOKEN_JOBS },
  { name: '0004-porting', statements: PORTING },
  { name: '0005-hosted', statements: HOSTED },
  { name: '0006-abroad', statements: ABROAD },
  { name: '0007-money', statements: MONEY },
  { name: '0008-basket', statements: BASKET },
  { name: '0009-guard', statements: GUARD },
  { name: '0010-account', statements: ACCOUNT },
  { name: '0011-calls', statements: CALLS },
  { name: '0012-way-out', statements: WAY_OUT },
  { name: '0013-asked', statements: ASKED },
  { name: '0014-proof', statements: PROOF },
  { name: '0015-people', statements: PEOPLE },
];
