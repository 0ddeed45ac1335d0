import type { Routes } from '@angular/router';

/** Every view has an address of its own; `project` is the number of an opened project. */
export const routes: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'projects' },
  {
    path: 'projects',
    title: 'Projects',
    loadComponent: () => import('./projects/projects').then((m) => m.Projects),
  },
  {
    path: 'look',
    title: 'The look',
    loadComponent: () => import('./look/look').then((m) => m.Look),
  },
  { path: 'docs', pathMatch: 'full', redirectTo: 'docs/first-plan' },
  {
    path: 'docs/:page',
    title: 'Guide',
    loadComponent: () => import('./docs/docs').then((m) => m.Docs),
  },
  {
    path: 'p/:project/reading',
    title: 'Reading',
    loadComponent: () => import('./reading/reading').then((m) => m.Reading),
  },
  {
    path: 'p/:project/reading/learn',
    title: 'Learned rules',
    loadComponent: () => import('./learn/learn').then((m) => m.Learn),
  },
  {
    path: 'p/:project/reading/plan',
    title: 'The plan',
    loadComponent: () => import('./plan/plan').then((m) => m.PlanEditor),
  },
  {
    path: 'p/:project/readiness',
    title: 'Readiness',
    loadComponent: () => import('./readiness/readiness').then((m) => m.ReadinessView),
  },
  {
    path: 'p/:project/trace',
    title: 'Trace',
    loadComponent: () => import('./trace/trace').then((m) => m.Trace),
  },
  {
    path: 'p/:project/structure',
    title: 'Structure',
    loadComponent: () => import('./structure/structure').then((m) => m.Structure),
  },
  {
    path: 'p/:project/wiring',
    title: 'Wiring',
    loadComponent: () => import('./wiring/wiring').then((m) => m.WiringView),
  },
  {
    path: 'p/:project/families',
    title: 'Families',
    loadComponent: () => import('./families/families').then((m) => m.Families),
  },
  {
    path: 'p/:project/twins',
    title: 'Twins',
    loadComponent: () => import('./twins/twins').then((m) => m.TwinsView),
  },
  {
    path: 'p/:project/findings',
    title: 'Findings',
    loadComponent: () => import('./findings/findings').then((m) => m.Findings),
  },
  {
    path: 'p/:project/play',
    title: 'Play',
    loadComponent: () => import('./play/play').then((m) => m.PlayView),
  },
  {
    path: 'p/:project/scans',
    title: 'Scans',
    loadComponent: () => import('./scans/scans').then((m) => m.ScansView),
  },
  { path: 'p/:project', pathMatch: 'full', redirectTo: 'p/:project/readiness' },
  { path: '**', redirectTo: 'projects' },
];
