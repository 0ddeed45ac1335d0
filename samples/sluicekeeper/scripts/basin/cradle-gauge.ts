import { Behaviour, stage, type StageThing } from 'deck';

/** Shows how far the old cradle leans. */
export class CradleGauge extends Behaviour {
  private cradle!: StageThing;

  begin(): void {
    this.cradle = stage.find('Old Cradle');
  }

  everyFrame(): void {
    this.object.turn(this.cradle.tilt);
  }
}
