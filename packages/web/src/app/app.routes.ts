import { inject } from '@angular/core';
import { RedirectCommand, Router, type CanActivateFn, type Routes } from '@angular/router';
import { SessionFacade } from './state/session.facade';

/** Signed-in people only; the first visit goes to the set-up, others to sign in and back to where they wanted to go. */
const signedIn: CanActivateFn = (_route, state) => {
  const session = inject(SessionFacade).session();
  const router = inject(Router);
  if (session?.setupNeeded) return router.parseUrl('/set-up');
  return session?.user ? true : router.createUrlTree(['/sign-in'], { queryParams: { to: state.url } });
};

/** Another's business, or none at all: the address stays and is said to lead nowhere, as no other business is meant by it. */
const partOfIt: CanActivateFn = (route, state) => {
  const id = route.paramMap.get('businessId') ?? '';
  if (
    inject(SessionFacade)
      .session()
      ?.businesses.some((b) => b.id === id)
  )
    return true;
  return new RedirectCommand(inject(Router).parseUrl('/no-such-business'), { browserUrl: state.url });
};

/** Nothing of a business is shown to an administrator without the second factor it wants. */
const factorThere: CanActivateFn = (route) => {
  const id = route.paramMap.get('businessId') ?? '';
  const missing = inject(SessionFacade)
    .session()
    ?.businesses.some((b) => b.id === id && b.factorMissing);
  return missing ? inject(Router).parseUrl(`/second-factor/${id}`) : true;
};

/** Opens the first business, or the one in the address where the person has a part in it. */
const home: CanActivateFn = () => {
  const first = inject(SessionFacade).session()?.businesses[0];
  return inject(Router).parseUrl(first ? `/b/${first.id}/today` : '/sign-in');
};

export const routes: Routes = [
  {
    path: 'sign-in',
    title: 'Sign in · Long Gate',
    loadComponent: () => import('./welcome/sign-in').then((m) => m.SignIn),
  },
  { path: 'set-up', title: 'Set up · Long Gate', loadComponent: () => import('./welcome/set-up').then((m) => m.SetUp) },
  {
    path: 'invited/:token',
    title: 'Invitation · Long Gate',
    loadComponent: () => import('./welcome/invited').then((m) => m.Invited),
  },
  {
    path: 'forgot-password',
    title: 'A new password · Long Gate',
    loadComponent: () => import('./welcome/forgot-password').then((m) => m.ForgotPassword),
  },
  {
    path: 'new-password/:token',
    title: 'A new password · Long Gate',
    loadComponent: () => import('./welcome/new-password').then((m) => m.NewPassword),
  },
  {
    path: 'second-factor/:businessId',
    title: 'Second factor · Long Gate',
    canActivate: [signedIn],
    loadComponent: () => import('./welcome/factor-first').then((m) => m.FactorFirst),
  },
  {
    path: 'unlock/:token',
    title: 'Unlocking a number · Long Gate',
    loadComponent: () => import('./areas/numbers/unlock/unlock').then((m) => m.Unlock),
  },

  {
    path: 'sign/:token',
    title: 'Letter of authorisation',
    loadComponent: () => import('./areas/numbers/porting/public/sign').then((m) => m.SignPage),
  },
  {
    path: 'b/:businessId',
    canActivate: [signedIn, partOfIt, factorThere],
    loadComponent: () => import('./frame/shell').then((m) => m.Shell),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'today' },
      {
        path: 'today',
        title: 'Today · Long Gate',
        loadComponent: () => import('./areas/today/today').then((m) => m.TodayPage),
      },
      {
        path: 'numbers',
        title: 'Numbers · Long Gate',
        loadChildren: () => import('./areas/numbers/numbers.routes').then((m) => m.routes),
      },
      {
        path: 'registration',
        title: 'Registration · Long Gate',
        loadChildren: () => import('./areas/registration/registration.routes').then((m) => m.routes),
      },
      {
        path: 'contacts',
        title: 'Contacts · Long Gate',
        loadChildren: () => import('./areas/contacts/contacts.routes').then((m) => m.routes),
      },
      {
        path: 'consent',
        title: 'Consent · Long Gate',
        loadChildren: () => import('./areas/consent/consent.routes').then((m) => m.routes),
      },
      {
        path: 'dispatch',
        title: 'Dispatch · Long Gate',
        loadChildren: () => import('./areas/dispatch/dispatch.routes').then((m) => m.routes),
      },
      {
        path: 'watch',
        title: 'Watch · Long Gate',
        loadComponent: () => import('./areas/watch/watch').then((m) => m.WatchPage),
      },
      {
        path: 'inbox',
        title: 'Inbox · Long Gate',
        loadComponent: () => import('./areas/inbox/inbox').then((m) => m.InboxPage),
      },
      {
        path: 'settings',
        title: 'Settings · Long Gate',
        loadChildren: () => import('./areas/settings/settings.routes').then((m) => m.routes),
      },
    ],
  },
  { path: '', pathMatch: 'full', canActivate: [signedIn, home], children: [] },
  {
    path: 'no-such-business',
    title: 'Not here · Long Gate',
    loadComponent: () => import('./welcome/nowhere').then((m) => m.Nowhere),
    data: { business: true },
  },
  {
    path: '**',
    title: 'Not here · Long Gate',
    loadComponent: () => import('./welcome/nowhere').then((m) => m.Nowhere),
  },
];
