import type { PortView } from '@long-gate/contracts';
import { formatPhone, parsePhone, PHONE_REFUSALS, readPastedNumbers, type PortFacts } from '@long-gate/core';
import type { Portability } from '@long-gate/gateways';
import { record, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Documents } from '../../../platform/documents.js';
import { idFrom } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, expectVersion, notFound, refused } from '../../../platform/problem.js';
import type { Registration } from '../../registration/index.js';
import type { Businesses } from '../../settings/index.js';
import type { Signing } from '../letters/signing.js';
import { editPort, tellPort } from './port-edit.js';
import { ownerOfPapers } from './port-papers.js';
import { readPort, storedFacts, unsealed, type Port } from './port-row.js';
import {
  addPort,
  addPortNumber,
  dropPortNumber,
  keepPort,
  numbersOnTheirWay,
  openPortOf,
  portById,
  portsOf,
  savePort,
  savePortNumber,
} from './port-store.js';
import { showPort } from './port-view.js';
import { ownerOf } from '../number-store.js';

/** Something pasted, and what there is to say of it. */
interface Said {
  raw: string;
  why: string;
}

/** Where port requests are prepared: numbers tested, facts written, the letter signed, the bill kept. */
export class PortDesk {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly documents: Documents,
    private readonly signing: Signing,
    private readonly registration: Registration,
  ) {}

  /** Numbers that are being brought here, of every business. */
  onTheirWay(r: Reader): Promise<string[]> {
    return numbersOnTheirWay(r);
  }

  async list(businessId: string, open: boolean): Promise<PortView[]> {
    const rows = await portsOf(this.p.db, businessId);
    return Promise.all(rows.map((row) => this.show(unsealed(this.p.vault, row), open)));
  }

  /** Requests whose numbers hold these digits, or whose labels or losing carrier these words, in small letters. */
  async find(
    businessId: string,
    words: string,
    digits: string,
    limit: number,
  ): Promise<{ id: string; e164s: string[]; losingCarrier: string; state: string }[]> {
    const rows = await portsOf(this.p.db, businessId);
    return rows
      .map((row) => ({
        id: row.id,
        losingCarrier: row.losingCarrier,
        state: row.state,
        e164s: (row.numbers ?? []).map((n) => n.e164),
        said: [row.losingCarrier, ...(row.numbers ?? []).map((n) => n.label)].join(' ').toLowerCase(),
      }))
      .filter((p) => (digits !== '' && p.e164s.some((e) => e.includes(digits))) || p.said.includes(words))
      .slice(0, limit);
  }

  async get(businessId: string, id: string, open: boolean): Promise<PortView> {
    return this.show(await readPort(this.p.db, this.p.vault, businessId, id), open);
  }

  private async show(port: Port, open: boolean): Promise<PortView> {
    const documents = await this.documents.of(this.p.db, ownerOfPapers(port.row));
    const link = await this.signing.linkOf(this.p.db, 'port', port.row.id);
    const profile = profileOf(await this.businesses.row(this.p.db, port.row.businessId));
    return showPort(port, this.p.clock.now(), documents, link, open, profile);
  }

  /**
   * Begins requests for numbers as somebody pasted them: each is looked up and tested, and they are grouped by losing
   * carrier, since a request goes to one carrier and one account. Once for one key.
   */
  async begin(
    actor: Actor,
    businessId: string,
    text: string,
    key: string,
  ): Promise<{ ids: string[]; refused: Said[]; remarks: Said[] }> {
    const { e164s, refused: no, remarks } = this.read(text);
    const tested = e164s.length > 0 ? await this.p.gateways.bureau.portability(e164s) : [];
    const ids: string[] = [];
    await this.p.db.write(async (w) => {
      const business = await this.businesses.row(w, businessId);
      const free: Portability[] = [];
      for (const t of tested) {
        const why = await this.whyTaken(w, t.e164, businessId, key, t.losingCarrier);
        if (why) no.push({ raw: formatPhone(t.e164), why });
        else free.push(t);
      }
      for (const carrier of new Set(free.map((t) => t.losingCarrier))) {
        const group = free.filter((t) => t.losingCarrier === carrier);
        const id = idFrom('prt', businessId, key, carrier);
        ids.push(id);
        if (await portById(w, id)) continue;
        const facts: PortFacts = {
          accountNumber: '',
          pin: '',
          pinExpires: '',
          holderKind: 'business',
          unit: '',
          ...profileOf(business),
          billingNumber: group.some((n) => n.kind !== 'wireless') ? (group[0]?.e164 ?? '') : '',
          linesStay: false,
          newBillingNumber: '',
          responsibleOrganisation: '',
          oldServiceEnds: '',
        };
        const stored = storedFacts(this.p.vault, facts);
        await addPort(w, {
          id,
          businessId,
          losingCarrier: carrier,
          ...stored,
          begunAt: Math.round(this.p.clock.now()),
        });
        for (const n of group) await this.addNumber(w, id, n);
        await record(w, this.p.clock, {
          businessId,
          actor,
          action: 'port request begun',
          objectKind: 'port',
          objectId: id,
          after: { losingCarrier: carrier, numbers: group.map((n) => n.e164) },
        });
      }
      tellPort(this.p, w, businessId);
    });
    return { ids, refused: no, remarks };
  }

  /** Reads numbers from pasted text, each once; what is not part of a number is said. */
  private read(text: string): { e164s: string[]; refused: Said[]; remarks: Said[] } {
    const read = readPastedNumbers(text, { defaultRegion: 'US', allowFictional: true });
    return {
      e164s: read.flatMap((n) => (n.ok ? [n.e164] : [])),
      refused: read.flatMap((n) => (n.ok ? [] : [{ raw: n.raw, why: n.why }])),
      remarks: read.flatMap((n) =>
        n.ok && n.extension !== ''
          ? [{ raw: n.raw, why: `The extension ${n.extension} stays behind: a line is ported as a whole.` }]
          : [],
      ),
    };
  }

  /** Why a number cannot be asked for: it is ours already, or on its way. */
  private async whyTaken(w: Reader, e164: string, businessId: string, key: string, carrier: string): Promise<string> {
    const ours = await ownerOf(w, e164);
    if (ours)
      return ours === businessId
        ? 'This number is in your inventory already.'
        : 'This number is with us already, for another business.';
    const open = await openPortOf(w, e164);
    if (!open || open.portId === idFrom('prt', businessId, key, carrier)) return '';
    return open.businessId === businessId
      ? 'There is an open port request for it.'
      : 'It is on its way to another business.';
  }

  private async addNumber(w: Writer, portId: string, n: Portability): Promise<void> {
    await addPortNumber(w, {
      portId,
      e164: n.e164,
      kind: n.kind,
      losingCarrier: n.losingCarrier,
      portable: n.portable,
      whyNot: n.whyNot,
    });
  }

  /** Saves the facts. An empty or masked PIN leaves the one that is stored. */
  async save(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: { facts: PortFacts; acknowledged: string[]; billDated: string },
  ): Promise<void> {
    await editPort(this.p, businessId, id, seen, async (w, port) => {
      const facts: PortFacts = { ...edit.facts };
      if (facts.pin === '' || facts.pin.startsWith('•')) facts.pin = port.facts.pin;
      if (facts.accountNumber.startsWith('•')) facts.accountNumber = port.facts.accountNumber;
      for (const field of ['billingNumber', 'newBillingNumber'] as const) {
        const parsed = parsePhone(facts[field], { defaultRegion: 'US', allowFictional: true });
        if (facts[field] === '') continue;
        if (!parsed.ok)
          throw refused(PHONE_REFUSALS[parsed.reason], [
            { field: `facts.${field}`, message: PHONE_REFUSALS[parsed.reason] },
          ]);
        facts[field] = parsed.e164;
      }
      facts.state = facts.state.toUpperCase();
      facts.responsibleOrganisation = facts.responsibleOrganisation.toUpperCase();
      const stored = storedFacts(this.p.vault, facts);
      const acknowledged = [...new Set(edit.acknowledged)].sort();
      await keepPort(w, id, { ...stored, acknowledged, billDated: edit.billDated });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'port request edited',
        objectKind: 'port',
        objectId: id,
        before: trailed(port.facts, port.row),
        after: trailed(facts, { acknowledged, billDated: edit.billDated }),
      });
    });
  }

  async changeNumbers(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    add: string,
    remove: readonly string[],
  ): Promise<void> {
    const { e164s, refused: no } = this.read(add);
    if (no[0]) throw refused(`“${no[0].raw}”: ${no[0].why}`, [{ field: 'add', message: no[0].why }]);
    const tested = e164s.length > 0 ? await this.p.gateways.bureau.portability(e164s) : [];
    await editPort(this.p, businessId, id, seen, async (w, port) => {
      for (const t of tested) {
        if (port.numbers.some((n) => n.e164 === t.e164)) continue;
        const why = await this.whyTaken(w, t.e164, businessId, '', '');
        if (why) throw refused(`${formatPhone(t.e164)}: ${why}`, [{ field: 'add', message: why }]);
        await this.addNumber(w, id, t);
      }
      for (const e164 of remove) await dropPortNumber(w, id, e164);
      const after = (await readPort(w, this.p.vault, businessId, id)).numbers.map((n) => n.e164);
      if (after.length > 0 && port.row.recordState === 'answered')
        await keepPort(w, id, { record: '', recordState: 'not asked', recordAt: null });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'numbers of the port request changed',
        objectKind: 'port',
        objectId: id,
        before: { numbers: port.numbers.map((n) => n.e164) },
        after: { numbers: after },
      });
    });
  }

  /** Label and campaign for the day of landing; possible until then. */
  async prepare(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: { e164: string; label: string; campaignId: string | null; forwardTo: string },
  ): Promise<void> {
    const line = parsePhone(edit.forwardTo, { defaultRegion: 'US', allowFictional: true });
    if (edit.forwardTo !== '' && !line.ok)
      throw refused(PHONE_REFUSALS[line.reason], [{ field: 'forwardTo', message: PHONE_REFUSALS[line.reason] }]);
    const forwardTo = line.ok ? line.e164 : '';
    await this.p.db.write(async (w) => {
      const port = await readPort(w, this.p.vault, businessId, id);
      expectVersion('port request', port.row, seen);
      const number = port.numbers.find((n) => n.e164 === edit.e164);
      if (!number) throw notFound('number of the request');
      if (number.numberId || !number.open)
        throw conflict('The number is not on its way any more; edit it in the inventory.');
      if (edit.campaignId !== null && !(await this.registration.campaignOf(w, businessId, edit.campaignId)))
        throw notFound('campaign');
      const { e164, label, campaignId } = edit;
      await savePortNumber(w, id, e164, { label, campaignId, forwardTo });
      await savePort(w, id, {});
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: `landing of ${formatPhone(edit.e164)} prepared`,
        objectKind: 'port',
        objectId: id,
        before: { label: number.label, campaign: number.campaignId, callsTo: number.forwardTo },
        after: { label: edit.label, campaign: edit.campaignId, callsTo: forwardTo },
      });
      tellPort(this.p, w, businessId, id);
    });
  }

  /** Asks the losing carrier for its record; what it answers is sealed. */
  async askForRecord(actor: Actor, businessId: string, id: string): Promise<void> {
    const asked = await readPort(this.p.db, this.p.vault, businessId, id);
    const answer = await this.p.gateways.bureau.record(asked.numbers.map((n) => n.e164));
    await editPort(this.p, businessId, id, null, async (w) => {
      await keepPort(w, id, {
        record: answer ? this.p.vault.seal(JSON.stringify(answer)) : '',
        recordState: answer ? 'answered' : 'none',
        recordAt: Math.round(this.p.clock.now()),
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: answer ? 'record of the losing carrier received' : 'the losing carrier hands out no record',
        objectKind: 'port',
        objectId: id,
      });
    });
  }
}

/** What the business says of itself of whose account it is. */
function profileOf(b: Awaited<ReturnType<Businesses['row']>>) {
  return {
    holderName: b.legal_name,
    authorisedName: b.contact_name,
    street: b.street,
    city: b.city,
    state: b.state,
    postalCode: b.postal_code,
  };
}

/** What the trail says of an edit: of account number and PIN only whether there is one. */
function trailed(facts: PortFacts, row: { acknowledged: string[]; billDated: string }): unknown {
  return {
    ...facts,
    accountNumber: facts.accountNumber === '' ? '' : 'stored',
    pin: facts.pin === '' ? '' : 'stored',
    acknowledged: row.acknowledged.join(', '),
    billDated: row.billDated,
  };
}
