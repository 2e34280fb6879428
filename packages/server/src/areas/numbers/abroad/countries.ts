import type { CountryView } from '@long-gate/contracts';
import { COUNTRY_RULES, countryRule, type CountryRule } from '@long-gate/core';
import { z } from 'zod';
import { record, SYSTEM, type Actor } from '../../../platform/audit.js';
import type { Reader, Writer } from '../../../platform/db.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, notFound, refused } from '../../../platform/problem.js';
import type { Contacts } from '../../contacts/index.js';
import type { Businesses } from '../../settings/index.js';
import { countriesOf, countryOf, setCountry } from './abroad-store.js';
import type { CountryModel } from './model.js';

/** Countries are opened one by one; what is open is kept where the gate reads it. */
export class Countries {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly contacts: Contacts,
  ) {
    p.outbox.carry('country.ask', z.object({ code: z.string(), legalName: z.string(), website: z.string() }), {
      deliver: (key, b) => p.gateways.registrar.admitTo(key, b),
      refused: (w, key, _b, error) => this.answered(w, key, 'refused', error.message),
    });
    p.feed.on('country.admitted', (w, e) => this.answered(w, e.key, 'open', ''));
    p.feed.on('country.refused', (w, e) => this.answered(w, e.key, 'refused', e.reason));
  }

  async list(businessId: string): Promise<CountryView[]> {
    const rows = await countriesOf(this.p.db, businessId);
    const lives = await this.contacts.byCountry(this.p.db, businessId);
    return COUNTRY_RULES.map((rule) =>
      show(
        rule,
        rows.find((r) => r.code === rule.code),
        lives.get(rule.code) ?? 0,
      ),
    ).sort((a, b) => b.contacts - a.contacts || a.name.localeCompare(b.name));
  }

  async get(businessId: string, code: string): Promise<CountryView> {
    const one = (await this.list(businessId)).find((c) => c.code === code);
    if (!one) throw notFound('country');
    return one;
  }

  async openFor(r: Reader, businessId: string): Promise<string[]> {
    return (await this.businesses.row(r, businessId)).open_countries.split(',');
  }

  /** Opens a country at once, or asks for admission where it wants that. */
  async open(actor: Actor, businessId: string, code: string): Promise<void> {
    const rule = countryRule(code);
    if (!rule) throw notFound('country');
    await this.p.db.write(async (w) => {
      const row = await countryOf(w, businessId, code);
      if (row?.state === 'open' || row?.state === 'in review') return;
      const b = await this.businesses.row(w, businessId);
      if (b.account_state !== 'open')
        throw refused(`The account is ${b.account_state}; countries can be opened once it is open.`, [
          { field: 'account', message: 'Open the account in Settings.' },
        ]);
      const attempt = (row?.attempt ?? 0) + 1;
      if (rule.registration) {
        if (b.website === '')
          throw refused(`${rule.name} asks for the website of the business; write it in Settings first.`, [
            { field: 'website', message: 'Missing in Settings, Business.' },
          ]);
        await this.p.outbox.put(w, 'country.ask', `${businessId}:${code}:${attempt}`, {
          code,
          legalName: b.legal_name,
          website: b.website,
        });
      }
      await this.setState(w, actor, businessId, rule, row, rule.registration ? 'in review' : 'open', '', attempt);
    });
  }

  async close(actor: Actor, businessId: string, code: string): Promise<void> {
    const rule = countryRule(code);
    if (!rule) throw notFound('country');
    await this.p.db.write(async (w) => {
      const row = await countryOf(w, businessId, code);
      if (row?.state === 'closed' || (!row && code !== 'US')) return;
      if (row?.state === 'in review') throw conflict('Admission is being decided on; wait for the answer.');
      await this.setState(w, actor, businessId, rule, row, 'closed', '', row?.attempt ?? 0);
    });
  }

  private async answered(w: Writer, key: string, state: 'open' | 'refused', note: string): Promise<void> {
    const [businessId = '', code = '', attempt = ''] = key.split(':');
    const row = await countryOf(w, businessId, code);
    const rule = countryRule(code);
    if (!row || !rule || row.state !== 'in review' || row.attempt !== Number(attempt)) return;
    await this.setState(w, SYSTEM, businessId, rule, row, state, note, row.attempt);
  }

  private async setState(
    w: Writer,
    actor: Actor,
    businessId: string,
    rule: CountryRule,
    before: CountryModel | null,
    state: CountryModel['state'],
    note: string,
    attempt: number,
  ): Promise<void> {
    await setCountry(w, {
      businessId,
      code: rule.code,
      state,
      note,
      attempt,
      changedAt: Math.round(this.p.clock.now()),
    });
    // The projection the gate reads: the United States are open unless they were closed.
    const rows = await countriesOf(w, businessId);
    const open = rows.filter((c) => c.state === 'open').map((c) => c.code);
    if (!rows.some((c) => c.code === 'US')) open.push('US');
    await this.businesses.setOpenCountries(w, businessId, open.sort());
    await record(w, this.p.clock, {
      businessId,
      actor,
      action: `${rule.name}: ${state}`,
      objectKind: 'country',
      objectId: rule.code,
      before: { state: before?.state ?? (rule.code === 'US' ? 'open' : 'closed') },
      after: { state, note },
    });
    w.tell('country.changed', { businessId });
    w.afterCommit(() => this.p.live.tell({ businessId, topic: 'numbers', id: rule.code }));
  }
}

function show(rule: CountryRule, row: CountryModel | undefined, contacts: number): CountryView {
  const state = row?.state ?? (rule.code === 'US' ? 'open' : 'closed');
  const { from, to, sunday } = rule.hours;
  return {
    code: rule.code,
    name: rule.name,
    state: state === 'closed' && rule.registration ? 'registration needed' : state,
    note: row?.note ?? '',
    changedAt: row?.changedAt ?? null,
    kinds: [...rule.kinds],
    registration: rule.registration,
    senderId: rule.senderId,
    twoWay: rule.twoWay,
    hours: `${String(from).padStart(2, '0')}:00 to ${to}:00${sunday === null ? ', not on Sundays' : ''}`,
    optOut: rule.optOut,
    source: rule.source,
    checked: rule.checked,
    contacts,
  };
}
