import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./inventory').then((m) => m.Inventory) },
  {
    path: 'acquire',
    title: 'Get a number · Long Gate',
    loadComponent: () => import('./acquire').then((m) => m.Acquire),
  },
];
