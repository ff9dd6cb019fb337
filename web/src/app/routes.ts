import type { CanDeactivateFn, Routes } from '@angular/router';
import type { Workbench } from './shell/workbench';

/** The build's own word for whether it is one to develop with. */
declare const ngDevMode: unknown;

/** Leaving a design waits a moment for what is on its way to the server. */
const afterSaving: CanDeactivateFn<Workbench | null> = (w) => (w ? w.leave().then(() => true) : true);
const workbench = {
  title: $localize`Unirota`,
  loadComponent: () => import('./shell/workbench').then((m) => m.Workbench),
  canDeactivate: [afterSaving],
};

export const routes: Routes = [
  { path: '', title: $localize`Unirota`, loadComponent: () => import('./features/start/start').then((m) => m.Start) },
  { path: 'design/:id', ...workbench },
  { path: 'design/:id/revision/:revision', ...workbench },
  { path: 'join', title: $localize`Join · Unirota`, loadComponent: () => import('./features/session/join').then((m) => m.JoinPage) },
  { path: 'link', title: $localize`Shared design · Unirota`, loadComponent: () => import('./features/session/take-link').then((m) => m.TakeLink) },
  // Left out of what is shipped.
  ...(typeof ngDevMode === 'undefined' || ngDevMode
    ? [{ path: 'parts', title: 'Parts · Unirota', loadComponent: () => import('./shell/parts-page').then((m) => m.PartsPage) }]
    : []),
  { path: '**', redirectTo: '' },
];
