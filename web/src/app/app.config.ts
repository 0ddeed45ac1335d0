import { provideHttpClient } from '@angular/common/http';
import {
  provideBrowserGlobalErrorListeners,
  provideZonelessChangeDetection,
  type ApplicationConfig,
} from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { routes } from './app.routes';
import { findingsEffects } from './findings/findings.effects';
import { findingsFeature } from './findings/findings.state';
import { planEffects } from './plan/plan.effects';
import { planFeature } from './plan/plan.state';
import { projectsEffects } from './projects/projects.effects';
import { projectsFeature } from './projects/projects.state';
import { readinessEffects } from './readiness/readiness.effects';
import { readinessFeature } from './readiness/readiness.state';
import { readingEffects } from './reading/reading.effects';
import { readingFeature } from './reading/reading.state';
import { repairsEffects } from './repairs/repairs.effects';
import { repairsFeature } from './repairs/repairs.state';
import { structureEffects } from './structure/structure.effects';
import { structureFeature } from './structure/structure.state';
import { wiringEffects } from './wiring/wiring.effects';
import { wiringFeature } from './wiring/wiring.state';
import { traceEffects } from './trace/trace.effects';
import { traceFeature } from './trace/trace.state';

export const appConfig: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideZonelessChangeDetection(),
    provideHttpClient(),
    provideRouter(routes, withComponentInputBinding()),
    provideStore({
      [projectsFeature.name]: projectsFeature.reducer,
      [planFeature.name]: planFeature.reducer,
      [readingFeature.name]: readingFeature.reducer,
      [readinessFeature.name]: readinessFeature.reducer,
      [findingsFeature.name]: findingsFeature.reducer,
      [repairsFeature.name]: repairsFeature.reducer,
      [structureFeature.name]: structureFeature.reducer,
      [traceFeature.name]: traceFeature.reducer,
      [wiringFeature.name]: wiringFeature.reducer,
    }),
    provideEffects(
      projectsEffects,
      planEffects,
      readingEffects,
      readinessEffects,
      findingsEffects,
      repairsEffects,
      structureEffects,
      traceEffects,
      wiringEffects,
    ),
  ],
};
