import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./inventory').then((m) => m.Inventory) },
  {
    path: 'acquire',
    title: 'Get a number · Long Gate',
    loadComponent: () => import('./acquire/acquire').then((m) => m.Acquire),
  },
  {
    path: 'ports',
    title: 'Port desk · Long Gate',
    loadComponent: () => import('./porting/port-desk').then((m) => m.PortDeskPage),
  },
  {
    path: 'need',
    title: 'Which kind of number · Long Gate',
    loadComponent: () => import('./acquire/kind-chooser').then((m) => m.KindChooser),
  },
  {
    path: 'route',
    title: 'A number you have · Long Gate',
    loadComponent: () => import('./route/route-chooser').then((m) => m.RouteChooser),
  },
  {
    path: 'countries',
    title: 'Countries · Long Gate',
    loadComponent: () => import('./abroad/countries').then((m) => m.CountriesPage),
  },
  {
    path: 'senders',
    title: 'Sender IDs · Long Gate',
    loadComponent: () => import('./abroad/sender-ids').then((m) => m.SenderIdsPage),
  },
  {
    path: 'hosted',
    title: 'Hosted numbers · Long Gate',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./hosted/hosted').then((m) => m.HostedPage),
  },
  {
    path: 'ports/:portId',
    title: 'Port-in · Long Gate',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./porting/port').then((m) => m.PortPage),
  },
];
