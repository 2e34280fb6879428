import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  {
    path: '',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./contact-list').then((m) => m.ContactListPage),
  },
  {
    path: 'intake',
    title: 'Bring contacts in · Long Gate',
    loadComponent: () => import('./intake/intake').then((m) => m.IntakePage),
  },
];
