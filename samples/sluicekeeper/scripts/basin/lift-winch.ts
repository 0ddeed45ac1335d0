import { Behaviour, bells, onServer, remove, stage } from 'deck';

/** The winch, which the server turns for all players. */
@onServer()
export class LiftWinch extends Behaviour {
  begin(): void {
    bells.hear('lift.rested', this.scrap);
  }

  scrap(): void {
    const cradle = stage.find('Old Cradle');
    if (cradle) remove(cradle);
  }

  stop(): void {
    this.object.turn(0);
  }
}
