export { buildApp, type App } from './app.js';
export { readConfig, type Config } from './config.js';
export { seedDemo } from './demo/seed.js';
