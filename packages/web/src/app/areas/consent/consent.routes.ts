import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./ledger').then((m) => m.LedgerPage) },
  { path: 'pages', loadComponent: () => import('./pages').then((m) => m.PagesPage) },
  { path: 'replies', loadComponent: () => import('./replies').then((m) => m.RepliesPage) },
];
