import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', title: 'Unirota', loadComponent: () => import('./start/start').then((m) => m.Start) },
  { path: 'design/:id', title: 'Unirota', loadComponent: () => import('./workbench/workbench').then((m) => m.Workbench) },
  { path: 'design/:id/revision/:revision', title: 'Unirota', loadComponent: () => import('./workbench/workbench').then((m) => m.Workbench) },
  { path: 'join', title: 'Join · Unirota', loadComponent: () => import('./session/join').then((m) => m.JoinPage) },
  { path: 'link', title: 'Shared design · Unirota', loadComponent: () => import('./session/take-link').then((m) => m.TakeLink) },
  { path: '**', redirectTo: '' },
];
