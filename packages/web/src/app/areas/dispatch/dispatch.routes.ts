import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./dispatch-list').then((m) => m.DispatchListPage) },
  { path: 'calendar', loadComponent: () => import('./dispatch-calendar').then((m) => m.DispatchCalendarPage) },
  { path: ':id', canDeactivate: [askUnsaved], loadComponent: () => import('./dispatch').then((m) => m.DispatchPage) },
];
