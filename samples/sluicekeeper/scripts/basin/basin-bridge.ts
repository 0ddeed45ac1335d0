import { Behaviour, bells } from 'deck';

/** The bridge over the basin, broken on the first day. */
export class BasinBridge extends Behaviour {
  isMended = false;

  begin(): void {
    bells.hear('lift.rested', this.mend);
  }

  mend(): void {
    this.isMended = true;
  }
}
