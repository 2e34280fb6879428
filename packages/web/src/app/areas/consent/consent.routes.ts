import type { Routes } from '@angular/router';
import { askUnsaved } from '../../parts/form/unsaved';

export const routes: Routes = [
  { path: '', loadComponent: () => import('./ledger').then((m) => m.LedgerPage) },
  { path: 'coverage', loadComponent: () => import('./coverage').then((m) => m.CoveragePage) },
  { path: 'sources', loadComponent: () => import('./sources').then((m) => m.SourcesPage) },
  { path: 'pages', loadComponent: () => import('./opt-in-pages/pages').then((m) => m.PagesPage) },
  {
    path: 'pages/write',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./opt-in-pages/page-editor').then((m) => m.PageEditor),
  },
  {
    path: 'keywords',
    canDeactivate: [askUnsaved],
    loadComponent: () => import('./keywords').then((m) => m.KeywordsPage),
  },
  { path: 'invitations', loadComponent: () => import('./invitations/invitations').then((m) => m.InvitationsPage) },
  { path: 'text-links', loadComponent: () => import('./text-links/text-links').then((m) => m.TextLinksPage) },
  { path: 'expiry', loadComponent: () => import('./expiry/expiry').then((m) => m.ExpiryPage) },
  { path: 'claims', loadComponent: () => import('./claims/claims').then((m) => m.ClaimsPage) },
  { path: 'forms', loadComponent: () => import('./forms').then((m) => m.FormsPage) },
  { path: 'forms/file', loadComponent: () => import('./file-form').then((m) => m.FileFormPage) },
  { path: 'evidence', loadComponent: () => import('./evidence').then((m) => m.EvidencePage) },
  { path: 'evidence/ask', loadComponent: () => import('./ask-evidence').then((m) => m.AskEvidencePage) },
  { path: 'as-of', loadComponent: () => import('./as-of/as-of').then((m) => m.AsOfPage) },
  { path: 'suppression', loadComponent: () => import('./suppression/suppression').then((m) => m.SuppressionPage) },
  { path: 'suppression/bring', loadComponent: () => import('./suppression/bring-list').then((m) => m.BringListPage) },
  { path: 'sources/opt-outs', loadComponent: () => import('./opt-outs/opt-outs').then((m) => m.OptOutsPage) },
  {
    path: 'sources/opt-outs/bring',
    loadComponent: () => import('./opt-outs/bring-opt-outs').then((m) => m.BringOptOutsPage),
  },
  {
    path: 'suppression/relationships',
    loadComponent: () => import('./relationships/relationships').then((m) => m.RelationshipsPage),
  },
  {
    path: 'suppression/relationships/record',
    loadComponent: () => import('./relationships/record-relationship').then((m) => m.RecordRelationshipPage),
  },
  { path: 'replies', loadComponent: () => import('./replies').then((m) => m.RepliesPage) },
];
