import type { CoveredPerson, CoverageRow } from '@long-gate/contracts';
import { coverageOf, keptBy, type CoveredPurpose } from '@long-gate/core';
import { z } from 'zod';
import { packCursor, readCursor } from '../../platform/cursor.js';
import type { Platform } from '../../platform/platform.js';
import { peopleStanding, standingOf, type Lists, type StandingClass } from '../contacts/index.js';
import type { Businesses } from '../settings/index.js';

type Rules = { openCountries: readonly string[]; at: number };

/** How many may be texted for what, and what keeps the rest: judged by the posts of the gate themselves. */
export class Coverage {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly lists: Lists,
  ) {}

  private async rules(businessId: string): Promise<Rules> {
    const b = await this.businesses.row(this.p.db, businessId);
    return { openCountries: b.open_countries.split(','), at: this.p.clock.now() };
  }

  /** Of all contacts, then of each list and tag, those with the most people first. */
  async read(businessId: string): Promise<CoverageRow[]> {
    const rules = await this.rules(businessId);
    const standing = await standingOf(this.p.db, businessId, rules.at);
    const of = (classes: readonly StandingClass[]) => ({
      people: classes.reduce((n, c) => n + c.count, 0),
      informational: coverageOf(classes, 'informational', rules),
      promotional: coverageOf(classes, 'promotional', rules),
    });
    const all = { listId: null, name: '', kind: 'all' as const, ...of(standing.all) };
    const each = (await this.lists.all(this.p.db, businessId))
      .map((l) => ({ listId: l.id, name: l.name, kind: l.kind, ...of(standing.byList.get(l.id) ?? []) }))
      .filter((x) => x.people > 0)
      .sort((a, b) => b.people - a.people || a.name.localeCompare(b.name));
    return [all, ...each];
  }

  /** Who is behind one count. @param of.reason what keeps them; left out, those who may be texted. */
  async people(
    businessId: string,
    of: { listId?: string | undefined; purpose: CoveredPurpose; reason?: string | undefined },
    cursor: string | undefined,
    limit: number,
  ): Promise<{ items: CoveredPerson[]; next: string | null; total: number }> {
    const rules = await this.rules(businessId);
    const listId = of.listId ?? null;
    const standing = await standingOf(this.p.db, businessId, rules.at);
    const all = listId === null ? standing.all : (standing.byList.get(listId) ?? []);
    const classes = all.filter((c) => (keptBy(c.subject, of.purpose, rules)?.reason ?? undefined) === of.reason);
    const after = cursor ? readCursor(z.tuple([z.string()]), cursor)[0] : '';
    const rows = await peopleStanding(this.p.db, businessId, {
      classes,
      listId,
      now: rules.at,
      after,
      limit: limit + 1,
    });
    const items = rows.slice(0, limit);
    const last = items.at(-1);
    return {
      items: items.map(({ firstName, lastName, ...x }) => ({ ...x, name: `${firstName} ${lastName}`.trim() })),
      next: rows.length > limit && last ? packCursor([last.e164]) : null,
      total: classes.reduce((n, c) => n + c.count, 0),
    };
  }
}
