import { Behaviour, bells, stage, type StageThing } from 'deck';

/** Calls the lift when a key is pressed. */
export class LiftBell extends Behaviour {
  private lift!: StageThing;

  begin(): void {
    this.lift = stage.find('Boat Lift');
    bells.hear('engine.key', this.call);
  }

  call(): void {
    bells.ring('lift.called', 1);
  }
}
