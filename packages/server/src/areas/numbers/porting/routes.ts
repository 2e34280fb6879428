import type Router from '@koa/router';
import * as api from '@long-gate/contracts';
import { roleIn, serve, type Person } from '../../../platform/http/route.js';
import type { PortCalendar } from './port-calendar.js';
import type { PortDesk } from './port-desk.js';
import type { PortFollowing } from './port-following.js';
import type { PortPapers } from './port-papers.js';
import type { PortRunbook } from './port-runbook.js';

interface Porting {
  ports: PortDesk;
  portPapers: PortPapers;
  portFollowing: PortFollowing;
  portRunbook: PortRunbook;
  portCalendar: PortCalendar;
}

const mayOpen = (person: Person, businessId: string): boolean => roleIn(person, businessId) === 'administrator';

export function portingRoutes(
  router: Router,
  { ports: desk, portPapers: papers, portFollowing: following, portRunbook: runbook, portCalendar: calendar }: Porting,
): void {
  type Path = { businessId: string; id: string };
  const shown = (person: Person, { businessId, id }: Path) => desk.get(businessId, id, mayOpen(person, businessId));

  serve(router, api.listPorts, async ({ params, person }) => ({
    items: await desk.list(params.businessId, mayOpen(person, params.businessId)),
    calendarPath: await calendar.path(params.businessId, person.id),
  }));
  serve(router, api.getPort, ({ params, person }) => shown(person, params));
  serve(router, api.beginPorts, async ({ params, body, person, key }) => {
    const made = await desk.begin(person, params.businessId, body.numbers, key);
    return {
      ports: await Promise.all(made.ids.map((id) => shown(person, { ...params, id }))),
      refused: made.refused,
      remarks: made.remarks,
    };
  });
  serve(router, api.savePort, async ({ params, body, person, seenVersion }) => {
    await desk.save(person, params.businessId, params.id, seenVersion, body);
    return shown(person, params);
  });
  serve(router, api.changePortNumbers, async ({ params, body, person, seenVersion }) => {
    await desk.changeNumbers(person, params.businessId, params.id, seenVersion, body.add, body.remove);
    return shown(person, params);
  });
  serve(router, api.preparePortNumber, async ({ params, body, person, seenVersion }) => {
    await desk.prepare(person, params.businessId, params.id, seenVersion, body);
    return shown(person, params);
  });
  serve(router, api.askForRecord, async ({ params, person }) => {
    await desk.askForRecord(person, params.businessId, params.id);
    return shown(person, params);
  });
  serve(router, api.submitPort, async ({ params, body, person, key, seenVersion }) => {
    await following.submit(person, params.businessId, params.id, key, seenVersion, body.sameAgain);
    return shown(person, params);
  });
  serve(router, api.cancelPort, async ({ params, person }) => {
    await following.cancel(person, params.businessId, params.id);
    return shown(person, params);
  });
  serve(router, api.movePortDate, async ({ params, body, person }) => {
    await following.moveDate(person, params.businessId, params.id, body.day);
    return shown(person, params);
  });
  serve(router, api.snapBackPort, async ({ params, person }) => {
    await following.snapBack(person, params.businessId, params.id);
    return shown(person, params);
  });
  serve(router, api.tickRunbook, async ({ params, body, person }) => {
    await runbook.tick(person, params.businessId, params.id, body.test, body.done);
    return shown(person, params);
  });
  serve(router, api.uploadPortDocument, async ({ params, body, person }) => {
    const { base64, ...file } = body;
    await papers.upload(person, params.businessId, params.id, { ...file, bytes: Buffer.from(base64, 'base64') });
    return shown(person, params);
  });
  serve(router, api.dropPortDocument, async ({ params, person }) => {
    await papers.drop(person, params.businessId, params.id, params.documentId);
    return shown(person, params);
  });
  serve(router, api.readPortDocument, async ({ params, person, ctx }) => {
    const file = await papers.readDocument(person, params.businessId, params.id, params.documentId);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
    return '';
  });
  serve(router, api.portLetter, async ({ params, ctx }) => {
    const pdf = await papers.letter(params.businessId, params.id);
    ctx.attachment('letter-of-authorisation.pdf');
    ctx.type = 'application/pdf';
    ctx.body = pdf;
    return '';
  });
  serve(router, api.makeSigningLink, ({ params, person }) => papers.makeLink(person, params.businessId, params.id));
  serve(router, api.portCalendar, async ({ params, ctx }) => {
    const file = await calendar.file(params.businessId);
    ctx.attachment('port-desk.ics');
    ctx.type = 'text/calendar; charset=utf-8';
    ctx.body = file;
    return '';
  });
  serve(router, api.renewCalendar, async ({ params, person }) => ({
    calendarPath: await calendar.renew(person, params.businessId),
  }));
  serve(router, api.publicCalendar, async ({ params, ctx }) => {
    const file = await calendar.byToken(params.token);
    ctx.type = 'text/calendar; charset=utf-8';
    ctx.body = file;
    return '';
  });
}
