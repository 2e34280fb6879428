import type Router from '@koa/router';
import type { Platform } from '../../platform/platform.js';
import { Account } from './account.js';
import { Businesses } from './businesses.js';
import { tellSettings } from './matters.js';
import { MoneyBook } from './money-book.js';
import { nameSettings } from './object-names.js';
import {
  Forgotten,
  Invitations,
  OwnMobile,
  People,
  peopleRoutes,
  SecondFactor,
  Sessions,
  SignIn,
} from './people/index.js';
import { settingsRoutes } from './routes.js';
import { SetAsideDesk } from './set-aside-desk.js';
import { StandingFees } from './standing-fees.js';
import { SavedViews } from './views.js';

/** Businesses with their account and money, and the people who work for them. */
export function settingsArea(p: Platform, router: Router) {
  const businesses = new Businesses(p);
  const account = new Account(p, businesses);
  const people = new People(p);
  const sessions = new Sessions(p);
  const signIn = new SignIn(p, sessions);
  const factor = new SecondFactor(p, signIn);
  const invitations = new Invitations(p, businesses, people, sessions, signIn);
  const forgotten = new Forgotten(p, sessions);
  const ownMobile = new OwnMobile(p, businesses);
  const fees = new StandingFees(p, businesses);
  const money = new MoneyBook(p, businesses, fees);
  const views = new SavedViews(p);
  const aside = new SetAsideDesk(p);
  nameSettings(p);
  tellSettings(p, businesses, money, aside);
  settingsRoutes(router, p, businesses, account, money, people, views, aside);
  peopleRoutes(router, p, businesses, { people, sessions, signIn, factor, invitations, forgotten, ownMobile });
  return {
    businesses,
    account,
    people,
    sessions,
    signIn,
    factor,
    invitations,
    forgotten,
    ownMobile,
    fees,
    money,
    aside,
  };
}
export type SettingsArea = ReturnType<typeof settingsArea>;
