export { todayArea } from './area.js';
