import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  {
    path: '',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./contact-list').then((m) => m.ContactListPage),
  },
  {
    path: 'unreached',
    title: 'Numbers that cannot be reached · Long Gate',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./unreached').then((m) => m.UnreachedPage),
  },
  {
    path: 'duplicates',
    title: 'Duplicates · Long Gate',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./duplicates').then((m) => m.DuplicatesPage),
  },
  {
    path: 'fields',
    title: 'Own fields · Long Gate',
    loadComponent: () => import('./fields').then((m) => m.FieldsPage),
  },
  {
    path: 'intake',
    title: 'Bring contacts in · Long Gate',
    loadComponent: () => import('./intake/intake').then((m) => m.IntakePage),
  },
];
