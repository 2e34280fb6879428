import { segmentText } from '@long-gate/core';

/** How many segments a text takes, in words. */
export function segmentsOf(words: string): string {
  const s = segmentText(words);
  return s.parts.length === 0
    ? 'empty'
    : `${s.parts.length} segment${s.parts.length === 1 ? '' : 's'}${s.encoding === 'UCS-2' ? ', UCS-2' : ''}`;
}
