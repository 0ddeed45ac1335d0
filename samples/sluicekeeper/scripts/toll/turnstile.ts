import { Behaviour, stage } from 'deck';
import { TollOffice } from './toll-office';

/** Lets one walker through for each toll that was paid. */
export class Turnstile extends Behaviour {
  private office!: TollOffice;

  begin(): void {
    this.office = stage.find('Toll Booth').part(TollOffice);
  }

  open(): void {
    const arm = this.child('Arm');
    arm.turn(120);
    if (this.office.taken > 0) this.office.close();
  }
}
