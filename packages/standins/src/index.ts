export { startStandins, type StandinOptions, type Standins } from './standins.js';
