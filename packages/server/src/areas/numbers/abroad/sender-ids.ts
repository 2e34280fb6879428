import type { SenderIdView } from '@long-gate/contracts';
import {
  blocks,
  COUNTRY_RULES,
  countryRule,
  DEFAULT_PRICES,
  reviewSenderId,
  reviewSenderIdIn,
  reviewSignature,
  senderIdIn,
} from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import { idFrom, newId } from '../../../platform/ids.js';
import type { Platform } from '../../../platform/platform.js';
import { expectVersion, notFound, refused } from '../../../platform/problem.js';
import type { Businesses } from '../../settings/index.js';
import type { Landing } from '../landing.js';
import type { NumberRow } from '../number-row.js';
import type { Numbers } from '../numbers.js';
import { addNumber, anyNumber, isTaken, saveNumber, senderIdsOf } from '../number-store.js';
import { setUse, useOf, usesOf } from './abroad-store.js';
import type { Countries } from './countries.js';
import type { SenderCountryModel } from './model.js';

type CountryState = SenderCountryModel['state'];

/** Alphanumeric senders: one-way, each country by its own rule. */
export class SenderIds {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly numbers: Numbers,
    private readonly landing: Landing,
    private readonly countries: Countries,
  ) {
    p.outbox.carry(
      'sender.register',
      z.object({ text: z.string(), code: z.string(), legalName: z.string(), nameLine: z.string() }),
      {
        deliver: (key, b) => p.gateways.registrar.registerSenderId(key, b),
        refused: (w, key, _b, error) => this.answered(w, key, 'refused', error.message),
      },
    );
    p.feed.on('sender.registered', (w, e) => this.answered(w, e.key, 'registered', ''));
    p.feed.on('sender.refused', (w, e) => this.answered(w, e.key, 'refused', e.reason));
  }

  async list(businessId: string): Promise<SenderIdView[]> {
    const rows = await senderIdsOf(this.p.db, businessId);
    const open = await this.countries.openFor(this.p.db, businessId);
    return Promise.all(rows.map((row) => this.show(row, open)));
  }

  async get(businessId: string, id: string): Promise<SenderIdView> {
    const one = (await this.list(businessId)).find((s) => s.id === id);
    if (!one) throw notFound('sender ID');
    return one;
  }

  private async row(r: Reader, businessId: string, id: string): Promise<NumberRow> {
    const row = await anyNumber(r, id);
    if (row?.business_id !== businessId || row.kind !== 'sender ID' || row.state === 'released')
      throw notFound('sender ID');
    return row;
  }

  private async show(row: NumberRow, open: readonly string[]): Promise<SenderIdView> {
    const names = await this.namesOf(this.p.db, row.business_id);
    const uses = await usesOf(this.p.db, row.id);
    return {
      id: row.id,
      text: row.e164,
      label: row.label,
      signature: row.signature,
      findings: reviewSignature(row.signature),
      countries: COUNTRY_RULES.map((c) => {
        const use = uses.find((u) => u.code === c.code);
        return {
          code: c.code,
          name: c.name,
          rule: c.senderId,
          state: c.senderId === 'not allowed' ? ('not allowed' as const) : (use?.state ?? ('not asked' as const)),
          open: open.includes(c.code),
          note: use?.note ?? '',
          findings: reviewSenderIdIn(row.e164, names, c.code, open.includes(c.code)),
          cost: c.senderId === 'to register' ? DEFAULT_PRICES.senderIdRegistration : 0,
        };
      }),
      version: row.version,
    };
  }

  private async namesOf(r: Reader, businessId: string): Promise<{ legalName: string; nameLine: string }> {
    const { legal_name: legalName, name_line: nameLine } = await this.businesses.row(r, businessId);
    return { legalName, nameLine };
  }

  /** Makes a sender ID. It can be used nowhere until a country is chosen for it. */
  async add(actor: Actor, businessId: string, text: string, signature: string): Promise<SenderIdView> {
    const id = newId('num');
    await this.p.db.write(async (w) => {
      const findings = reviewSenderId(text);
      if (blocks(findings))
        throw refused(
          findings[0]?.message ?? '',
          findings.map((f) => ({ field: 'text', message: `${f.message} ${f.fix}` })),
        );
      this.requireSignature(signature);
      const b = await this.businesses.row(w, businessId);
      if (b.account_state !== 'open')
        throw refused(`The account is ${b.account_state}; sender IDs can be made once it is open.`);
      if (await isTaken(w, text))
        throw refused(`“${text}” is in use already.`, [{ field: 'text', message: 'In use already.' }]);
      const now = Math.round(this.p.clock.now());
      await addNumber(w, {
        id,
        businessId,
        e164: text,
        kind: 'sender ID',
        capabilities: ['send'],
        source: 'made here',
        state: 'active',
        signature,
        orderedAt: now,
        activeAt: now,
      });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'sender ID made',
        objectKind: 'number',
        objectId: id,
        after: { text, signature },
      });
      this.numbers.changed(w, businessId, id);
    });
    return this.get(businessId, id);
  }

  private requireSignature(signature: string): void {
    const [wrong] = reviewSignature(signature);
    if (wrong)
      throw refused(`${wrong.message} ${wrong.fix}`, [
        { field: 'signature', message: `${wrong.message} ${wrong.fix}` },
      ]);
  }

  async save(
    actor: Actor,
    businessId: string,
    id: string,
    seen: number | null,
    edit: { label: string; signature: string },
  ): Promise<void> {
    this.requireSignature(edit.signature);
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      expectVersion('sender ID', row, seen);
      await saveNumber(w, id, edit);
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: 'sender ID edited',
        objectKind: 'number',
        objectId: id,
        before: { label: row.label, signature: row.signature },
        after: edit,
      });
      this.numbers.changed(w, businessId, id);
    });
  }

  /** Uses it in a country: at once where that is free, after registration where it is asked for. */
  async useIn(actor: Actor, businessId: string, id: string, code: string): Promise<void> {
    const rule = countryRule(code);
    if (!rule) throw notFound('country');
    await this.p.db.write(async (w) => {
      const row = await this.row(w, businessId, id);
      if (senderIdIn(code) === 'not allowed')
        throw refused(`${rule.name} allows no sender IDs: use ${rule.kinds.join(' or ')} there.`);
      const use = await useOf(w, id, code);
      if (use && use.state !== 'refused') return;
      const names = await this.namesOf(w, businessId);
      const open = (await this.countries.openFor(w, businessId)).includes(code);
      // What the country will refuse is said before its fee is taken.
      const [wrong] = reviewSenderIdIn(row.e164, names, code, open).filter((f) => f.severity === 'block');
      if (wrong) throw refused(`${wrong.message} ${wrong.fix}`, [{ field: 'code', message: wrong.message }]);
      const attempt = (use?.attempt ?? 0) + 1;
      if (rule.senderId === 'to register') {
        await this.businesses.charge(
          w,
          businessId,
          DEFAULT_PRICES.senderIdRegistration,
          `sender ID ${row.e164} in ${rule.name}: registration`,
          'number',
          id,
          idFrom('mon', id, code, String(attempt)),
        );
        await this.p.outbox.put(w, 'sender.register', `${id}:${code}:${attempt}`, {
          text: row.e164,
          code,
          ...names,
        });
      }
      await this.setState(w, actor, row, code, rule.senderId === 'free' ? 'free' : 'in review', '', attempt);
    });
  }

  private async answered(w: Writer, key: string, state: 'registered' | 'refused', note: string): Promise<void> {
    const [id = '', code = '', attempt = ''] = key.split(':');
    const use = await useOf(w, id, code);
    const row = await anyNumber(w, id);
    if (!row || use?.state !== 'in review' || use.attempt !== Number(attempt)) return;
    await this.setState(w, SYSTEM, row, code, state, note, use.attempt);
  }

  private async setState(
    w: Writer,
    actor: Actor,
    row: NumberRow,
    code: string,
    state: CountryState,
    note: string,
    attempt: number,
  ): Promise<void> {
    await setUse(w, { numberId: row.id, code, state, note, attempt, changedAt: Math.round(this.p.clock.now()) });
    // The projection the gate reads.
    const uses = (await usesOf(w, row.id)).filter((u) => u.state === 'free' || u.state === 'registered');
    await saveNumber(w, row.id, { countries: uses.map((u) => u.code).join(',') });
    await record(w, this.p.clock, {
      businessId: row.business_id,
      actor,
      action: `sender ID in ${countryRule(code)?.name ?? code}: ${state}`,
      objectKind: 'number',
      objectId: row.id,
      after: { country: code, state, note },
    });
    this.numbers.changed(w, row.business_id, row.id);
  }

  async drop(actor: Actor, businessId: string, id: string): Promise<void> {
    await this.p.db.write(async (w) => {
      await this.row(w, businessId, id);
      await this.landing.leave(w, id, 'given up', `given up by ${actor.name}`);
    });
  }
}
