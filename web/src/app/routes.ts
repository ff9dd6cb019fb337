import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', title: 'Unirota', loadComponent: () => import('./start/start').then((m) => m.Start) },
  { path: 'design/:id', title: 'Unirota', loadComponent: () => import('./workbench/workbench').then((m) => m.Workbench) },
  { path: '**', redirectTo: '' },
];
