import type { Routes } from '@angular/router';

export const routes: Routes = [
  {
    path: '',
    loadComponent: () => import('./dossier').then((m) => m.DossierPage),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'brand' },
      { path: 'brand', loadComponent: () => import('./brand').then((m) => m.BrandPage) },
      { path: 'campaigns/:campaignId', loadComponent: () => import('./campaign').then((m) => m.CampaignPage) },
    ],
  },
];
