import { stage, type StageThing } from 'deck';
import { LiftPart } from './lift-part';

/** The hook at the end of the rope. */
export class LiftHook extends LiftPart {
  protected limit = 9;
  private lift!: StageThing;

  begin(): void {
    this.lift = stage.find('Boat Lift');
  }
}
