import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { Dossiers } from './dossiers.js';
import type { Registration } from './registration.js';

export function registrationRoutes(router: Router, registration: Registration, dossiers: Dossiers): void {
  serve(router, api.listDossiers, async ({ person }) => ({ items: await dossiers.of(person.id) }));
  serve(router, api.getDossier, ({ params }) => registration.dossier(params.businessId));
  serve(router, api.saveBrand, ({ params, body, person, seenVersion }) =>
    registration.brands.save(person, params.businessId, seenVersion, body.body, body.taxNumber),
  );
  serve(router, api.submitBrand, ({ params, person, key, seenVersion }) =>
    registration.brands.submit(person, params.businessId, key, seenVersion),
  );
  serve(router, api.addCampaign, ({ params, body, person }) =>
    registration.campaigns.add(person, params.businessId, body.name, body.useCase),
  );
  serve(router, api.saveCampaign, ({ params, body, person, seenVersion }) =>
    registration.campaigns.save(person, params.businessId, params.id, seenVersion, body.name, body.body),
  );
  serve(router, api.listTries, async ({ params }) => ({
    items: await registration.campaigns.tries(params.businessId, params.id),
  }));
  serve(router, api.submitCampaign, ({ params, person, key, seenVersion }) =>
    registration.campaigns.submit(person, params.businessId, params.id, key, seenVersion),
  );
}
