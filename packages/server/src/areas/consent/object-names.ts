import { formatPhone } from '@long-gate/core';
import { z } from 'zod';
import { namedIn } from '../../platform/objects.js';
import type { Platform } from '../../platform/platform.js';
import { evidenceRequestTable } from './evidence/model.js';
import { optInInvitationTable } from './invitations/model.js';
import { keywordTable } from './keywords/model.js';
import { consentEventTable, filedFormTable } from './model.js';
import { optOutListTable } from './opt-outs/model.js';
import { optinPageTable } from './pages/model.js';
import { relationshipTable } from './relationships/model.js';
import { suppressionListTable } from './suppression/model.js';

const OfForm = z.object({ formId: z.string() });

/** What the trail calls opt-in pages and filed forms, and which form a job files. */
export function nameConsent({ objects, jobs }: Platform): void {
  objects.name(
    'page',
    namedIn(optinPageTable, (page) => page.title),
  );
  objects.name(
    'consent event',
    namedIn(consentEventTable, (e) => `${e.kind}, ${formatPhone(e.e164)}`),
  );
  objects.name(
    'keyword',
    namedIn(keywordTable, (k) => k.title),
  );
  objects.name(
    'opt-in invitation',
    namedIn(optInInvitationTable, (x) => x.title),
  );
  objects.name(
    'form',
    namedIn(filedFormTable, (form) => form.name),
  );
  objects.name(
    'evidence request',
    namedIn(evidenceRequestTable, (x) => [x.who || x.asker, x.reference].filter(Boolean).join(', ')),
  );
  objects.name(
    'suppression list',
    namedIn(suppressionListTable, (l) => l.name),
  );
  objects.name(
    'opt-out list',
    namedIn(optOutListTable, (l) => l.name),
  );
  objects.name(
    'relationship',
    namedIn(relationshipTable, (x) => `${x.kind} of ${x.happenedOn}, ${formatPhone(x.e164)}`),
  );
  objects.name('number request', (r, businessId, keys) => jobs.titles(r, businessId, 'key', keys));
  objects.also('job', async (r, businessId, id) => {
    const job = await jobs.one(r, businessId, id);
    const form = OfForm.safeParse(job?.payload);
    return job?.kind === 'form' && form.success ? [{ kind: 'form', id: form.data.formId }] : [];
  });
}
