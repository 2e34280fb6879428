import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./contact-list').then((m) => m.ContactListPage) },
  {
    path: 'intake',
    title: 'Bring contacts in · Long Gate',
    loadComponent: () => import('./intake/intake').then((m) => m.IntakePage),
  },
];
