import { FIRST } from './m0001-first.js';

/** All steps, in order. A step that has landed is never changed. */
export const MIGRATIONS: { name: string; statements: readonly string[] }[] = [
  { name: '0001-first', statements: FIRST },
];
