import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./inventory').then((m) => m.Inventory) },
  {
    path: 'acquire',
    title: 'Get a number · Long Gate',
    loadComponent: () => import('./acquire').then((m) => m.Acquire),
  },
  {
    path: 'ports',
    title: 'Port desk · Long Gate',
    loadComponent: () => import('./porting/port-desk').then((m) => m.PortDeskPage),
  },
  {
    path: 'ports/:portId',
    title: 'Port-in · Long Gate',
    loadComponent: () => import('./porting/port').then((m) => m.PortPage),
  },
];
