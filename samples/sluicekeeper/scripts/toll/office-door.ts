import { Behaviour, bells, stage } from 'deck';

/** The way back to the summit, once the toll is paid. */
export class OfficeDoor extends Behaviour {
  begin(): void {
    bells.hear('toll.paid', this.leave);
  }

  leave(): void {
    stage.enter('summit-basin');
  }
}
