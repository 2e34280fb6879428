import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { serve } from '../../platform/http/route.js';
import type { DossierFiles } from './dossier-files.js';
import type { DossierStarts } from './dossier-starts.js';
import type { Dossiers } from './dossiers.js';
import type { Registration } from './registration.js';

export function registrationRoutes(
  router: Router,
  registration: Registration,
  {
    dossiers,
    dossierFiles,
    dossierStarts,
  }: { dossiers: Dossiers; dossierFiles: DossierFiles; dossierStarts: DossierStarts },
): void {
  serve(router, api.listDossiers, async ({ person }) => ({ items: await dossiers.of(person.id) }));
  serve(router, api.startDossiers, async ({ person, body }) => ({
    items: await dossierStarts.take(person, body.csv, body.sure),
  }));
  serve(router, api.exportDossier, async ({ params, ctx }) => {
    ctx.attachment('dossier.json');
    ctx.type = 'application/json';
    ctx.body = JSON.stringify(await dossierFiles.file(params.businessId), null, 2);
    return '';
  });
  serve(router, api.printDossier, async ({ params, ctx }) => {
    const pdf = await dossierFiles.pdf(params.businessId);
    ctx.attachment('dossier.pdf');
    ctx.type = 'application/pdf';
    ctx.body = pdf;
    return '';
  });
  serve(router, api.importDossier, ({ params, person, key, body }) =>
    dossierFiles.take(person, params.businessId, key, body.text, body.sure),
  );
  serve(router, api.getDossier, ({ params }) => registration.dossier(params.businessId));
  serve(router, api.saveBrand, ({ params, body, person, seenVersion }) =>
    registration.brands.save(person, params.businessId, seenVersion, body.body, body.taxNumber),
  );
  serve(router, api.submitBrand, ({ params, person, key, seenVersion }) =>
    registration.brands.submit(person, params.businessId, key, seenVersion),
  );
  serve(router, api.appealBrand, ({ params, person, body }) =>
    registration.brands.appeal(person, params.businessId, body.text),
  );
  serve(router, api.askConfirmation, async ({ params, person, key, body }) => {
    await registration.confirmation.askAgain(person, params.businessId, key, body.mobile);
    return registration.brands.one(params.businessId);
  });
  serve(router, api.mailBrandCode, async ({ params, person, key }) => {
    await registration.brandEmail.mailCode(person, params.businessId, key);
    return registration.brands.one(params.businessId);
  });
  serve(router, api.confirmBrandEmail, async ({ params, person, body }) => {
    await registration.brandEmail.confirm(person, params.businessId, body.code);
    return registration.brands.one(params.businessId);
  });
  serve(router, api.orderVetting, async ({ params, person, key, body }) => {
    await registration.vettings.order(person, params.businessId, key, body.objection);
    return registration.brands.one(params.businessId);
  });
  serve(router, api.answerSuspension, async ({ params, person, key, body }) => {
    await registration.campaignStanding.answer(person, params.businessId, params.id, key, body.text);
    return registration.campaigns.one(params.businessId, params.id);
  });
  serve(router, api.renewCampaign, async ({ params, person }) => {
    await registration.campaignStanding.renew(person, params.businessId, params.id);
    return registration.campaigns.one(params.businessId, params.id);
  });
  serve(router, api.saveTollFree, ({ params, body, person, seenVersion }) =>
    registration.tollFree.save(person, params.businessId, params.id, seenVersion, body),
  );
  serve(router, api.submitTollFree, ({ params, person, seenVersion }) =>
    registration.tollFree.submit(person, params.businessId, params.id, seenVersion),
  );
  serve(router, api.uploadProof, ({ params, body, person }) =>
    registration.tollFree.uploadProof(person, params.businessId, params.id, {
      name: body.name,
      bytes: Buffer.from(body.base64, 'base64'),
    }),
  );
  serve(router, api.readProof, async ({ params, person, ctx }) => {
    const file = await registration.tollFree.readProof(person, params.businessId, params.id);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
    return '';
  });
  serve(router, api.addCampaign, ({ params, body, person }) =>
    registration.campaigns.add(person, params.businessId, body.name, body.useCase, body.subUses),
  );
  serve(router, api.saveCampaign, ({ params, body, person, seenVersion }) =>
    registration.campaigns.save(person, params.businessId, params.id, seenVersion, body.name, body.body),
  );
  serve(router, api.listSentTexts, async ({ params }) => ({
    items: await registration.sentTexts(params.businessId),
  }));
  serve(router, api.listBrandTries, async ({ params }) => ({
    items: await registration.brands.tries(params.businessId),
  }));
  serve(router, api.listTollFreeTries, async ({ params }) => ({
    items: await registration.tollFree.tries(params.businessId, params.id),
  }));
  serve(router, api.listTries, async ({ params }) => ({
    items: await registration.campaigns.tries(params.businessId, params.id),
  }));
  serve(router, api.submitCampaign, ({ params, person, key, seenVersion }) =>
    registration.campaigns.submit(person, params.businessId, params.id, key, seenVersion),
  );
}
