import { Behaviour, bells, stage, type StageThing } from 'deck';

/** The gate at the head of the lift. */
export class LiftGate extends Behaviour {
  private lift!: StageThing;
  private isLevel = false;

  begin(): void {
    this.lift = stage.find('Boat Lift');
    bells.hear('lift.rested', this.open);
  }

  open(): void {
    if (!this.isLevel) return;
    this.object.turn(70);
  }
}
