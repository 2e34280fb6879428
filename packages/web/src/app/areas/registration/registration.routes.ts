import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  { path: 'dossiers', loadComponent: () => import('./dossiers').then((m) => m.DossiersPage) },
  {
    path: '',
    loadComponent: () => import('./dossier').then((m) => m.DossierPage),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'brand' },
      { path: 'brand', canDeactivate: [askUnsaved], loadComponent: () => import('./brand').then((m) => m.BrandPage) },
      {
        path: 'campaigns/new',
        loadComponent: () => import('./begin-campaign').then((m) => m.BeginCampaign),
      },
      {
        path: 'campaigns/:campaignId',
        canDeactivate: [askUnsaved],
        loadComponent: () => import('./campaign').then((m) => m.CampaignPage),
      },
    ],
  },
];
