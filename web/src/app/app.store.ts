/** The slices of the store and the effects that fill them, one of each for every view. */
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { familiesEffects } from './families/families.effects';
import { familiesFeature } from './families/families.state';
import { findingsEffects } from './findings/findings.effects';
import { findingsFeature } from './findings/findings.state';
import { learnEffects } from './learn/learn.effects';
import { learnFeature } from './learn/learn.state';
import { planEffects } from './plan/plan.effects';
import { planFeature } from './plan/plan.state';
import { playEffects } from './play/play.effects';
import { playFeature } from './play/play.state';
import { projectsEffects } from './projects/projects.effects';
import { projectsFeature } from './projects/projects.state';
import { readinessEffects } from './readiness/readiness.effects';
import { readinessFeature } from './readiness/readiness.state';
import { routeEffects } from './route/route.effects';
import { routeFeature } from './route/route.state';
import { scansEffects } from './scans/scans.effects';
import { scansFeature } from './scans/scans.state';
import { waiversEffects } from './waivers/waivers.effects';
import { waiversFeature } from './waivers/waivers.state';
import { readingEffects } from './reading/reading.effects';
import { readingFeature } from './reading/reading.state';
import { repairsEffects } from './repairs/repairs.effects';
import { repairsFeature } from './repairs/repairs.state';
import { structureEffects } from './structure/structure.effects';
import { structureFeature } from './structure/structure.state';
import { traceEffects } from './trace/trace.effects';
import { traceFeature } from './trace/trace.state';
import { twinsEffects } from './twins/twins.effects';
import { twinsFeature } from './twins/twins.state';
import { wiringEffects } from './wiring/wiring.effects';
import { beginAnew, SHOWN, shownReducer } from './shared/one-project';
import { wiringFeature } from './wiring/wiring.state';

/** What every view needs of the store. */
export const provideState = () => [
  provideStore(
    {
      [SHOWN]: shownReducer,
      [projectsFeature.name]: projectsFeature.reducer,
      [planFeature.name]: planFeature.reducer,
      [learnFeature.name]: learnFeature.reducer,
      [readingFeature.name]: readingFeature.reducer,
      [readinessFeature.name]: readinessFeature.reducer,
      [traceFeature.name]: traceFeature.reducer,
      [structureFeature.name]: structureFeature.reducer,
      [wiringFeature.name]: wiringFeature.reducer,
      [familiesFeature.name]: familiesFeature.reducer,
      [twinsFeature.name]: twinsFeature.reducer,
      [findingsFeature.name]: findingsFeature.reducer,
      [repairsFeature.name]: repairsFeature.reducer,
      [waiversFeature.name]: waiversFeature.reducer,
      [routeFeature.name]: routeFeature.reducer,
      [scansFeature.name]: scansFeature.reducer,
      [playFeature.name]: playFeature.reducer,
    },
    { metaReducers: [beginAnew] },
  ),
  provideEffects(
    projectsEffects,
    planEffects,
    learnEffects,
    readingEffects,
    readinessEffects,
    traceEffects,
    structureEffects,
    wiringEffects,
    familiesEffects,
    twinsEffects,
    findingsEffects,
    repairsEffects,
    waiversEffects,
    routeEffects,
    scansEffects,
    playEffects,
  ),
];
