import { stage, type StageThing } from 'deck';
import { LiftPart } from './lift-part';

/** The chain that took the place of the second rope. */
export class LiftChain extends LiftPart {
  private lift!: StageThing;

  begin(): void {
    super.begin();
    this.lift = stage.find('Boat Lift');
  }
}
