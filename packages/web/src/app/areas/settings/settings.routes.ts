import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  {
    path: '',
    loadComponent: () => import('./settings').then((m) => m.SettingsPage),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'business' },
      {
        path: 'business',
        canDeactivate: [askUnsaved],
        loadComponent: () => import('./business').then((m) => m.BusinessSettings),
      },
      { path: 'money', loadComponent: () => import('./money').then((m) => m.MoneySettings) },
      { path: 'people', loadComponent: () => import('./people').then((m) => m.PeopleSettings) },
      { path: 'you', loadComponent: () => import('./you').then((m) => m.YouSettings) },
      { path: 'lookups', loadComponent: () => import('./textability').then((m) => m.TextabilitySettings) },
      { path: 'rules', loadComponent: () => import('./rules').then((m) => m.RulesSettings) },
      { path: 'connections', loadComponent: () => import('./connections').then((m) => m.ConnectionsSettings) },
      { path: 'audit', loadComponent: () => import('./audit').then((m) => m.AuditSettings) },
      { path: 'new-business', loadComponent: () => import('./new-business').then((m) => m.NewBusiness) },
    ],
  },
];
