import { Readable } from 'node:stream';
import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { FEDERAL_HOURS, STATE_HOURS, type HoursRule } from '@long-gate/core';
import { record } from '../../platform/audit.js';
import { roleIn, serve, type Person } from '../../platform/http/route.js';
import type { Platform } from '../../platform/platform.js';
import { conflict } from '../../platform/problem.js';
import type { Account } from './account.js';
import { showBusiness, type Businesses } from './businesses.js';
import type { MoneyBook } from './money-book.js';
import type { People } from './people/index.js';
import { auditCsv, auditFacets, auditPage, type TrailOf } from '../../platform/trail.js';
import type { SetAsideDesk } from './set-aside-desk.js';
import type { SavedViews } from './views.js';

export function settingsRoutes(
  router: Router,
  p: Platform,
  businesses: Businesses,
  account: Account,
  money: MoneyBook,
  people: People,
  views: SavedViews,
  aside: SetAsideDesk,
): void {
  const shown = async (person: Person, id: string): Promise<api.Business> =>
    showBusiness(await businesses.row(p.db, id), roleIn(person, id) ?? 'viewer');

  serve(router, api.addBusiness, async ({ body, person }) => {
    const id = await p.db.write(async (w) => {
      const made = await businesses.add(w, person, body);
      await people.give(w, person, person.id, made, 'administrator');
      return made;
    });
    return showBusiness(await businesses.row(p.db, id), 'administrator');
  });
  serve(router, api.getBusiness, ({ params, person }) => shown(person, params.businessId));
  serve(router, api.editBusiness, async ({ params, body, person, seenVersion }) => {
    await businesses.edit(person, params.businessId, seenVersion, body);
    return shown(person, params.businessId);
  });
  serve(router, api.checkAddress, ({ params }) => account.checkAddress(params.businessId));
  serve(router, api.openAccount, async ({ params, body, person }) => {
    await account.open(person, params.businessId, body.keepAddress);
    return shown(person, params.businessId);
  });
  serve(router, api.switchTexts, async ({ params, body, person }) => {
    await businesses.switchTexts(person, params.businessId, body.off);
    return shown(person, params.businessId);
  });
  serve(router, api.topUp, async ({ params, body, person, key }) => {
    await businesses.topUp(person, params.businessId, body.amount, key);
    return shown(person, params.businessId);
  });
  serve(router, api.listMoney, ({ params, query }) => money.page(params.businessId, query));
  serve(router, api.moneyOutlookOf, ({ params }) => money.outlook(params.businessId));
  serve(router, api.setAutoTopUp, async ({ params, body, person }) => {
    await money.setAuto(person, params.businessId, body.below, body.amount);
    return money.outlook(params.businessId);
  });
  serve(router, api.moneyStatementCsv, async ({ params, query, ctx }) => {
    const file = await money.csv(params.businessId, query.month);
    ctx.attachment(`statement-${query.month}.csv`);
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = file;
    return '';
  });
  serve(router, api.moneyStatementPdf, async ({ params, query, ctx }) => {
    const file = await money.pdf(params.businessId, query.month);
    ctx.attachment(`statement-${query.month}.pdf`);
    ctx.type = 'application/pdf';
    ctx.body = file;
    return '';
  });

  serve(router, api.listViews, async ({ params }) => ({ items: await views.list(params.businessId, params.area) }));
  serve(router, api.saveView, ({ params, body, person }) =>
    views.save(person, params.businessId, params.area, body.name, body.query),
  );
  serve(router, api.dropView, async ({ params, person }) => {
    await views.drop(person, params.businessId, params.id);
    return api.DONE;
  });

  const trailOf = async (id: string): Promise<TrailOf> => ({
    objects: p.objects,
    zone: (await businesses.row(p.db, id)).time_zone,
  });
  serve(router, api.listAudit, async ({ params, query }) =>
    auditPage(p.db, params.businessId, query, await trailOf(params.businessId)),
  );
  serve(router, api.auditFacets, ({ params }) => auditFacets(p.db, params.businessId));
  serve(router, api.exportAudit, async ({ params, query, ctx }) => {
    const pieces = auditCsv(p.db, params.businessId, query, await trailOf(params.businessId));
    ctx.attachment('audit.csv');
    ctx.type = 'text/csv; charset=utf-8';
    ctx.body = Readable.from(pieces);
    return '';
  });

  serve(router, api.listJobs, async ({ params }) => {
    const rows = await p.jobs.listed(params.businessId);
    return {
      items: rows.map((j) => ({
        id: j.id,
        kind: j.kind,
        title: j.title,
        state: j.state,
        done: j.doneCount,
        total: j.totalCount,
        result: j.result ?? '',
        error: j.error ?? '',
        createdAt: j.createdAt,
        finishedAt: j.finishedAt,
        wishes: wishesFor(j.kind, j.state),
      })),
    };
  });
  serve(router, api.controlJob, async ({ params, body, person }) => {
    const ok = await p.db.write(async (w) => {
      const job = await p.jobs.one(w, params.businessId, params.id);
      if (!job || !wishesFor(job.kind, job.state).includes(body.wish)) return false;
      await record(w, p.clock, {
        businessId: params.businessId,
        actor: person,
        action: `job: ${body.wish}`,
        objectKind: 'job',
        objectId: params.id,
        before: { state: job.state },
        after: { title: job.title },
      });
      return p.jobs.control(w, params.businessId, params.id, body.wish);
    });
    if (!ok) throw conflict('This job is not in a state in which that can be done.');
    return api.DONE;
  });

  serve(router, api.nextOnClock, async () => ({ next: p.gateways.simulation ? await p.engine.next() : null }));
  serve(router, api.moveClock, ({ body }) => {
    if (!p.gateways.simulation) throw conflict('The clock can only be moved while the outside is simulated.');
    const now = p.clock.now();
    p.engine.jump(body.by === 'next' ? 'next' : now + (body.by === 'hour' ? 3_600_000 : 86_400_000));
    return Promise.resolve({ now, moving: true });
  });
  serve(router, api.getRules, () =>
    Promise.resolve({
      hours: [FEDERAL_HOURS, ...STATE_HOURS].map((h) => ({
        state: h.state || 'all others',
        hours: describeHours(h),
        source: h.source,
        checked: h.checked,
      })),
      notice: 'Shipped defaults, to be checked row by row. They are the product’s knowledge, not legal advice.',
    }),
  );
  serve(router, api.listSetAside, async () => ({ items: await aside.list() }));
  serve(router, api.takeUpSetAside, async ({ params, body, person }) => {
    await (body.wish === 'take up'
      ? aside.takeUp(person, params.businessId, params.id)
      : aside.leave(person, params.businessId, params.id));
    return api.DONE;
  });
  serve(router, api.listConnections, async () => {
    const answering = async (url: string): Promise<boolean> =>
      fetch(`${url}/health`, { signal: AbortSignal.timeout(2000) }).then(
        (r) => r.ok,
        () => false,
      );
    const items = await Promise.all(
      Object.entries(p.config.gateways).map(async ([service, address]) => ({
        service,
        address,
        simulated: p.config.simulated,
        answering: await answering(address),
      })),
    );
    return { items };
  });
}

/** What a person may do with a job, by its kind: what is done stands; what must not stay half done can only be paused. */
const WISHES: Record<string, 'pause' | 'pause or cancel'> = {
  lookups: 'pause or cancel',
  'list change': 'pause or cancel',
  'intake.store': 'pause',
  form: 'pause',
  'text days': 'pause',
};
function wishesFor(kind: string, state: string): api.JobView['wishes'] {
  const may = WISHES[kind];
  if (!may) return [];
  const cancel: api.JobView['wishes'] = may === 'pause' ? [] : ['cancel'];
  const open = state === 'waiting' || state === 'running';
  return open ? ['pause', ...cancel] : state === 'paused' ? ['resume', ...cancel] : [];
}

function describeHours(h: HoursRule): string {
  const span = (x: [number, number] | null): string =>
    x === null ? 'closed' : `${String(x[0]).padStart(2, '0')}–${x[1]}`;
  return [
    span([h.from, h.to]),
    h.saturday === undefined ? '' : `Saturdays ${span(h.saturday)}`,
    h.sunday === undefined ? '' : `Sundays ${span(h.sunday)}`,
    h.notOnHolidays ? 'closed on legal holidays' : '',
  ]
    .filter(Boolean)
    .join(', ');
}
