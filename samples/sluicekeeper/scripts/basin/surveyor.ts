import { Behaviour, type StageThing } from 'deck';
import { LiftChain } from './lift-chain';
import { LiftHook } from './lift-hook';
import { LiftRope } from './lift-rope';

/** Looks at what bears the load. */
export class Surveyor extends Behaviour {
  private seen = 0;

  look(thing: StageThing): void {
    if (thing.hasPart(LiftRope) || thing.hasPart(LiftChain) || thing.hasPart(LiftHook)) this.seen += 1;
  }
}
