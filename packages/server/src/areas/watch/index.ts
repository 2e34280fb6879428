export { watchArea } from './area.js';
