export { NumberFees } from './fees.js';
export { Landing } from './landing.js';
export { Numbers, type Sender } from './numbers.js';
export { Orders } from './orders.js';
export { Ties } from './ties.js';
export { numbersRoutes } from './routes.js';
export * from './hosted/index.js';
export * from './letters/index.js';
export * from './porting/index.js';
