export { letterPdf, type Letter } from './letter-pdf.js';
export { letterRoutes } from './routes.js';
export { KeptLetterShape, type KeptLetter } from './letter-shape.js';
export { Signing, type LinkState } from './signing.js';
