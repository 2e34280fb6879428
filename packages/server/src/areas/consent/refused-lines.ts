import { RefusedLineShape } from '@long-gate/contracts';
import { z } from 'zod';

/** The first lines of a file that were not taken, as they are kept with it. */
export const RefusedLines = z.array(RefusedLineShape);
/** So many are kept. */
export const REFUSED_SHOWN = 20;
