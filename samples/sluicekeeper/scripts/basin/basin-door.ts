import { Behaviour, bells, slot, stage } from 'deck';
import { BasinBridge } from './basin-bridge';

/** The way to the toll office, over the bridge. */
export class BasinDoor extends Behaviour {
  @slot() bridge!: BasinBridge;

  begin(): void {
    bells.hear('lift.rested', this.pass);
  }

  pass(): void {
    if (this.bridge.isMended) stage.enter('toll-office');
  }
}
