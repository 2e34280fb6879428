import type { Route, Routes, UrlMatcher } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

/** Every part of a dossier has its address, and all of them are one page: none, `brand`, `vetting`, `campaigns/…`. */
const partOfDossier: UrlMatcher = (segments) => {
  const [part, partId] = segments;
  const alone = part?.path === 'brand' || part?.path === 'vetting';
  if (segments.length > 2 || (alone && partId) || (!alone && part && !partId)) return null;
  return { consumed: segments, posParams: { ...(part ? { part } : {}), ...(partId ? { partId } : {}) } };
};
const dossier: Route = {
  matcher: partOfDossier,
  canDeactivate: [askUnsaved],
  // From part to part nothing is left.
  runGuardsAndResolvers: () => false,
  loadComponent: () => import('./dossier').then((m) => m.DossierPage),
};

export const routes: Routes = [
  { path: 'dossiers', loadComponent: () => import('./dossiers').then((m) => m.DossiersPage) },
  { path: 'campaigns/new', loadComponent: () => import('./begin-campaign').then((m) => m.BeginCampaign) },
  dossier,
];
