import { stage, type StageThing } from 'deck';
import { LiftPart } from './lift-part';

/** The rope of the lift. */
export class LiftRope extends LiftPart {
  protected limit = 6;
  private lift!: StageThing;

  begin(): void {
    super.begin();
    this.lift = stage.find('Boat Lift');
  }
}
