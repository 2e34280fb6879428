import { consentStateTable } from '../areas/consent/model.js';
import type { App } from '../app.js';
import { firstDesk } from './first-desk.js';

/** Whoever had opted out where the first business sent its texts before: most are nobody it knows, some have left here too. */
export async function seedOptOuts(app: App): Promise<void> {
  const desk = await firstDesk(app);
  if (!desk) return;
  const { businessId, administrator } = desk;
  const left = await app.platform.db
    .of(consentStateTable)
    .findAll({ where: { businessId, promotional: 'revoked', informational: 'revoked' }, order: ['e164'], limit: 6 });
  const strangers = Array.from(
    { length: 5 },
    (_, i) => `207-555-0${String(110 + i)},2026-${String(1 + (i % 12)).padStart(2, '0')}-1${i % 10}`,
  );
  const lines = ['phone,opted out on', ...strangers, ...left.map((x) => `${x.e164},2026-11-20`), 'sum of all: 11'];
  await app.optOutLists.bring(
    administrator,
    businessId,
    {
      origin: 'earlier provider',
      source: 'the export we were given when we left them',
      datedOn: '2026-12-31',
      name: 'opted-out-2026.csv',
      base64: Buffer.from(lines.join('\r\n')).toString('base64'),
    },
    'demo-opt-outs',
  );
}
