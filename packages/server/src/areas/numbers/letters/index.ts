export { letterPdf, type Letter } from './letter-pdf.js';
export { letterRoutes } from './routes.js';
export { Signing, type KeptLetter, type LinkState } from './signing.js';
