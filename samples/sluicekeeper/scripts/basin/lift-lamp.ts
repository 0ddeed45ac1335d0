import { Behaviour, bells, stage, type StageThing } from 'deck';

/** Burns once the lift is ready. */
export class LiftLamp extends Behaviour {
  private lift!: StageThing;

  begin(): void {
    this.lift = stage.find('Boat Lift');
    bells.hear('lift.ready', this.light);
  }

  light(): void {
    this.object.show();
  }
}
