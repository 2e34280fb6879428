export { inboxArea } from './area.js';
