export type { NumbersArea } from './area.js';
export type { Calls } from './call-handling.js';
export type { Numbers, Sender } from './numbers.js';
export type { Releases } from './releases.js';
export { letterPdf, type Letter } from './letters/index.js';
export {
  portById,
  portDay,
  portParagraphs,
  storedFacts,
  submittedShape,
  unsealed,
  type PortRow,
} from './porting/index.js';
