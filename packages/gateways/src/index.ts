export * from './shapes.js';
export * from './events.js';
export * from './gateways.js';
export * from './http-gateways.js';
