import type Router from '@koa/router';
import type { Context } from 'koa';
import * as api from '@long-gate/contracts';
import { parsePhone } from '@long-gate/core';
import { SYSTEM } from '../../../platform/audit.js';
import { clientAddress } from '../../../platform/http/client-address.js';
import { roleIn, serve, type SignedIn } from '../../../platform/http/route.js';
import { SESSION_COOKIE } from '../../../platform/http/session.js';
import type { Platform } from '../../../platform/platform.js';
import { conflict, notFound, refused } from '../../../platform/problem.js';
import { showBusiness, type Businesses } from '../businesses.js';
import type { Forgotten } from './forgotten.js';
import type { Invitations } from './invitations.js';
import type { OwnMobile } from './own-mobile.js';
import { hashPassword } from './passwords.js';
import type { People } from './people.js';
import type { SecondFactor } from './second-factor.js';
import { SESSION_MS, type From, type Sessions } from './sessions.js';
import { keepTable, tablesOf } from './table-store.js';
import type { SignIn } from './sign-in.js';

const DEMO_SIGN_INS = ['administrator', 'coordinator', 'viewer'].map((role) => ({
  role,
  email: `${role}@quillmere.example`,
  password: `quillmere-${role}`,
}));

/** Signing in and out, one's own account, invitations and roles. */
export function peopleRoutes(
  router: Router,
  p: Platform,
  businesses: Businesses,
  a: {
    people: People;
    sessions: Sessions;
    signIn: SignIn;
    factor: SecondFactor;
    invitations: Invitations;
    forgotten: Forgotten;
    ownMobile: OwnMobile;
  },
): void {
  const { people, sessions, signIn, factor, invitations, forgotten, ownMobile } = a;
  const cookie = {
    httpOnly: true,
    sameSite: 'lax',
    secure: p.config.secureCookies,
    path: '/',
    overwrite: true,
    maxAge: SESSION_MS,
  } as const;
  const from = (ctx: Context): From => ({ address: ctx.ip, agent: ctx.get('user-agent') });
  const before = (ctx: Context): string | undefined => ctx.cookies.get(SESSION_COOKIE);

  async function session(signedIn: SignedIn | undefined): Promise<api.Session> {
    const person = signedIn?.person;
    const rows = person ? await businesses.of(person.id) : [];
    const own = await ownMobile.of(p.db, person?.id ?? '');
    return {
      user: person
        ? {
            id: person.id,
            name: person.name,
            email: person.email,
            mobile: own.mobile,
            mobilePending: own.pending,
            secondFactor: (await factor.state(person.id)).on,
          }
        : null,
      setupNeeded: !(await people.anybody()),
      demo: p.config.demo,
      simulated: p.config.simulated,
      outsideUrl: p.config.outsideUrl,
      csrf: signedIn?.csrf ?? '',
      businesses: rows.map((r) => {
        const factorMissing = person?.factorMissing?.includes(r.id) ?? false;
        return {
          ...showBusiness(r, (person && roleIn(person, r.id)) ?? (factorMissing ? 'administrator' : 'viewer')),
          factorMissing,
        };
      }),
      tables: person ? await tablesOf(p.db, person.id) : {},
      clock: { now: p.clock.now(), movable: p.gateways.simulation !== null, moving: p.engine.moving },
      demoSignIns: p.config.demo ? DEMO_SIGN_INS : [],
    };
  }

  async function signedIn(ctx: Context, token: string): Promise<api.Session> {
    ctx.cookies.set(SESSION_COOKIE, token, cookie);
    return session(await sessions.byToken(token));
  }

  serve(router, api.getSession, ({ signedIn: who }) => session(who));
  serve(router, api.signIn, async ({ body, ctx }) =>
    signedIn(ctx, (await signIn.signIn(body, from(ctx), before(ctx))).token),
  );
  serve(router, api.signOut, async ({ ctx }) => {
    await sessions.close(before(ctx) ?? '');
    ctx.cookies.set(SESSION_COOKIE, '', { ...cookie, maxAge: 0 });
    return api.DONE;
  });
  serve(router, api.setUp, async ({ body, ctx }) => {
    if (await people.anybody()) throw conflict('Long Gate is already set up; sign in.');
    const passwordHash = await hashPassword(body.password);
    const token = await p.db.write(async (w) => {
      if (await people.anybodyIn(w)) throw conflict('Long Gate is already set up; sign in.');
      const id = await people.add(w, { name: body.name, email: body.email, passwordHash });
      const businessId = await businesses.add(w, { id, name: body.name }, body.business);
      await people.give(w, SYSTEM, id, businessId, 'administrator');
      return sessions.open(w, id, from(ctx), before(ctx));
    });
    return signedIn(ctx, token);
  });

  // -- one's own account -------------------------------------------------------------------------------------------
  serve(router, api.saveOwnMobile, async ({ body, person, signedIn: who, key, ctx }) => {
    const parsed =
      body.mobile.trim() === '' ? null : parsePhone(body.mobile, { defaultRegion: 'US', allowFictional: true });
    if (parsed && !parsed.ok)
      throw refused('This is no mobile number.', [{ field: 'mobile', message: 'Write it like 201-555-0142.' }]);
    if (parsed && roleIn(person, body.businessId) === undefined) throw notFound('business');
    await ownMobile.set(person, parsed?.ok ? parsed.e164 : '', body.businessId, clientAddress(ctx), key);
    return session(who);
  });
  serve(router, api.confirmOwnMobile, async ({ body, person, signedIn: who }) => {
    await ownMobile.confirm(person, body.code);
    return session(who);
  });
  serve(router, api.keepTable, async ({ params, body, person }) => {
    await p.db.write((w) => keepTable(w, person.id, params.name, body));
    return api.DONE;
  });
  serve(router, api.changePassword, async ({ body, person, signedIn: who, ctx }) => ({
    ended: await signIn.changePassword(person, who.sessionId, body, clientAddress(ctx)),
  }));
  serve(router, api.listSessions, async ({ person, signedIn: who }) => ({
    items: (await sessions.list(person.id)).map((s) => ({
      id: s.id,
      openedAt: s.openedWall,
      seenAt: s.seenWall,
      address: s.address,
      agent: s.agent,
      current: s.id === who.sessionId,
    })),
  }));
  serve(router, api.endSession, async ({ params, person }) => {
    await sessions.end(person.id, params.id);
    return api.DONE;
  });
  serve(router, api.endOtherSessions, async ({ person, signedIn: who }) => ({
    ended: await p.db.write((w) => sessions.endOthers(w, person.id, who.sessionId)),
  }));
  serve(router, api.getFactor, ({ person }) => factor.state(person.id));
  serve(router, api.beginFactor, ({ body, person, ctx }) => factor.begin(person, body.password, clientAddress(ctx)));
  serve(router, api.confirmFactor, async ({ body, person }) => ({
    recoveryCodes: await factor.confirm(person, body.code),
  }));
  serve(router, api.renewRecoveryCodes, async ({ body, person, ctx }) => ({
    recoveryCodes: await factor.renewRecoveryCodes(person, body.code, clientAddress(ctx)),
  }));
  serve(router, api.endFactor, async ({ body, person, ctx }) => {
    await factor.end(person, body.password, body.code, clientAddress(ctx));
    return api.DONE;
  });
  serve(router, api.forgotPassword, async ({ body, ctx }) => {
    await forgotten.ask(body.email, clientAddress(ctx));
    return api.DONE;
  });
  serve(router, api.seeReset, ({ params }) => forgotten.open(params.token));
  serve(router, api.resetPassword, async ({ params, body }) => {
    await forgotten.set(params.token, body.password);
    return api.DONE;
  });

  // -- people of a business ----------------------------------------------------------------------------------------
  serve(router, api.listPeople, async ({ params }) => ({
    items: await people.list(params.businessId),
    invitations: await invitations.list(params.businessId),
    secondFactorWanted: Boolean((await businesses.row(p.db, params.businessId)).second_factor),
  }));
  serve(router, api.invitePerson, ({ params, body, person, key }) =>
    invitations.invite(person, params.businessId, body, key),
  );
  serve(router, api.inviteAgain, ({ params, person, key }) =>
    invitations.again(person, params.businessId, params.id, key),
  );
  serve(router, api.withdrawInvitation, async ({ params, person }) => {
    await invitations.withdraw(person, params.businessId, params.id);
    return api.DONE;
  });
  serve(router, api.editPerson, async ({ params, body, person }) => {
    await people.changeRole(person, params.businessId, params.id, body.role);
    return api.DONE;
  });
  serve(router, api.wantSecondFactor, async ({ params, body, person }) => {
    await people.wantSecondFactor(person, params.businessId, body.wanted);
    return api.DONE;
  });
  serve(router, api.seeInvitation, ({ params }) => invitations.see(params.token));
  serve(router, api.acceptInvitation, async ({ params, body, ctx }) =>
    signedIn(ctx, (await invitations.accept(params.token, body, from(ctx), before(ctx))).token),
  );
}
