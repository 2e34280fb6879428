import { Validator } from '@seriousme/openapi-schema-validator';
import * as z from 'zod';
import { ALL_ENDPOINTS } from './endpoint.js';
import './index.js';
import { openApiDocument } from './openapi.js';

describe('the OpenAPI document', () => {
  it('is valid OpenAPI 3.1', async () => {
    const validator = new Validator();
    const result = await validator.validate(openApiDocument());
    expect(result.errors ?? []).toEqual([]);
    expect(result.valid).toBe(true);
    expect(validator.version).toBe('3.1');
  });
  it('has every endpoint once, with its path parameters declared', () => {
    const seen = ALL_ENDPOINTS.map((e) => `${e.method} ${e.path}`);
    expect(new Set(seen).size).toBe(seen.length);
    for (const e of ALL_ENDPOINTS) {
      const named = [...e.path.matchAll(/:(\w+)/g)].map((m) => m[1]);
      const declared = Object.keys((z.toJSONSchema(e.params) as { properties?: object }).properties ?? {});
      expect(declared.sort())
        .withContext(e.id)
        .toEqual(named.sort() as string[]);
    }
  });
  it('asks everything that costs or sends for an idempotency key', () => {
    for (const id of [
      'orders.place',
      'ports.submit',
      'hosted.submit',
      'sender-ids.use',
      'money.topUp',
      'dispatches.send',
      'dispatches.test',
      'inbox.answer',
      'lookups.start',
      'registration.submitBrand',
      'registration.submitCampaign',
      'session.mobile',
      'hosted.call',
      'people.invite',
    ]) {
      expect(ALL_ENDPOINTS.find((e) => e.id === id)?.costs)
        .withContext(id)
        .toBe(true);
    }
  });
});
