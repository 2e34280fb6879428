import type { App } from '../app.js';
export function seedDemo(_app: App, _say: (line: string) => void): Promise<void> {
  return Promise.resolve();
}
