import { CallHandlingShape, type CallHandling } from '@long-gate/contracts';
import { parsePhone, PHONE_REFUSALS, reviewDisclosure, type Finding } from '@long-gate/core';
import { z } from 'zod';
import { record, type Actor } from '../../platform/audit.js';
import type { Reader, Writer } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import type { Businesses } from '../settings/index.js';
import { fromJson } from '../../platform/table.js';
import { Capabilities } from './model.js';
import { anyNumber, saveNumber } from './number-store.js';
import type { Numbers } from './numbers.js';

const NONE: CallHandling = { way: 'none', forwardTo: '', greeting: '', textBack: '', invites: false, list: '' };

/** What is kept of a number whose calls are put through to a line. */
export const forwarded = (forwardTo: string): string => JSON.stringify({ ...NONE, way: 'forward', forwardTo });

const keptIn = (row: { calls: string }): CallHandling =>
  row.calls === '' ? NONE : fromJson(CallHandlingShape, row.calls);

/** How calls to a texting number are met: told to the network whenever it changes. */
export class Calls {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
  ) {
    p.outbox.carry('number.calls', z.object({ e164: z.string(), forwardTo: z.string(), greeting: z.string() }), {
      deliver: (key, b) => p.gateways.network.meetCalls(key, b.e164, { forwardTo: b.forwardTo, greeting: b.greeting }),
      refused: async () => undefined,
    });
    p.db.facts.on('number.came', (w, { numberId }) => this.came(w, numberId));
  }

  /** Puts the calls of a number that has just landed through, as it was prepared. */
  async forwardLanded(w: Writer, id: string, e164: string, forwardTo: string): Promise<void> {
    await saveNumber(w, id, { calls: forwarded(forwardTo) });
    await this.p.outbox.put(w, 'number.calls', `${id}:calls:landed`, { e164, forwardTo, greeting: '' });
  }

  /** A number that was bought for passing calls on does so from its first day. */
  private async came(w: Writer, id: string): Promise<void> {
    const row = await anyNumber(w, id);
    const handling = row && keptIn(row);
    if (handling?.way === 'forward') await this.forwardLanded(w, id, row?.e164 ?? '', handling.forwardTo);
  }

  async get(r: Reader, businessId: string, id: string): Promise<CallHandling> {
    const row = await this.numbers.row(r, businessId, id);
    return keptIn(row);
  }

  /** What a greeting that invites to join lacks of a disclosure. */
  async findings(r: Reader, businessId: string, greeting: string): Promise<Finding[]> {
    const b = await this.businesses.row(r, businessId);
    return reviewDisclosure(greeting, { legalName: b.legal_name, nameLine: b.name_line }, 'greeting');
  }

  async set(actor: Actor, businessId: string, id: string, wish: CallHandling): Promise<void> {
    const handling = { ...wish };
    if (wish.way === 'forward') {
      const to = parsePhone(wish.forwardTo, { defaultRegion: 'US', allowFictional: true });
      if (!to.ok)
        throw refused(PHONE_REFUSALS[to.reason], [{ field: 'forwardTo', message: PHONE_REFUSALS[to.reason] }]);
      handling.forwardTo = to.e164;
    }
    await this.p.db.write(async (w) => {
      if (wish.way === 'greet' && wish.invites) {
        const missing = await this.findings(w, businessId, wish.greeting);
        if (missing.length > 0)
          throw refused(
            'The greeting invites to join, so it has to tell all that people agree to.',
            // All that is missing at the one field, so that it is mended in one go.
            [{ field: 'greeting', message: missing.map((f) => `${f.message} ${f.fix}`).join(' ') }],
          );
      }
      const row = await this.numbers.row(w, businessId, id);
      const capabilities = fromJson(Capabilities, row.capabilities);
      if (wish.way !== 'none' && !capabilities.includes('voice'))
        throw refused(
          row.source === 'hosted'
            ? 'The voice of a hosted number stays with its carrier; calls are handled there.'
            : 'This number cannot take calls.',
        );
      if (row.e164 === handling.forwardTo)
        throw refused('A number cannot be forwarded to itself.', [
          { field: 'forwardTo', message: 'Choose another line.' },
        ]);
      await saveNumber(w, id, { calls: JSON.stringify(handling) });
      await this.p.outbox.put(w, 'number.calls', `${id}:calls:${row.version}`, {
        e164: row.e164,
        forwardTo: handling.way === 'forward' ? handling.forwardTo : '',
        greeting: handling.way === 'greet' ? handling.greeting : '',
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'call handling changed',
        objectKind: 'number',
        objectId: id,
        before: keptIn(row),
        after: handling,
      });
      this.numbers.changed(w, businessId, id);
    });
  }
}
